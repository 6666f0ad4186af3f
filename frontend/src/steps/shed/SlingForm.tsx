// A sewn sling of the shed.
import type { Sling } from "../../state/model";
import { CapacityField, ChoiceField, type Path, SurveyField } from "../../ui/fields";
import { Colour } from "./Colour";
import { FIBRES } from "./WebbingForm";

export function SlingForm({ s, path }: { s: Sling; path: Path }) {
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField label="fibre" path={[...path, "fibre"]} value={s.fibre} choices={FIBRES} />
      <SurveyField
        label="laid length, half of it round"
        path={[...path, "length_m"]}
        figure={s.length_m}
        quantity="fine length"
        why="not measured"
      />
      <CapacityField
        className="col-span-2"
        label="rating of the whole loop, pulled straight"
        path={[...path, "rating_kn"]}
        capacity={s.rating_kn}
        sources={["label, EN 566"]}
      />
      <Colour path={path} value={s.colour ?? "#4b4a8c"} />
    </div>
  );
}
