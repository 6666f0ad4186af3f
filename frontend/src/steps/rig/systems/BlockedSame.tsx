// A single strand blocked on the same rope.
import { ChoiceField, SurveyField } from "../../../ui/fields";
import { Block } from "../Block";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { lower, TiedOn } from "../TiedOn";
import { ENDS, type FormOf, otherEnd } from "./choices";

export function BlockedSame({ s, at }: FormOf<"blocked, same rope">) {
  return (
    <>
      <RopeChoice label="rope" field="rope" value={s.rope} system={s} at={at} />
      <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
      <SurveyField
        label="rope given to the ride strand"
        path={[...at, "ride_m"]}
        figure={s.ride_m}
        quantity="length"
        why="not decided"
        className="col-span-2"
      />
      <Block s={s} at={at} />
      <TiedOn s={s} at={at} />
      <Stoppers system={s} at={at} strands={[lower(s), { rope: s.rope, end: otherEnd(s.ridden_end) }]} />
    </>
  );
}
