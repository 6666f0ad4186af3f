// A single strand with a pull cord.
import { ChoiceField } from "../../../ui/fields";
import { Block } from "../Block";
import { Join } from "../Join";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { lower, TiedOn } from "../TiedOn";
import { ENDS, type FormOf } from "./choices";

export function BlockedCord({ s, at }: FormOf<"blocked, pull cord">) {
  return (
    <>
      <RopeChoice label="rope, ridden" field="rope" value={s.rope} system={s} at={at} />
      <RopeChoice label="pull cord, or a second rope" field="cord" value={s.cord} system={s} at={at} />
      <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
      <ChoiceField label="hanging end of the cord" path={[...at, "cord_end"]} value={s.cord_end} choices={ENDS} />
      <Join s={s} at={at} label="cord joined by" />
      <Block s={s} at={at} />
      <TiedOn s={s} at={at} />
      <Stoppers system={s} at={at} strands={[lower(s), { rope: s.cord, end: s.cord_end }]} />
    </>
  );
}
