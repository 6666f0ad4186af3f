// The rope ledger as rows: which end arrives, what is threaded, knotted, untied and pulled, station by station.

import { useAhead } from "../../state/descent";
import { resolved, setAt } from "../../state/edits";
import { useSession } from "../../state/plan";
import { Choose } from "../../ui/fields";
import { Said } from "../../ui/Num";
import { TERMS } from "../../ui/terms";
import { Named } from "./DescentRight";

export function Ropes({ onStation }: { onStation: (id: string) => void }) {
  const { view, plan, edit } = useSession();
  const { lit } = useAhead();
  const { ledger } = view.assessment.descent;
  const dim = (here: [string, string][]) => lit !== "" && !here.some(([r]) => r === lit);
  return (
    <div className="max-w-4xl">
      <h2 className="text-base font-bold">Every rope, station by station</h2>
      <p className="quiet mb-2 text-[13px]">
        It follows from what each station rigs: the end that is pulled comes down first and is threaded next, the one
        that goes up through the ring comes last. Run through: {TERMS["run through"]}.
      </p>
      <ol>
        {ledger.entries.map((e, i) => {
          const here = Object.entries(e.places).filter(([, p]) => p === "in use");
          const state = plan.drops?.[i]?.station.states[0];
          const place = ["drops", `#${e.drop}`, "station", "states", 0] as const;
          return (
            <li
              key={e.drop}
              className={`rule-t grid grid-cols-[210px_1fr] gap-4 py-2 ${dim(here) ? "opacity-40" : ""}`}
            >
              <div>
                <button
                  type="button"
                  className="min-h-6 cursor-pointer font-bold hover:underline"
                  onClick={() => onStation(e.drop)}
                >
                  {e.number} · {e.name}
                </button>
                <Named ids={here.map(([r]) => r)} />
                {state && here.length > 0 && (
                  <div className="mt-1 grid gap-1">
                    <Choose
                      label="end threaded here"
                      at={resolved(plan, [...place, "threaded"])}
                      value={state.threaded ? `${state.threaded.rope} ${state.threaded.end}` : ""}
                      choices={[
                        { value: "", label: "the one that arrives" },
                        ...here.flatMap(([r]) =>
                          (["a", "b"] as const).map((end) => ({
                            value: `${r} ${end}`,
                            label: `end ${end.toUpperCase()} of ${plan.shed.ropes?.find((x) => x.id === r)?.name ?? r}`,
                          })),
                        ),
                      ]}
                      onChange={(v) => {
                        const [rope, end] = v.split(" ");
                        edit(setAt([...place, "threaded"], v ? { rope, end } : null));
                      }}
                    />
                    <label className="flex min-h-6 items-center gap-1.5 text-xs">
                      <input
                        type="checkbox"
                        checked={state.run_through ?? false}
                        onChange={(x) => edit(setAt([...place, "run_through"], x.target.checked))}
                      />
                      run through once it is all down
                    </label>
                  </div>
                )}
              </div>
              <div className="grid gap-2">
                {e.states.map((s) => (
                  <div key={s.serves}>
                    <p className="quiet text-[13px]">
                      {s.system}
                      {s.serves === "last" ? ", for the last person" : s.serves === "party" ? ", for the party" : ""}
                      {s.join && ` · ${s.join}`}
                      {s.block && ` · ${s.block}`}
                    </p>
                    <ol className="list-inside list-decimal">
                      {s.said.map((x, n) => (
                        <li key={n}>
                          <Said s={x} />
                        </li>
                      ))}
                    </ol>
                  </div>
                ))}
              </div>
            </li>
          );
        })}
      </ol>
    </div>
  );
}
