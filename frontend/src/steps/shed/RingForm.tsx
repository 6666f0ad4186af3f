// A ring, a plate, a link or a connector of the shed.
import { unknown } from "../../state/edits";
import type { Ring } from "../../state/model";
import { CapacityField, ChoiceField, FigureField, type Path } from "../../ui/fields";

export function RingForm({ r, path }: { r: Ring; path: Path }) {
  const kind = r.kind ?? "ring";
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField
        label="kind"
        path={[...path, "kind"]}
        value={kind}
        choices={[
          { value: "ring", label: "closed ring" },
          { value: "link", label: "link that screws shut" },
          { value: "carabiner", label: "carabiner" },
          { value: "plate", label: "thin plate with a hole" },
        ]}
      />
      <span />
      <FigureField
        label="thickness of its bar"
        path={[...path, "thickness_mm"]}
        figure={r.thickness_mm}
        quantity="diameter"
        why="not measured"
      />
      <FigureField
        label="opening"
        path={[...path, "opening_mm"]}
        figure={r.opening_mm}
        quantity="diameter"
        why="not measured"
      />
      <FigureField
        label="length, where it carries the ring on"
        path={[...path, "length_m"]}
        figure={r.length_m ?? unknown("not measured")}
        quantity="fine length"
        why="not measured"
      />
      <CapacityField
        className="col-span-2"
        label={
          `rating${kind === "ring" || kind === "plate" ? "" : ", long axis"}; ` +
          "with no rating it is unknown, a working load is not a breaking load"
        }
        path={[...path, "rating_kn"]}
        capacity={r.rating_kn}
        sources={["stamped"]}
      />
      {kind !== "ring" && kind !== "plate" && (
        <CapacityField
          className="col-span-2"
          label="loaded across"
          path={[...path, "cross_kn"]}
          capacity={r.cross_kn ?? unknown("no cross rating")}
          sources={["stamped"]}
        />
      )}
      {kind === "carabiner" && (
        <CapacityField
          className="col-span-2"
          label="gate open"
          path={[...path, "open_kn"]}
          capacity={r.open_kn ?? unknown("no gate-open rating")}
          sources={["stamped"]}
        />
      )}
    </div>
  );
}
