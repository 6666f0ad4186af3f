// A single strand with a pull cord.
import { CapacityField, ChoiceField, FigureField } from "../../../ui/fields";
import { Block } from "../Block";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { lower, TiedOn } from "../TiedOn";
import { ENDS, type FormOf, JOINS, UNKNOWN } from "./choices";

export function BlockedCord({ s, at }: FormOf<"blocked, pull cord">) {
  return (
    <>
      <RopeChoice label="rope, ridden" field="rope" value={s.rope} system={s} at={at} />
      <RopeChoice label="pull cord, or a second rope" field="cord" value={s.cord} system={s} at={at} />
      <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
      <ChoiceField label="hanging end of the cord" path={[...at, "cord_end"]} value={s.cord_end} choices={ENDS} />
      <ChoiceField label="cord joined by" path={[...at, "knot"]} value={s.knot ?? "flat overhand"} choices={JOINS} />
      <FigureField
        label="tails of the join, each"
        path={[...at, "tails_m"]}
        figure={s.tails_m}
        quantity="fine length"
        why="not decided"
      />
      <Block s={s} at={at} />
      <CapacityField
        className="col-span-4"
        label="the join slips at, by the party's own pull test"
        path={[...at, "slips_kn"]}
        capacity={s.slips_kn ?? UNKNOWN("")}
        sources={["own pull test"]}
      />
      <TiedOn s={s} at={at} />
      <Stoppers system={s} at={at} strands={[lower(s), { rope: s.cord, end: s.cord_end }]} />
    </>
  );
}
