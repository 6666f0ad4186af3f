// Two ropes joined.
import { CapacityField, ChoiceField, FigureField } from "../../../ui/fields";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { ENDS, type FormOf, JOINS } from "./choices";

export function Joined({ s, at }: FormOf<"joined">) {
  return (
    <>
      <RopeChoice label="through the ring" field="through" value={s.through} system={s} at={at} />
      <RopeChoice label="other rope, pulled" field="other" value={s.other} system={s} at={at} />
      <ChoiceField label="hanging end, through" path={[...at, "through_end"]} value={s.through_end} choices={ENDS} />
      <ChoiceField label="hanging end, other" path={[...at, "other_end"]} value={s.other_end} choices={ENDS} />
      <ChoiceField label="joined by" path={[...at, "knot"]} value={s.knot ?? "flat overhand"} choices={JOINS} />
      <FigureField
        label="tails of the join, each"
        path={[...at, "tails_m"]}
        figure={s.tails_m}
        quantity="fine length"
        why="not decided"
      />
      <ChoiceField
        label="pulled"
        path={[...at, "pulled"]}
        value={s.pulled ?? "other"}
        choices={[
          { value: "other", label: "the side the join is on" },
          { value: "through", label: "the rope through the ring" },
        ]}
      />
      <CapacityField
        className="col-span-4"
        label="the join slips at, by the party's own pull test"
        path={[...at, "slips_kn"]}
        capacity={s.slips_kn ?? { kind: "unknown", why: "" }}
        sources={["own pull test"]}
      />
      <Stoppers
        system={s}
        at={at}
        strands={[
          { rope: s.through, end: s.through_end },
          { rope: s.other, end: s.other_end },
        ]}
      />
    </>
  );
}
