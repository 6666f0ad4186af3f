// How two ropes are joined: the knot, its tails, and what it slips at.
import type { System } from "../../state/model";
import { CapacityField, ChoiceField, FigureField, type Path } from "../../ui/fields";
import { JOINS, UNKNOWN } from "./systems/choices";

export function Join({
  s,
  at,
  label,
}: {
  s: Extract<System, { kind: "joined" | "blocked, pull cord" }>;
  at: Path;
  label: string;
}) {
  return (
    <>
      <ChoiceField label={label} path={[...at, "knot"]} value={s.knot ?? "flat overhand"} choices={JOINS} />
      <FigureField
        label="tails of the join, each"
        path={[...at, "tails_m"]}
        figure={s.tails_m}
        quantity="fine length"
        why="not decided"
      />
      <CapacityField
        className="col-span-4"
        label="the join slips at, by the party's own pull test"
        path={[...at, "slips_kn"]}
        capacity={s.slips_kn ?? UNKNOWN("")}
        sources={["own pull test"]}
      />
    </>
  );
}
