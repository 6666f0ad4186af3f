// Which rope of the shed.
import { Swatch } from "../../cutaway/Swatch";
import { setAt } from "../../state/edits";
import type { Rope, System } from "../../state/model";
import { useSession } from "../../state/plan";
import { At, Choose, type Path } from "../../ui/fields";
import { middleOf } from "./systems/choices";

export function RopeChoice({
  label,
  field,
  value,
  system,
  at,
}: {
  label: string;
  field: string;
  value: string;
  system: System;
  at: Path;
}) {
  const { plan, edit } = useSession();
  const ropes = plan.shed.ropes ?? [];
  // Stoppers go with the place of the rope they were tied in.
  const change = (id: string) => {
    const stoppers =
      system.kind === "none" ? [] : (system.stoppers ?? []).map((s) => (s.rope === value ? { ...s, rope: id } : s));
    // So does a middle that the other rope has no mark for.
    const middle = "middle_by" in system && field === "rope" ? [setAt([...at, "middle_by"], middleOf(plan, id))] : [];
    edit(setAt([...at, field], id), setAt([...at, "stoppers"], stoppers), ...middle);
  };
  return (
    <span className="flex min-w-0 items-end gap-1.5">
      <At path={[...at, field]}>
        <Choose
          label={label}
          value={value}
          choices={ropes.map((r: Rope) => ({ value: r.id, label: r.name }))}
          onChange={change}
          className="grow"
        />
      </At>
      <span className="mb-2">
        <Swatch rope={plan.shed.ropes?.find((r) => r.id === value)} />
      </span>
    </span>
  );
}
