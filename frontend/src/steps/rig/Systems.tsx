// Every rope system the kit allows at this station, side by side; one act adopts one. What is ruled out stays, with the reason.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../../api/client";
import type { Way } from "../../api/types.gen";
import { applyEdits } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { useWhich } from "../../state/which";
import { Num, Said } from "../../ui/Num";

type Order = "best" | "spare" | "pull";

export function Systems({ drop }: { drop: Drop }) {
  const { view, edit, draft } = useSession();
  const which = useWhich();
  const [order, setOrder] = useState<Order>("best");
  const query = useQuery({
    queryKey: ["systems", view.id, view.revision, drop.id, which], queryFn: () => api.systems(view.id, view.revision, drop.id, which),
    staleTime: Infinity, placeholderData: (before) => before, enabled: draft === null,
  });
  const rows: Way[] = [...(query.data ?? [])];
  if (order === "spare") rows.sort((a, b) => (b.spare?.value ?? -1e9) - (a.spare?.value ?? -1e9));
  if (order === "pull") rows.sort((a, b) => (a.pull?.value ?? 1e9) - (b.pull?.value ?? 1e9));
  if (query.error) return <p role="alert" className="sev-Shortfall">{query.error.message}</p>;
  const head = (key: Order, text: string) => (
    <button type="button" className={`cursor-pointer ${order === key ? "font-bold text-base-content" : "hover:underline"}`} onClick={() => setOrder(key)}>{text}{order === key ? " ↓" : ""}</button>
  );
  return (
    <section className="mt-4" aria-label="systems compared">
      <h3 className="text-[13px] font-bold">Every system this kit allows here</h3>
      <table className="w-full table-fixed text-[13px]" aria-label="systems compared">
        <thead>
          <tr className="quiet text-left text-xs [&_th]:pr-3 [&_th]:font-normal">
            <th className="w-[37%]">{head("best", "fewest shortfalls, then not checked, then easiest pull")}</th>
            <th className="w-[11%] text-right">{head("spare", "spare")}</th><th className="w-[11%] text-right">{head("pull", "pull")}</th>
            <th>what rules it out, or is not known</th><th className="w-[9%]" />
          </tr>
        </thead>
        <tbody>
          {rows.map((w) => (
            <tr key={w.key} className={`rule-t align-top [&_td]:py-1 [&_td]:pr-3 ${w.in_use ? "bg-base-200" : ""}`} data-system={w.key} title={`${w.needs}. Can lower a stuck person: ${w.lowers}.${w.weakest ? ` Weakest part: ${w.weakest}.` : ""}`}>
              <td><span className={w.in_use ? "font-semibold" : ""}>{w.kind}</span> <span className="quiet">{w.ropes.join(" and ")}</span></td>
              <td className={`text-right ${w.spare && w.spare.value < 0 ? "sev-Shortfall" : ""}`}>{w.spare ? <Num n={{ ...w.spare, working: "" }} /> : <span className="sev-Not-checked">–</span>}</td>
              <td className="text-right">{w.pull ? <Num n={{ ...w.pull, working: "" }} /> : <span className="sev-Not-checked">–</span>}</td>
              <td className="text-xs">{w.ruled_out ? <span className="sev-Shortfall"><Said s={w.ruled_out} /></span> : w.open ? <span className="sev-Not-checked"><Said s={w.open} /></span> : <span className="quiet">nothing found of this system itself</span>}</td>
              <td className="text-right">{w.in_use ? <span className="quiet text-xs">in use</span> : <button type="button" className="cursor-pointer text-xs font-semibold underline" aria-label={`use ${w.kind}, ${w.ropes.join(" and ")}`} onClick={() => edit(applyEdits(w.edits))}>use</button>}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {query.data && rows.length === 0 && <p className="quiet text-xs">There is no rope in the shed to compare.</p>}
    </section>
  );
}
