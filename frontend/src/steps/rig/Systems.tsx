// Every rope system the kit allows at this station, side by side; one act adopts one. What is ruled out stays, with
// the reason.

import { useState } from "react";
import type { ComparedWay } from "../../api/types.gen";
import { applyEdits } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { useSystems } from "../../state/systems";
import { Num, Said } from "../../ui/Num";
import { TERMS } from "../../ui/terms";

const ORDERS = {
  best: "it reaches and comes down; strength; what is not checked; your own order; effort",
  spare: "most rope to spare",
  reserve: "most in reserve",
  pull: "easiest pull",
  times: "strongest weakest part",
  minutes: "soonest rigged",
} as const;
type Order = keyof typeof ORDERS;
const KEY: Record<Exclude<Order, "best">, (w: ComparedWay) => number> = {
  spare: (w) => -(w.spare?.value ?? -1e9),
  reserve: (w) => -(w.reserve?.value ?? -1e9),
  pull: (w) => w.pull?.value ?? 1e9,
  times: (w) => -(w.times?.value ?? -1e9),
  minutes: (w) => w.minutes[1].value,
};

const bare = (n: NonNullable<ComparedWay["spare"]>) => ({ ...n, working: "" });

export function Systems({ drop }: { drop: Drop }) {
  const { edit } = useSession();
  const [order, setOrder] = useState<Order>("best");
  const query = useSystems(drop);
  const rows: ComparedWay[] = [...(query.data?.ways ?? [])];
  if (order !== "best") rows.sort((a, b) => KEY[order](a) - KEY[order](b));
  const tie = (rows.find((w) => w.in_use) ?? rows[0])?.left ?? "";
  if (query.error)
    return (
      <p role="alert" className="sev-Shortfall">
        {query.error.message}
      </p>
    );
  const cell = (n: ComparedWay["spare"], bad = false) => (
    <td className={`text-right ${bad ? "sev-Shortfall" : ""}`}>
      {n ? <Num n={bare(n)} /> : <span className="quiet">–</span>}
    </td>
  );
  return (
    <section aria-label="systems compared" aria-busy={query.isPlaceholderData}>
      <label className="mb-1 flex items-center gap-2 text-[13px]">
        <span className="quiet shrink-0">the best first:</span>
        <select
          className="field min-w-0 grow"
          aria-label="order of the systems"
          value={order}
          onChange={(e) => setOrder(e.target.value as Order)}
        >
          {Object.entries(ORDERS).map(([k, v]) => (
            <option key={k} value={k}>
              {v}
            </option>
          ))}
        </select>
      </label>
      <p className="quiet text-xs">Reserve: {TERMS.reserve}.</p>
      <table className="w-full table-fixed text-[13px]" aria-label="systems compared">
        <thead>
          <tr className="quiet text-left text-xs [&_th]:pr-3 [&_th]:font-normal">
            <th>system, and what rules it out</th>
            <th className="w-[8.5%] text-right">to spare</th>
            <th className="w-[8.5%] text-right">reserve</th>
            <th className="w-[8.5%] text-right">pull</th>
            <th className="w-[8.5%] text-right">weakest</th>
            <th className="w-[11%] text-right">to rig</th>
            <td className="w-[7%]" />
          </tr>
        </thead>
        {rows.map((w) => (
          <tbody
            key={w.key}
            className={`rule-t align-top [&_td]:pr-3 ${w.in_use ? "bg-base-200" : ""}`}
            data-system={w.key}
          >
            <tr className="[&_td]:pt-1">
              <td>
                <span className={w.in_use ? "font-semibold" : ""}>{w.kind}</span>{" "}
                <span className="quiet">{w.ropes.join(" and ")}</span>
              </td>
              {cell(w.spare, w.spare !== null && w.spare.value < 0)}
              {cell(w.reserve)}
              {cell(w.pull)}
              <td className="text-right" title={w.weakest}>
                {w.times ? <Num n={bare(w.times)} /> : <span className="quiet">–</span>}
              </td>
              <td className="text-right whitespace-nowrap">
                <b>
                  {w.minutes[0].value}–{w.minutes[1].value}
                </b>{" "}
                min
              </td>
              <td className="text-right">
                {w.in_use ? (
                  <span className="quiet text-xs">in use</span>
                ) : (
                  <button
                    type="button"
                    className="min-h-6 cursor-pointer text-xs font-semibold underline"
                    aria-label={`use ${w.kind}, ${w.ropes.join(" and ")}`}
                    onClick={() => edit(applyEdits(w.edits))}
                  >
                    use
                  </button>
                )}
              </td>
            </tr>
            <tr>
              <td colSpan={7} className="pb-1 text-xs">
                {w.fix && (
                  <span className="font-semibold">
                    With one more act: <Said s={w.fix} />.{" "}
                  </span>
                )}
                {w.ruled_out ? (
                  <span className="sev-Shortfall">
                    <Said s={w.ruled_out} />.{" "}
                  </span>
                ) : w.open ? (
                  <span className="sev-Not-checked">
                    <Said s={w.open} />.{" "}
                  </span>
                ) : null}
                <span className="quiet">
                  {w.left !== tie && `Leaves ${w.left}. `}
                  {w.lowers === "yes" ? "Lowers somebody who is stuck. " : ""}
                  {w.needs}. Last person {w.last}.
                  {w.single > 0 && ` ${w.single} single point${w.single === 1 ? "" : "s"} nobody has accepted.`}
                </span>
              </td>
            </tr>
          </tbody>
        ))}
      </table>
      {rows[0] && (
        <p className="rule-t py-1 text-xs">
          <b>
            {new Set(rows.map((w) => w.left)).size > 1 ? "Unless it says otherwise it leaves" : "Each of them leaves"}
          </b>{" "}
          <span className="quiet">{tie}, and nothing of the rope.</span>
        </p>
      )}
      {query.data && rows.length === 0 && <p className="quiet text-xs">There is no rope in the shed to compare.</p>}
      {(query.data?.excluded ?? []).map((x) => (
        <p key={x.name} className="rule-t py-1 text-xs">
          <b>{x.name}:</b>{" "}
          <span className="quiet">
            <Said s={x.why} />
          </span>
        </p>
      ))}
    </section>
  );
}
