// The station's record of what was found in place: who looked when, what was seen, what was decided.
import { Plus, Trash2 } from "lucide-react";
import { freshId, setAt } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { ChoiceField, DateField, type Path, TextField } from "../../ui/fields";

const GRID = "grid grid-cols-[8.5rem_1fr_6.5rem_7rem_2rem] items-center gap-x-3 gap-y-1";

export function Inspections({ drop }: { drop: Drop }) {
  const { edit } = useSession();
  const at: Path = ["drops", `#${drop.id}`, "station", "inspections"];
  const records = drop.station.inspections ?? [];
  const anchor = drop.station.features?.find((f) => f.kind === "rated");
  const add = () => edit(setAt(at, [...records, {
    id: freshId("i", records), on: new Date().toISOString().slice(0, 10), item: anchor?.name ?? "in-place item", found: "", condition: "unknown", decision: "undecided",
  }]));
  return (
    <section aria-label="inspections">
      {records.length > 0 && <div className={`${GRID} quiet text-xs`}><span>looked at on</span><span>what, and what was seen</span><span>state</span><span>decision</span><span /></div>}
      {records.map((r) => (
        <div key={r.id} className={`${GRID} py-0.5 [&_label>span.block]:hidden [&_label>span[role=alert]]:!block`}>
          <DateField label="looked at on" path={[...at, `#${r.id}`, "on"]} value={r.on ?? null} />
          <TextField label="what was looked at" path={[...at, `#${r.id}`, "item"]} value={r.item} />
          <ChoiceField label="its state" path={[...at, `#${r.id}`, "condition"]} value={r.condition ?? "unknown"} choices={["good", "worn", "bad", "unknown"]} />
          <ChoiceField label="the decision" path={[...at, `#${r.id}`, "decision"]} value={r.decision ?? "undecided"} choices={["use", "back up", "replace", "undecided"]} />
          <button type="button" className="act plain px-1" aria-label={`remove the record of ${r.item}`} onClick={() => edit(setAt(at, records.filter((x) => x.id !== r.id)))}><Trash2 size={15} /></button>
          <TextField label="what was seen" path={[...at, `#${r.id}`, "found"]} value={r.found ?? ""} className="col-span-5" />
        </div>
      ))}
      <div className="mt-2 flex items-center gap-3">
        <button type="button" className="act" onClick={add}><Plus size={14} className="inline" /> Record what was seen</button>
        <span className="quiet text-xs">The newest record of each item counts. Nothing found in place is known until somebody has looked at it, back and underside too.</span>
      </div>
    </section>
  );
}
