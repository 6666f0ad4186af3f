// A releasable single strand, with its reserve.
import { setAt } from "../../../state/edits";
import { useSession } from "../../../state/plan";
import { ChoiceField, Choose, SurveyField } from "../../../ui/fields";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { lower, TiedOn } from "../TiedOn";
import { ENDS, type FormOf, JOINS } from "./choices";

export function Releasable({ s, at }: FormOf<"releasable">) {
  const { plan, edit } = useSession();
  return (
    <>
      <RopeChoice label="rope" field="rope" value={s.rope} system={s} at={at} />
      <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
      <SurveyField
        label="let out from the tie-off"
        path={[...at, "ride_m"]}
        figure={s.ride_m}
        quantity="length"
        why="not decided"
        className="col-span-2"
      />
      <ChoiceField
        label="tied off by"
        path={[...at, "tie_off"]}
        value={s.tie_off}
        choices={["munter-mule-overhand", "figure-eight device mule"]}
      />
      <Choose
        label="joined on behind the reserve"
        value={s.reserve_rope ?? ""}
        choices={[
          { value: "", label: "nothing" },
          ...(plan.shed.ropes ?? [])
            .filter((r) => r.kind !== "pull cord" && r.id !== s.rope)
            .map((r) => ({ value: r.id, label: r.name })),
        ]}
        onChange={(v) => edit(setAt([...at, "reserve_rope"], v || null))}
      />
      {s.reserve_rope && (
        <ChoiceField label="by its end" path={[...at, "reserve_end"]} value={s.reserve_end ?? "a"} choices={ENDS} />
      )}
      {s.reserve_rope && (
        <ChoiceField
          label="joined by"
          path={[...at, "reserve_knot"]}
          value={s.reserve_knot ?? "opposed overhand"}
          choices={JOINS}
          className="col-span-2"
        />
      )}
      <TiedOn s={s} at={at} />
      <Stoppers system={s} at={at} strands={[lower(s)]} />
    </>
  );
}
