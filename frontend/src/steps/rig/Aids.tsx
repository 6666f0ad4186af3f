// What holds rope or rider off the plumb line: deviations, and a traverse line to the station.
import { Plus, Trash2 } from "lucide-react";
import { freshId, known, setAt, unknown } from "../../state/edits";
import type { Drop, DropAssessment, Plan } from "../../state/model";
import { useSession } from "../../state/plan";
import { CapacityField, ChoiceField, FigureField, OneOf, type Path, SurveyField, TextField } from "../../ui/fields";
import { Num } from "../../ui/Num";

type Deviation = NonNullable<Drop["station"]["deviations"]>[number];
type Line = NonNullable<Drop["station"]["traverse"]>;
type Aid = DropAssessment["aids"];

const newDeviation = (deviations: readonly Deviation[]): Deviation => ({
  id: freshId("dev-", deviations),
  name: "deviation",
  below_m: unknown("not measured"),
  turn_deg: unknown("not measured"),
  holds: unknown("nobody has judged it"),
  hung: "unknown",
  sling: null,
  ring: null,
  left_in: false,
  by: null,
});
const newLine = (rope: string) => ({
  rope,
  span_m: unknown("not measured"),
  sag_m: unknown("not measured"),
  near: unknown("nobody has judged it"),
  far: unknown("nobody has judged it"),
});

export function Aids({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const { plan, edit } = useSession();
  const at: Path = ["drops", `#${drop.id}`, "station"];
  const deviations = drop.station.deviations ?? [];
  const line = drop.station.traverse ?? null;
  const put = (all: readonly Deviation[]) => edit(setAt([...at, "deviations"], all));
  const [first] = ropesOf(plan);
  return (
    <section aria-label="deviations and traverse line" className="mt-4">
      <div className="flex items-center gap-3">
        <h2 className="text-[13px] font-bold">Deviations and traverse line</h2>
        <button type="button" className="act plain" onClick={() => put([...deviations, newDeviation(deviations)])}>
          <Plus size={14} className="inline" /> deviation
        </button>
        {line === null && (
          <button
            type="button"
            className="act plain"
            onClick={() => edit(setAt([...at, "traverse"], newLine(first?.id ?? "none")))}
          >
            <Plus size={14} className="inline" /> traverse line
          </button>
        )}
      </div>
      {deviations.map((d) => (
        <DeviationForm
          key={d.id}
          d={d}
          path={[...at, "deviations", `#${d.id}`]}
          aids={a.aids}
          remove={() => put(deviations.filter((x) => x.id !== d.id))}
        />
      ))}
      {line && <LineForm line={line} path={[...at, "traverse"]} aids={a.aids} />}
    </section>
  );
}

const ropesOf = (plan: Plan) => (plan.shed.ropes ?? []).filter((r) => r.kind !== "pull cord");

/** What one of them is loaded with, where that is known. */
function Load({ aids, of }: { aids: Aid; of: string }) {
  const found = aids.find((x) => x.key === of);
  if (!found) return null;
  return (
    <p className="col-span-4 text-[13px]">
      {of.startsWith("traverse") ? `On the ${found.name}` : "On it"}: <Num n={found.static} /> under a still rider,{" "}
      <Num n={found.peak} /> at the peak.
    </p>
  );
}

function DeviationForm({ d, path, aids, remove }: { d: Deviation; path: Path; aids: Aid; remove: () => void }) {
  const { plan, edit } = useSession();
  return (
    <div className="rule-t grid grid-cols-4 items-end gap-x-4 gap-y-1 py-1.5">
      <TextField label="deviation" path={[...path, "name"]} value={d.name} />
      <FigureField
        label="down the rope from the ring"
        path={[...path, "below_m"]}
        figure={d.below_m}
        quantity="length"
        why="not measured"
      />
      <FigureField
        label="turns the rope by"
        path={[...path, "turn_deg"]}
        figure={d.turn_deg}
        quantity="degrees"
        why="not measured"
      />
      <span className="flex items-center gap-2 pb-1.5">
        <label className="flex items-center gap-1.5 text-[13px]">
          <input
            type="checkbox"
            className="size-4 accent-[var(--color-accent)]"
            checked={d.left_in ?? false}
            onChange={(e) => edit(setAt([...path, "left_in"], e.target.checked))}
          />
          stays in
        </label>
        <button type="button" className="act plain ml-auto px-1" aria-label={`remove ${d.name}`} onClick={remove}>
          <Trash2 size={15} />
        </button>
      </span>
      <CapacityField
        className="col-span-4"
        label="what its own anchor holds"
        path={[...path, "holds"]}
        capacity={d.holds}
      />
      <OneOf
        label="hung on its anchor"
        path={[...path, "hung"]}
        value={d.hung === "sling" ? (d.sling ?? "") : d.hung === "straight" ? "straight" : ""}
        things={[{ id: "straight", name: "straight, by its connector" }, ...(plan.shed.slings ?? [])]}
        set={(id) => [
          setAt([...path, "hung"], id === null ? "unknown" : id === "straight" ? "straight" : "sling"),
          setAt([...path, "sling"], id === "straight" ? null : id),
        ]}
      />
      <OneOf
        label="its connector"
        path={[...path, "ring"]}
        value={d.ring ?? ""}
        things={plan.shed.rings ?? []}
        set={(id) => [setAt([...path, "ring"], id)]}
      />
      {!d.left_in && (
        <OneOf
          label="taken out by"
          path={[...path, "by"]}
          value={d.by ?? ""}
          things={plan.party}
          set={(id) => [setAt([...path, "by"], id)]}
        />
      )}
      <Load aids={aids} of={`deviation.${d.id}`} />
    </div>
  );
}

function LineForm({ line, path, aids }: { line: Line; path: Path; aids: Aid }) {
  const { plan, edit } = useSession();
  const ropes = ropesOf(plan);
  return (
    <div className="rule-t grid grid-cols-4 items-end gap-x-4 gap-y-1 py-1.5" role="group" aria-label="traverse line">
      <ChoiceField
        label="traverse line of"
        path={[...path, "rope"]}
        value={line.rope}
        choices={ropes.map((r) => ({ value: r.id, label: r.name }))}
      />
      <SurveyField label="span" path={[...path, "span_m"]} figure={line.span_m} quantity="length" why="not measured" />
      <SurveyField
        label="sag at its middle, with a person"
        path={[...path, "sag_m"]}
        figure={line.sag_m}
        quantity="fine length"
        why="not measured"
      />
      <button
        type="button"
        className="act plain mb-1.5 justify-self-end px-1"
        aria-label="remove the traverse line"
        onClick={() => edit(setAt(path, null))}
      >
        <Trash2 size={15} />
      </button>
      <FigureField
        label="falls, near to far"
        path={[...path, "slope_deg"]}
        figure={line.slope_deg ?? known(0, "given")}
        quantity="degrees"
        why="not measured"
      />
      <CapacityField className="col-span-3" label="near anchor holds" path={[...path, "near"]} capacity={line.near} />
      <span />
      <CapacityField className="col-span-3" label="far anchor holds" path={[...path, "far"]} capacity={line.far} />
      {["near", "far", "rope"].map((end) => (
        <Load key={end} aids={aids} of={`traverse.${end}`} />
      ))}
    </div>
  );
}
