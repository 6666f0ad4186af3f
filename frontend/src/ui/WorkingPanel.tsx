// A number's working: formula, inputs with units, where each came from. Inputs that were computed open their own.
import { useQuery } from "@tanstack/react-query";
import { ArrowLeft, X } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { api } from "../api/client";
import { spoken, words } from "../say";
import type { Num } from "../state/model";
import { usePrefs } from "../state/prefs";
import { useGo } from "./goto";

const PRETTY: readonly [RegExp, string][] = [
  [/\*\*2/g, "²"],
  [/\s*\*\s*/g, " · "],
  [/sqrt/g, "√"],
  [/\btheta\b/g, "θ"],
  [/\bphi\b/g, "φ"],
  [/\brho\b/g, "ρ"],
  [/\bmu\b/g, "μ"],
  [/\beps\b/g, "ε"],
  [/\bpi\b/g, "π"],
  [/ - /g, " − "],
  [/-(?=[a-zμ])/g, "−"],
  [/([a-zA-Z])(\d)\b/g, "$1$2"],
];

function pretty(formula: string): string {
  return PRETTY.reduce((text, [from, to]) => text.replace(from, to), formula);
}

export function WorkingPanel({
  plan,
  revision,
  rests,
  subject,
  start,
  onClose,
}: {
  plan: string;
  revision: number;
  /** Alike as long as every answer is. */
  rests: string;
  subject: string;
  start: string;
  onClose: () => void;
}) {
  const { units } = usePrefs();
  const go = useGo();
  const [trail, setTrail] = useState<string[]>([start]);
  useEffect(() => setTrail([start]), [start]);
  // It takes the focus from the number that was pressed, and gives it back.
  useEffect(() => {
    const before = document.activeElement;
    return () => {
      const lost = document.activeElement === document.body || document.activeElement === null;
      if (before instanceof HTMLElement && lost) before.focus({ preventScroll: true });
    };
  }, []);
  const head = useRef<HTMLDivElement>(null);
  const shown = trail.length;
  // biome-ignore lint/correctness/useExhaustiveDependencies: with each step on the way
  useEffect(() => head.current?.focus({ preventScroll: true }), [start, shown]);
  const query = useQuery({
    queryKey: ["workings", plan, rests, subject],
    queryFn: () => api.workings(plan, revision, subject),
    staleTime: Infinity,
    retry: false,
  });
  const key = trail[trail.length - 1];
  const working = query.data?.find((w) => w.key === key);
  const say = (value: number, quantity: Num["quantity"]) =>
    spoken({ value, quantity, toward: "near", working: "" }, units);
  return (
    <section className="flex h-full flex-col overflow-y-auto bg-base-100 p-4" aria-label="Working">
      <div ref={head} tabIndex={-1} className="mb-3 flex items-center gap-2 outline-none">
        {trail.length > 1 && (
          <button type="button" className="act plain" aria-label="back" onClick={() => setTrail(trail.slice(0, -1))}>
            <ArrowLeft size={16} />
          </button>
        )}
        <h2 className="quiet grow text-sm">Working</h2>
        <button type="button" className="act plain" aria-label="close the working" onClick={onClose}>
          <X size={16} />
        </button>
      </div>
      {query.isPending && <p className="quiet">Fetching the working…</p>}
      {query.error && <p className="sev-Shortfall">{query.error.message}</p>}
      {query.data && !working && <p className="quiet">This number has no working in the plan as saved.</p>}
      {working && (
        <>
          <h3 className="text-base font-semibold">{working.name}</h3>
          <p className="my-2 text-xl font-bold" data-testid="working-value">
            {say(working.value, working.quantity)}
          </p>
          <p className="rule-t rule-b my-2 py-2 font-medium break-words" data-testid="working-formula">
            = {pretty(working.formula)}
          </p>
          <dl>
            {working.terms.map((t) => (
              <div key={t.symbol} className="rule-b grid grid-cols-[2.6rem_1fr_auto] gap-x-2 py-1.5">
                <dt className="font-semibold italic">{pretty(t.symbol)}</dt>
                <dd>
                  <div>{t.name}</div>
                  <div className="quiet text-xs">{t.source || "computed"}</div>
                  {(t.entered ?? []).map((e) => (
                    <button
                      key={e.field}
                      type="button"
                      className="entered"
                      title="go to this field"
                      onClick={() => go(e.field)}
                    >
                      {e.name}
                      {e.said.template && (
                        <>
                          : <b>{words(e.said, units)}</b>
                        </>
                      )}
                    </button>
                  ))}
                </dd>
                <dd className="text-right">
                  {t.working !== "" ? (
                    <button type="button" className="num" onClick={() => setTrail([...trail, t.working])}>
                      {say(t.value, t.quantity)}
                    </button>
                  ) : (
                    <span className="num">{say(t.value, t.quantity)}</span>
                  )}
                </dd>
              </div>
            ))}
          </dl>
          <p className="quiet mt-4 text-xs">
            STD: a published standard. HB: a handbook formula or table. P: common practice, no source. J: our judgement.
            Angles enter the formula in radians, lengths in metres, thicknesses in millimetres, forces in kilonewtons.
          </p>
        </>
      )}
    </section>
  );
}
