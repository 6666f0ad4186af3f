// A loop of cord for a third hand.
import type { Loop } from "../../state/model";
import { ChoiceField, FigureField, type Path, SurveyField } from "../../ui/fields";
import { FIBRES } from "./WebbingForm";

export function LoopForm({ l, path }: { l: Loop; path: Path }) {
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField label="fibre" path={[...path, "fibre"]} value={l.fibre} choices={FIBRES} />
      {l.fibre === "HMPE" && (
        <ChoiceField
          label="made for hitches, by its maker"
          path={[...path, "made_for_hitch"]}
          value={l.made_for_hitch ?? "unknown"}
          choices={["yes", "no", "unknown"]}
        />
      )}
      <FigureField
        label="diameter of the cord"
        path={[...path, "diameter_mm"]}
        figure={l.diameter_mm}
        quantity="diameter"
        why="not measured"
      />
      <SurveyField
        label="laid length, half of it round"
        path={[...path, "length_m"]}
        figure={l.length_m}
        quantity="fine length"
        why="not measured"
      />
    </div>
  );
}
