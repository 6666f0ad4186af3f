// A doubled rope.
import { ChoiceField } from "../../../ui/fields";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { ENDS, type FormOf, MIDDLES } from "./choices";

export function Doubled({ s, at }: FormOf<"doubled">) {
  return (
    <>
      <RopeChoice label="rope" field="rope" value={s.rope} system={s} at={at} />
      <ChoiceField label="end pulled" path={[...at, "pulled_end"]} value={s.pulled_end} choices={ENDS} />
      <ChoiceField label="middle found by" path={[...at, "middle_by"]} value={s.middle_by} choices={MIDDLES} />
      <Stoppers
        system={s}
        at={at}
        strands={[
          { rope: s.rope, end: "a" },
          { rope: s.rope, end: "b" },
        ]}
      />
    </>
  );
}
