// What the last change did to what is said of the plan, wherever it was made and whatever is in view.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import type { Otherwise } from "../api/types.gen";
import { words } from "../say";
import { useTally } from "../state/check";
import { useSession } from "../state/plan";
import { usePrefs } from "../state/prefs";
import { useGo } from "./goto";

// Edits that follow each other closely are one change to whoever makes them.
const PAUSE_MS = 250;
const FIRST = 5;

/** What the last change did, by all that is worked out; undefined until that is known, and where nothing changed. */
export function useDid() {
  const { view, since } = useSession();
  const tally = useTally();
  const [paused, setPaused] = useState(-1);
  useEffect(() => {
    const wait = setTimeout(() => setPaused(view.revision), PAUSE_MS);
    return () => clearTimeout(wait);
  }, [view.revision]);
  const { data, error } = useQuery({
    queryKey: ["since", view.id, since, view.revision, view.rests, tally.descent.pending, tally.acts.pending],
    queryFn: ({ signal }) => api.since(view.id, view.revision, since!, signal),
    enabled: since !== null && paused === view.revision,
    staleTime: Infinity,
    retry: false,
  });
  return { did: since === null ? undefined : data, asked: since !== null, failed: error !== null, pending: tally };
}

export function Did() {
  const { view } = useSession();
  const { units } = usePrefs();
  const { did, asked, failed, pending } = useDid();
  const [all, setAll] = useState(false);
  const [away, setAway] = useState(-1);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another change is told from its beginning
  useEffect(() => setAll(false), [view.revision]);
  if (!asked || away === view.revision) return null;
  const shown = all ? (did?.rows ?? []) : (did?.rows ?? []).slice(0, FIRST);
  const missing = [
    pending.descent.pending && "the whole descent is not worked out",
    pending.acts.pending && "the acts are not gone through",
  ].filter(Boolean);
  return (
    <section className={did || failed ? "rule-b mb-3 pb-2" : ""} aria-label="what the change did">
      <div className="flex items-start justify-between gap-2">
        <div role="status" data-changed tabIndex={-1} className="outline-none" data-testid="changed">
          {failed && <p className="font-semibold">What the last change did could not be worked out.</p>}
          {did && (
            <>
              <p className="quiet text-xs">{did.what}</p>
              <p className="font-semibold">{words(did.said, units)}</p>
              <span className="sr-only">
                {did.rows.slice(0, 3).map((r) => `${LEADS[r.became]} ${told(r, units)}. `)}
              </span>
            </>
          )}
        </div>
        {(did || failed) && (
          <button type="button" className="act plain shrink-0 px-1" onClick={() => setAway(view.revision)}>
            Close
          </button>
        )}
      </div>
      {shown.length > 0 && (
        <ol aria-label="what is said otherwise" className="mt-1 text-[13px]">
          {shown.map((r, i) => (
            <Row key={`${r.became} ${r.code} ${r.drop} ${r.part} ${i}`} r={r} />
          ))}
        </ol>
      )}
      {did && did.rows.length > FIRST && (
        <button type="button" className="act plain px-1 text-[13px]" onClick={() => setAll(!all)}>
          {all ? "the first only" : `${did.rows.length - FIRST} more`}
        </button>
      )}
      {did && missing.length > 0 && <p className="quiet text-xs">Of the stations; {missing.join(", ")}.</p>}
    </section>
  );
}

/** The same in one line, where the list lies in a drawer. */
export function DidLine({ onOpen }: { onOpen: () => void }) {
  const { units } = usePrefs();
  const { did } = useDid();
  return (
    <div role="status">
      {did && (
        <button type="button" className="did-line" onClick={onOpen}>
          <span className="quiet">{did.what}</span> <b>{words(did.said, units)}</b>
        </button>
      )}
    </div>
  );
}

const LEADS: Record<Otherwise["became"], string> = {
  new: "New:",
  worse: "Worse:",
  "still open": "Still open:",
  better: "Better:",
  gone: "Gone:",
};

const told = (r: Otherwise, units: "metric" | "us") => words((r.after ?? r.before)!, units);

function Row({ r }: { r: Otherwise }) {
  const { view, plan } = useSession();
  const { units } = usePrefs();
  const go = useGo();
  const navigate = useNavigate();
  const at = r.drop || r.drops[0] || "";
  const numbers = r.drops.map((id) => (plan.drops ?? []).findIndex((d) => d.id === id) + 1).filter((n) => n > 0);
  const gone = r.became === "gone";
  const was = r.before && r.after && words(r.before, units) !== words(r.after, units) ? r.before : null;
  const to = () => {
    if (r.field) return go(r.field);
    const step = r.code.startsWith("rehearse")
      ? "rehearse"
      : at && (plan.drops ?? []).some((d) => d.id === at)
        ? "rig"
        : "descent";
    navigate(`/plans/${view.id}/${step}${step === "descent" ? "" : `/${at}`}`);
  };
  return (
    <li>
      <button type="button" className="fault-row" onClick={to}>
        <span>
          <span
            className={gone || r.became === "better" ? "quiet" : `sev-${r.severity.replace(" ", "-")} font-semibold`}
          >
            {LEADS[r.became]}{" "}
          </span>
          <span className={gone ? "line-through" : ""}>{told(r, units)}</span>
          {was && <span className="quiet block">was: {words(was, units)}</span>}
          {r.was && r.was !== r.severity && (
            <span className="quiet block">
              {r.was.toLowerCase()} → {r.severity.toLowerCase()}
            </span>
          )}
        </span>
        <span className="quiet whitespace-nowrap">
          {r.number > 0
            ? `drop ${r.number}`
            : numbers.length > 0
              ? `drops ${numbers.join(", ")}`
              : r.name || "the plan"}
        </span>
      </button>
    </li>
  );
}

/** How many more are open than before the change, beside a figure. */
export function More({ of }: { of: Record<string, number> | null | undefined }) {
  const parts = (["Shortfall", "Not checked"] as const).filter((s) => of?.[s]);
  if (!of || parts.length === 0) return null;
  const name = (s: string, n: number) =>
    s === "Shortfall" ? `shortfall${Math.abs(n) === 1 ? "" : "s"}` : "not checked";
  const said = parts.map((s) => `${Math.abs(of[s]!)} ${name(s, of[s]!)} ${of[s]! > 0 ? "more" : "fewer"}`).join(", ");
  return (
    <span className="num whitespace-nowrap" role="img" aria-label={said} title={said} data-testid="more">
      {parts.map((s) => (
        <span key={s} className={of[s]! > 0 ? `sev-${s.replace(" ", "-")} font-bold` : "quiet"}>
          {" "}
          {of[s]! > 0 ? "+" : "−"}
          {Math.abs(of[s]!)}
        </span>
      ))}
    </span>
  );
}
