// A single strand in an elastic-release device.
import { useSession } from "../../../state/plan";
import { ChoiceField } from "../../../ui/fields";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { ENDS, type FormOf } from "./choices";

export function ElasticRelease({ s, at }: FormOf<"elastic-release device">) {
  const { plan } = useSession();
  return (
    <>
      <RopeChoice label="rope" field="rope" value={s.rope} system={s} at={at} />
      <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
      <ChoiceField
        label="device"
        path={[...at, "device"]}
        value={s.device}
        choices={(plan.shed.devices ?? [])
          .filter((d) => d.use === "elastic release")
          .map((d) => ({ value: d.id, label: d.name }))}
      />
      <Stoppers system={s} at={at} strands={[{ rope: s.rope, end: s.ridden_end }]} />
    </>
  );
}
