// Acts × people: the worst that one broken thing can do to each, a row a move; the one in view is open, a row an act.
// A cell goes to its act.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef } from "react";
import { api } from "../../api/client";
import { words } from "../../say";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";

const SHORT: Readonly<Record<string, string>> = {
  falls: "falls",
  "slides to a stopper": "slides",
  "rope lost": "rope lost",
  "cannot be pulled": "stuck",
  stranded: "stranded",
  held: "held",
};

// Worst first.
const RANK = ["falls", "slides to a stopper", "rope lost", "cannot be pulled", "stranded", "held"];
const BAD = "sev-Shortfall font-semibold";
const TONES: Readonly<Record<string, string>> = { held: "quiet", stranded: "sev-Caution" };

export function Matrix() {
  const { view, plan } = useSession();
  const { units } = usePrefs();
  const { run, n, move, go, setWho } = useGoing();
  const at = useRef<HTMLTableRowElement>(null);
  const query = useQuery({
    queryKey: ["matrix", view.id, view.rests, run?.drop],
    queryFn: () => api.matrix(view.id, view.revision, run!.drop),
    staleTime: Infinity,
    retry: false,
    enabled: run !== null,
  });
  // biome-ignore lint/correctness/useExhaustiveDependencies: another act is brought into sight
  useEffect(() => {
    at.current?.scrollIntoView({ block: "center" });
  }, [n, query.data]);
  if (!run || !query.data) return <p className="quiet p-4">Trying every single fault…</p>;
  const to = (who: string, act: number) => {
    setWho(who);
    go(act);
  };
  const people = query.data.people.map((id, i) => ({ id, i, name: plan.party.find((p) => p.id === id)?.name ?? id }));
  return (
    <table className="w-full text-[13px]" aria-label="acts and people, the worst of one fault">
      <thead className="sticky top-0 bg-base-100">
        <tr>
          <th className="px-3 py-1 text-left font-semibold">after</th>
          {people.map((p) => (
            <th key={p.id} className="px-1 py-1 text-left font-semibold">
              {p.name}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {run.moves.map((m, j) => {
          const acts = run.steps.slice(m.begin - 1, m.end).map((s) => s.number - 1);
          const title = words(m.title, units);
          return [
            <tr key={m.begin} className="rule-t h-6">
              <td className="max-w-72 truncate px-3 max-md:max-w-40">
                <button
                  type="button"
                  className="min-h-6 max-w-full cursor-pointer truncate font-semibold hover:underline"
                  aria-expanded={m === move}
                  onClick={() => go(m.begin - 1)}
                >
                  <span className="num mr-2 inline-block w-6 text-right">{j + 1}</span>
                  {title.slice(0, 1).toUpperCase() + title.slice(1)}
                </button>
              </td>
              {people.map((p) => {
                const of = (i: number) => query.data.worst[i]?.[p.i] ?? "";
                const worst = RANK.find((x) => acts.some((i) => of(i) === x)) ?? "";
                const first = acts.find((i) => of(i) === worst) ?? 0;
                return (
                  <Cell key={p.id} worst={worst} label={`move ${j + 1}, ${p.name}`} onClick={() => to(p.id, first)} />
                );
              })}
            </tr>,
            ...(m === move ? acts : []).map((i) => (
              <tr
                key={run.steps[i]!.key}
                ref={i === n ? at : undefined}
                className={`h-6 ${i === n ? "bg-base-200 font-semibold" : ""}`}
                aria-current={i === n || undefined}
              >
                <td className="max-w-72 truncate py-0 pr-3 pl-10 max-md:max-w-40">
                  <span className="num quiet mr-2 inline-block w-6 text-right">{i + 1}</span>
                  {words(run.steps[i]!.words, units)}
                </td>
                {people.map((p) => (
                  <Cell
                    key={p.id}
                    worst={query.data.worst[i]?.[p.i] ?? ""}
                    label={`act ${i + 1}, ${p.name}`}
                    onClick={() => to(p.id, i)}
                  />
                ))}
              </tr>
            )),
          ];
        })}
      </tbody>
    </table>
  );
}

function Cell({ worst, label, onClick }: { worst: string; label: string; onClick: () => void }) {
  return (
    <td className="px-1">
      {worst && (
        <button
          type="button"
          className={`min-h-6 cursor-pointer hover:underline ${TONES[worst] ?? BAD}`}
          onClick={onClick}
          aria-label={`${label}: ${worst}`}
        >
          {SHORT[worst]}
        </button>
      )}
    </td>
  );
}
