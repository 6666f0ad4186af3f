// A device to ride on or be lowered with.
import { unknown } from "../../state/edits";
import type { Device } from "../../state/model";
import { CapacityField, ChoiceField, FigureField, type Path } from "../../ui/fields";

export function DeviceForm({ d, path }: { d: Device; path: Path }) {
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <CapacityField
        className="col-span-2"
        label="rating; with none it is unknown"
        path={[...path, "rating_kn"]}
        capacity={d.rating_kn}
        sources={["stamped"]}
      />
      <ChoiceField
        label="what it is for"
        path={[...path, "use"]}
        value={d.use ?? "to ride on"}
        choices={["to ride on", { value: "elastic release", label: "elastic release of a rope" }]}
      />
      {d.use === "elastic release" && (
        <FigureField
          label="lets go after so many unloadings"
          path={[...path, "lets_go_after"]}
          figure={d.lets_go_after ?? unknown("not stated")}
          quantity="count"
          why="not stated"
        />
      )}
      {(d.use ?? "to ride on") === "to ride on" && (
        <>
          <ChoiceField
            label="strands it is stated for"
            path={[...path, "strands"]}
            value={d.strands ?? "unknown"}
            choices={["one", "two", "one or two", "unknown"]}
          />
          <FigureField
            label="thinnest rope it is stated for"
            path={[...path, "thinnest_mm"]}
            figure={d.thinnest_mm ?? unknown("not stated")}
            quantity="diameter"
            why="not stated"
          />
          <FigureField
            label="thickest rope it is stated for"
            path={[...path, "thickest_mm"]}
            figure={d.thickest_mm ?? unknown("not stated")}
            quantity="diameter"
            why="not stated"
          />
        </>
      )}
    </div>
  );
}
