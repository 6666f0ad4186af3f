// Acts × people: the worst that one broken thing can do to each after each act; a cell goes to its act.
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

const BAD = "sev-Shortfall font-semibold";
const TONES: Readonly<Record<string, string>> = { held: "quiet", stranded: "sev-Caution" };

export function Matrix() {
  const { view, plan } = useSession();
  const { units } = usePrefs();
  const { run, n, go, setWho } = useGoing();
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
        {run.steps.map((s, i) => (
          <tr
            key={s.key}
            ref={i === n ? at : undefined}
            className={`h-6 ${i === n ? "bg-base-200 font-semibold" : ""}`}
            aria-current={i === n || undefined}
          >
            <td className="max-w-72 truncate px-3">
              <span className="num mr-2 inline-block w-6 text-right">{s.number}</span>
              {words(s.words, units)}
            </td>
            {people.map((p) => {
              const worst = query.data.worst[i]?.[p.i] ?? "";
              return (
                <td key={p.id} className="px-1">
                  {worst && (
                    <button
                      type="button"
                      className={`min-h-6 cursor-pointer hover:underline ${TONES[worst] ?? BAD}`}
                      onClick={() => {
                        setWho(p.id);
                        go(i);
                      }}
                      aria-label={`act ${s.number}, ${p.name}: ${worst}`}
                    >
                      {SHORT[worst]}
                    </button>
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
    </table>
  );
}
