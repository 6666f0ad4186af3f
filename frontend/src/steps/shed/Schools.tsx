// Where practitioners disagree: each choice with its reason, and what it would change in this plan's numbers.

import { keepPreviousData, useQueries, useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import type { Change, Choice, School } from "../../api/types.gen";
import { applyEdits, setAt } from "../../state/edits";
import { useSession } from "../../state/plan";
import { Tally } from "../../ui/Findings";
import { Typed } from "../../ui/fields";
import { Num } from "../../ui/Num";
import { TERMS } from "../../ui/terms";
import { OwnSchools } from "./OwnSchools";

export function Schools() {
  const { view, plan, edit } = useSession();
  // Each question by itself: the first stand there while the rest are worked out, and leaving the page stops what is
  // under way.
  const keys = useQuery({ queryKey: ["schools"], queryFn: api.schools, staleTime: Infinity });
  const each = useQueries({
    queries: (keys.data ?? []).map((key) => ({
      queryKey: ["school", view.id, view.rests, key],
      queryFn: ({ signal }: { signal: AbortSignal }) => api.school(view.id, view.revision, key, signal),
      staleTime: Infinity,
      placeholderData: keepPreviousData,
    })),
  });
  const done = each.filter((q) => q.data).length;
  const error = keys.error ?? each.find((q) => q.error)?.error;
  const margin = plan.policies?.margin ?? { kind: "peak" as const };
  return (
    <div className="max-w-3xl">
      <h2 className="text-base font-bold">Schools</h2>
      <p className="quiet mb-2">
        A school is {TERMS.school}. Under each other choice stands what it would change: of the parts it touches on a
        drop the one it leaves worst off, its low end, and how often that is what is asked of it.
      </p>
      {error && (
        <p role="alert" className="sev-Shortfall">
          {error.message}
        </p>
      )}
      {!error && (each.length === 0 || done < each.length) && (
        <p className="quiet" role="status">
          Working out what each would change: {done} of {each.length || "…"}
        </p>
      )}
      {each.map(
        (q) => q.data && <Question key={q.data.key} school={q.data} onAdopt={(c) => edit(applyEdits(c.edits))} />,
      )}
      <section className="rule-t py-3" aria-label="own margin">
        <h3 className="font-bold">A margin of your own</h3>
        <p className="quiet text-[13px]">Peak: {TERMS.peak}. A margin is so many times that.</p>
        <div className="mt-1 flex items-center gap-3">
          {margin.kind === "own" ? (
            <label className="flex items-center gap-2">
              <Typed
                label="own number"
                className="num w-20 text-right"
                value={String(margin.times)}
                onCommit={(v) => edit(setAt(["policies", "margin", "times"], Number(v.replace(",", ".")) || v))}
              />{" "}
              × peak, in use, because
              <Typed
                label="why this margin"
                className="w-72"
                placeholder={`under ${view.assessment.margin.least.value} it needs a reason`}
                value={margin.reason ?? ""}
                onCommit={(v) => edit(setAt(["policies", "margin", "reason"], v))}
              />
            </label>
          ) : (
            <button
              type="button"
              className="act"
              onClick={() =>
                edit(
                  setAt(["policies", "margin"], { kind: "own", times: view.assessment.margin.least.value, reason: "" }),
                )
              }
            >
              Use a number of my own
            </button>
          )}
        </div>
      </section>
      <OwnSchools />
    </div>
  );
}

function Question({ school, onAdopt }: { school: School; onAdopt: (choice: Choice) => void }) {
  return (
    <section className="rule-t py-3" aria-label={school.name}>
      <h3 className="font-bold">{school.name}</h3>
      <div className="mt-1.5">
        {school.choices.map((c) => (
          <div
            key={c.key}
            className={c.current ? "mb-2 border-l-4 border-accent pl-3" : "mb-2 border-l-4 border-transparent pl-3"}
          >
            <p className="flex items-baseline gap-2">
              <span className="font-semibold">{c.name}</span>
              {c.current ? (
                <span className="quiet text-xs">in use</span>
              ) : (
                <button
                  type="button"
                  className="min-h-6 cursor-pointer text-xs font-semibold underline"
                  aria-label={`follow ${c.name}`}
                  onClick={() => onAdopt(c)}
                >
                  follow
                </button>
              )}
            </p>
            <p className="text-[13px]">{c.why}</p>
            {!c.current && <Effect choice={c} />}
          </div>
        ))}
      </div>
    </section>
  );
}

function Effect({ choice }: { choice: Choice }) {
  if (choice.changed.length === 0)
    return (
      <p className="quiet mt-1 text-xs">
        It would change no number here; <Tally tally={choice.tally} />.
      </p>
    );
  return (
    <div className="mt-1 text-xs">
      <p className="quiet">
        It would change {choice.changed.length} drop{choice.changed.length === 1 ? "" : "s"}; then{" "}
        <Tally tally={choice.tally} />.
      </p>
      <table className="mt-0.5 w-full table-fixed">
        <tbody>
          {choice.changed.map((c) => (
            <Row key={c.drop} c={c} />
          ))}
        </tbody>
      </table>
    </div>
  );
}

function Row({ c }: { c: Change }) {
  const said = (n: Change["low_after"]) =>
    n ? <Num n={n} className="font-normal" /> : <span className="sev-Not-checked">not checked</span>;
  return (
    <tr className="rule-t align-top">
      <td className="py-0.5 pr-2">
        <span className="block truncate font-semibold">
          {c.number} · {c.name}
        </span>
        <span className="quiet block truncate" title={c.part}>
          {c.part}
        </span>
      </td>
      <td className="w-[31%] text-right *:whitespace-nowrap">
        {said(c.low_before)} → {said(c.low_after)}
      </td>
      <td className="w-[25%] pl-2 text-right *:whitespace-nowrap">
        {said(c.share_before)} → <b>{said(c.share_after)}</b>
      </td>
    </tr>
  );
}
