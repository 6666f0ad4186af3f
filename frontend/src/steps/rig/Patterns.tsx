// Every pattern round this post, side by side: what it holds, what it takes, what it is like. One act adopts one.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../../api/client";
import { known, setAt } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { sameBefore } from "../../state/same";
import { useWhich } from "../../state/which";
import { Num } from "../../ui/Num";
import { TERMS } from "../../ui/terms";
import { TieSketch } from "./Bench";

type Order = "listed" | "holds" | "cut";

export function Patterns({ drop }: { drop: Drop }) {
  const { view, plan, edit } = useSession();
  const which = useWhich();
  const [order, setOrder] = useState<Order>("listed");
  const rig = drop.station.states[0]!.rig;
  const key = ["patterns", view.id, view.rests, drop.id, which];
  const query = useQuery({
    queryKey: key,
    queryFn: () => api.patterns(view.id, view.revision, drop.id, which),
    staleTime: Infinity,
    placeholderData: sameBefore(key),
    enabled: rig.kind === "wrap",
  });
  if (rig.kind !== "wrap")
    return <p className="quiet py-4">Patterns are compared once the station is tied round a post: {TERMS.post}.</p>;
  if (query.error)
    return (
      <p role="alert" className="sev-Shortfall">
        {query.error.message}
      </p>
    );
  const post = drop.station.features?.find((f) => f.id === rig.post);
  const tree = post?.kind === "post" && post.what === "tree";
  const tied = [...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])].find((w) => w.id === rig.webbing);
  const colour = tied?.colour ?? "#7a3b6b";
  const rows = [...(query.data ?? [])];
  if (order === "holds") rows.sort((a, b) => (b.low?.value ?? -1) - (a.low?.value ?? -1));
  if (order === "cut") rows.sort((a, b) => (a.cut?.value ?? 1e9) - (b.cut?.value ?? 1e9));
  const adopt = (key: string) => {
    const at = ["drops", `#${drop.id}`, "station", "states", which, "rig"] as const;
    const extend =
      key === "re-threaded overhand" && rig.extension_m?.kind !== "known"
        ? [setAt([...at, "extension_m"], known(1, "given"))]
        : [];
    edit(setAt([...at, "pattern"], key), ...extend);
  };
  const head = (key: Order, text: string) => (
    <button
      type="button"
      className={`cursor-pointer ${order === key ? "font-bold text-base-content" : "hover:underline"}`}
      onClick={() => setOrder(order === key ? "listed" : key)}
    >
      {text}
      {order === key ? " ↓" : ""}
    </button>
  );
  return (
    <table
      className="w-full table-fixed text-[13px]"
      aria-label="patterns compared"
      aria-busy={query.isPlaceholderData}
    >
      <thead>
        <tr className="quiet text-left text-xs whitespace-nowrap [&_th]:px-1.5 [&_th]:font-normal">
          <th className="w-[68px]">from above</th>
          <th>pattern</th>
          <th className="w-[11%] text-right">{head("holds", "holds, low")}</th>
          <th className="w-[9%] text-right">high</th>
          <th className="w-[10%] text-right">{head("cut", "to cut")}</th>
          <th className="w-[12%] pl-3">redundant</th>
          <th className="w-[8%]">cinches</th>
          <th className="w-[12%]">equalises</th>
          <td className="w-12" />
        </tr>
      </thead>
      <tbody>
        {rows.map((r) => (
          <tr
            key={r.key}
            className={`rule-t h-[26px] [&_td]:px-1.5 ${r.key === rig.pattern ? "bg-base-200 font-semibold" : ""}`}
            title={r.notes}
            data-pattern={r.key}
          >
            <td>{r.bench && <TieSketch b={r.bench} tree={tree} colour={colour} />}</td>
            <td className="text-xs leading-[14px]">{r.name}</td>
            {r.low && r.high ? (
              <>
                <td className="text-right">
                  <Num n={{ ...r.low, working: "" }} />
                </td>
                <td className="quiet text-right">
                  <Num n={{ ...r.high, working: "" }} className="font-normal" />
                </td>
              </>
            ) : (
              <td colSpan={2} className="sev-Not-checked text-right" title={r.why}>
                not checked
              </td>
            )}
            <td className="text-right">{r.cut && <Num n={{ ...r.cut, working: "" }} />}</td>
            <td className="pl-3 text-xs leading-[14px]">{r.redundant}</td>
            <td>{r.cinches}</td>
            <td className="text-xs leading-[14px]">{r.equalises}</td>
            <td className="text-right">
              {r.key === rig.pattern ? (
                <span className="quiet text-xs whitespace-nowrap">in use</span>
              ) : (
                <button
                  type="button"
                  className="min-h-6 cursor-pointer text-xs font-semibold underline"
                  aria-label={`use ${r.name}`}
                  onClick={() => adopt(r.key)}
                >
                  use
                </button>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
