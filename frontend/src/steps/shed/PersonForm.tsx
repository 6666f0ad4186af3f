// A person of the party.
import { setAt } from "../../state/edits";
import type { Person } from "../../state/model";
import { useSession } from "../../state/plan";
import { ChoiceField, Choose, FigureField, type Path } from "../../ui/fields";

export function PersonForm({ p, path }: { p: Person; path: Path }) {
  const { plan, edit } = useSession();
  const pick = (label: string, field: "device" | "tether", items: readonly { id: string; name: string }[]) => (
    <Choose
      label={label}
      value={p[field] ?? ""}
      choices={[{ value: "", label: "nobody has said" }, ...items.map((x) => ({ value: x.id, label: x.name }))]}
      onChange={(v) => edit(setAt([...path, field], v || null))}
    />
  );
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField
        label="role"
        path={[...path, "role"]}
        value={p.role}
        choices={["guide", "second guide", "able", "novice"]}
      />
      <FigureField
        label="weight with clothes, kit and wet pack"
        path={[...path, "mass_kg"]}
        figure={p.mass_kg}
        quantity="mass"
        why="not asked"
      />
      {pick("rides on", "device", plan.shed.devices ?? [])}
      {pick("clips in with", "tether", plan.shed.tethers ?? [])}
    </div>
  );
}
