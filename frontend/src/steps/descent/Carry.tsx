// What is carried, by whom and how heavy; what stays where; how the webbing is cut; what is spare.

import { setAt } from "../../state/edits";
import { useSession } from "../../state/plan";
import { FigureField } from "../../ui/fields";
import { Num, Said } from "../../ui/Num";
import { counted } from "../../ui/terms";

export function Carry() {
  const { view, plan, edit } = useSession();
  const { kit } = view.assessment.descent;
  const borne = plan.carry?.borne ?? [];
  const give = (what: string, by: string) =>
    edit(setAt(["carry", "borne"], [...borne.filter((b) => b.what !== what), ...(by ? [{ what, by }] : [])]));
  const party = plan.party ?? [];
  return (
    <div className="grid max-w-4xl gap-6">
      <section aria-label="carried">
        <h2 className="text-base font-bold">Carried</h2>
        <table className="mt-1 w-full text-[13px]">
          <thead>
            <tr className="quiet text-left text-xs">
              <th className="font-normal">thing</th>
              <th className="text-right font-normal">weighs</th>
              <th className="text-right font-normal">in a bag</th>
              <th className="pl-4 font-normal">comes home</th>
              <th className="pl-4 font-normal">carried by</th>
            </tr>
          </thead>
          <tbody>
            {kit.items.map((i) => (
              <tr key={i.key} className="rule-t">
                <td className="py-1">{i.name}</td>
                <td className="text-right">
                  {i.kg ? (
                    <Num n={i.kg} />
                  ) : (
                    <span className="sev-Not-checked" title={i.why}>
                      not weighed
                    </span>
                  )}
                </td>
                <td className="text-right">
                  {i.litres ? (
                    <>
                      <Num n={i.litres[0]} className="font-normal" />–
                      <Num n={i.litres[1]} className="font-normal" />
                    </>
                  ) : (
                    <span className="quiet">–</span>
                  )}
                </td>
                <td className="pl-4">{i.home}</td>
                <td className="pl-4">
                  <select
                    className="field w-36"
                    aria-label={`who carries ${i.name}`}
                    value={i.by}
                    onChange={(e) => give(i.key, e.target.value)}
                  >
                    <option value="">nobody has said</option>
                    {party.map((p) => (
                      <option key={p.id} value={p.id}>
                        {p.name}
                      </option>
                    ))}
                  </select>
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </section>
      <section aria-label="who carries how much">
        <h2 className="text-base font-bold">Who carries how much</h2>
        <ul className="mt-1 flex flex-wrap gap-x-6 gap-y-1 text-[13px]">
          {kit.borne.map((b) => (
            <li key={b.person}>
              {party.find((p) => p.id === b.person)?.name} <Num n={b.kg} />
              {b.unknown > 0 && <span className="sev-Not-checked"> and {b.unknown} not weighed</span>}
            </li>
          ))}
        </ul>
      </section>
      <section aria-label="stays and is spare" className="grid grid-cols-2 gap-6">
        <div>
          <h2 className="text-base font-bold">Stays behind</h2>
          <ol className="mt-1 text-[13px]">
            {kit.left.map((l) => (
              <li key={l.drop} className="rule-t py-0.5">
                <b>{l.number}</b> {l.things.length === 0 && <span className="quiet">nothing</span>}
                {l.things.map((s, n) => (
                  <span key={n}>
                    {n > 0 && ", "}
                    <Said s={s} />
                  </span>
                ))}
              </li>
            ))}
          </ol>
        </div>
        <div>
          <h2 className="text-base font-bold">Spare, for an anchor that is gone</h2>
          <ul className="mt-1 mb-2 text-[13px]">
            {kit.spare.length === 0 && <li className="quiet">nothing</li>}
            {kit.spare.map((s, n) => (
              <li key={n}>
                <Said s={s} />
              </li>
            ))}
          </ul>
          <div className="grid grid-cols-2 gap-3">
            <FigureField
              label="spare rings"
              path={["carry", "rings"]}
              figure={plan.carry!.rings!}
              quantity="count"
              why="not counted"
            />
            <FigureField
              label="spare cord"
              path={["carry", "cord_m"]}
              figure={plan.carry!.cord_m!}
              quantity="length"
              why="not measured"
            />
          </div>
        </div>
      </section>
      <Cuts />
    </div>
  );
}

/** The pieces in stock to scale, with what is cut from each. */
function Cuts() {
  const { view, plan } = useSession();
  const all = view.assessment.webbing.filter((w) => w.cuts.length > 0 || w.unknown > 0);
  return (
    <section aria-label="webbing to cut">
      <h2 className="text-base font-bold">Webbing to cut</h2>
      {all.length === 0 && <p className="quiet">None.</p>}
      {all.map((w) => {
        const webbing = plan.shed.webbing?.find((x) => x.id === w.id);
        const pieces = (webbing?.pieces ?? []).flatMap((p) => (p.length_m.kind === "known" ? [p.length_m.value] : []));
        const most = Math.max(1, ...pieces);
        return (
          <div key={w.id} className="mt-1 text-[13px]">
            <p>
              {webbing?.name}: <Num n={w.total} /> in all
              {!w.proved && <span className="sev-Not-checked"> · not proved to be the best way to cut</span>}
              {w.unknown > 0 && <span className="sev-Not-checked"> · {counted(w.unknown, "station")} unknown</span>}
            </p>
            {pieces.map((long, n) => (
              <div key={n} className="mt-1 flex items-center gap-2">
                <span className="quiet w-16 text-right text-xs">piece {n + 1}</span>
                <span className="flex h-6 border border-[var(--rock-edge)]" style={{ width: `${(long / most) * 78}%` }}>
                  {w.cuts
                    .filter((c) => c.piece === n + 1)
                    .map((c) => (
                      <span
                        key={c.drop + c.length.value}
                        className="overflow-hidden border-r border-[var(--void)] px-0.5 text-center text-xs text-white"
                        style={{ width: `${(c.length.value / long) * 100}%`, background: webbing?.colour ?? "#7a3b6b" }}
                        title={`${c.number} ${c.name}`}
                      >
                        {c.number}
                      </span>
                    ))}
                </span>
                {w.left?.[n] && (
                  <span className="quiet text-xs">
                    <Num n={w.left[n]!} className="font-normal" /> left
                  </span>
                )}
              </div>
            ))}
            {w.cuts.some((c) => c.piece === 0) && (
              <p className="sev-Shortfall">
                Not cut:{" "}
                {w.cuts
                  .filter((c) => c.piece === 0)
                  .map((c) => `${c.number} ${c.name}`)
                  .join(", ")}
              </p>
            )}
          </div>
        );
      })}
    </section>
  );
}
