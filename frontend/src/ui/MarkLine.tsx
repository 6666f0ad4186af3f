// What somebody said of a finding, a station or an act.
import { holds } from "../state/check";
import type { Mark } from "../state/model";

/** What somebody said, when, and what has changed since. */
export function MarkLine({ m }: { m: Mark }) {
  const told = `${m.verdict === "objected" ? "objected to" : m.verdict} by ${m.by}, ${m.at.slice(0, 10)}`;
  return (
    <div className={`text-[13px] ${holds(m) ? "" : "quiet"}`} data-verdict={m.verdict}>
      <span className={`font-semibold ${m.verdict === "objected" ? "sev-Shortfall" : ""}`}>
        {told[0]?.toUpperCase()}
        {told.slice(1)}
      </span>
      {m.remark && `: ${m.remark}`}
      {m.changed.length > 0 && (
        <span className="sev-Caution font-semibold">
          {" "}
          Changed since: {m.changed.join(", ")}.{!holds(m) && " It no longer holds."}
        </span>
      )}
    </div>
  );
}
