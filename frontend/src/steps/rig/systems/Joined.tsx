// Two ropes joined.
import { ChoiceField } from "../../../ui/fields";
import { Join } from "../Join";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { ENDS, type FormOf } from "./choices";

export function Joined({ s, at }: FormOf<"joined">) {
  return (
    <>
      <RopeChoice label="through the ring" field="through" value={s.through} system={s} at={at} />
      <RopeChoice label="other rope, pulled" field="other" value={s.other} system={s} at={at} />
      <ChoiceField label="hanging end, through" path={[...at, "through_end"]} value={s.through_end} choices={ENDS} />
      <ChoiceField label="hanging end, other" path={[...at, "other_end"]} value={s.other_end} choices={ENDS} />
      <ChoiceField
        label="pulled"
        path={[...at, "pulled"]}
        value={s.pulled ?? "other"}
        choices={[
          { value: "other", label: "the side the join is on" },
          { value: "through", label: "the rope through the ring" },
        ]}
      />
      <Join s={s} at={at} label="joined by" />
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
