// What holds rope or rider off the plumb line: deviations, and a traverse line to the station.
import { Plus, Trash2 } from "lucide-react";
import { freshId, known, setAt, unknown } from "../../state/edits";
import type { Drop, DropAssessment } from "../../state/model";
import { useSession } from "../../state/plan";
import { CapacityField, ChoiceField, FigureField, OneOf, type Path, SurveyField, TextField } from "../../ui/fields";
import { Num } from "../../ui/Num";

export function Aids({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const { plan, edit } = useSession();
  const at: Path = ["drops", `#${drop.id}`, "station"];
  const deviations = drop.station.deviations ?? [];
  const line = drop.station.traverse ?? null;
  const load = (key: string) => {
    const found = a.aids.find((x) => x.key === key);
    return found ? (
      <p key={key} className="col-span-4 text-[13px]">
        {line && key.startsWith("traverse") ? `On the ${found.name}` : "On it"}: <Num n={found.static} /> under a still
        rider, <Num n={found.peak} /> at the peak.
      </p>
    ) : null;
  };
  const ropes = (plan.shed.ropes ?? []).filter((r) => r.kind !== "pull cord");
  return (
    <section aria-label="deviations and traverse line" className="mt-4">
      <div className="flex items-center gap-3">
        <h2 className="text-[13px] font-bold">Deviations and traverse line</h2>
        <button
          type="button"
          className="act plain"
          onClick={() =>
            edit(
              setAt(
                [...at, "deviations"],
                [
                  ...deviations,
                  {
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
                  },
                ],
              ),
            )
          }
        >
          <Plus size={14} className="inline" /> deviation
        </button>
        {line === null && (
          <button
            type="button"
            className="act plain"
            onClick={() =>
              edit(
                setAt([...at, "traverse"], {
                  rope: ropes[0]?.id ?? "none",
                  span_m: unknown("not measured"),
                  sag_m: unknown("not measured"),
                  near: unknown("nobody has judged it"),
                  far: unknown("nobody has judged it"),
                }),
              )
            }
          >
            <Plus size={14} className="inline" /> traverse line
          </button>
        )}
      </div>
      {deviations.map((d) => {
        const path: Path = [...at, "deviations", `#${d.id}`];
        return (
          <div key={d.id} className="rule-t grid grid-cols-4 items-end gap-x-4 gap-y-1 py-1.5">
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
              <button
                type="button"
                className="act plain ml-auto px-1"
                aria-label={`remove ${d.name}`}
                onClick={() =>
                  edit(
                    setAt(
                      [...at, "deviations"],
                      deviations.filter((x) => x.id !== d.id),
                    ),
                  )
                }
              >
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
            {load(`deviation.${d.id}`)}
          </div>
        );
      })}
      {line && (
        <div
          className="rule-t grid grid-cols-4 items-end gap-x-4 gap-y-1 py-1.5"
          role="group"
          aria-label="traverse line"
        >
          <ChoiceField
            label="traverse line of"
            path={[...at, "traverse", "rope"]}
            value={line.rope}
            choices={ropes.map((r) => ({ value: r.id, label: r.name }))}
          />
          <SurveyField
            label="span"
            path={[...at, "traverse", "span_m"]}
            figure={line.span_m}
            quantity="length"
            why="not measured"
          />
          <SurveyField
            label="sag at its middle, with a person"
            path={[...at, "traverse", "sag_m"]}
            figure={line.sag_m}
            quantity="fine length"
            why="not measured"
          />
          <button
            type="button"
            className="act plain mb-1.5 justify-self-end px-1"
            aria-label="remove the traverse line"
            onClick={() => edit(setAt([...at, "traverse"], null))}
          >
            <Trash2 size={15} />
          </button>
          <FigureField
            label="falls, near to far"
            path={[...at, "traverse", "slope_deg"]}
            figure={line.slope_deg ?? known(0, "given")}
            quantity="degrees"
            why="not measured"
          />
          <CapacityField
            className="col-span-3"
            label="near anchor holds"
            path={[...at, "traverse", "near"]}
            capacity={line.near}
          />
          <span />
          <CapacityField
            className="col-span-3"
            label="far anchor holds"
            path={[...at, "traverse", "far"]}
            capacity={line.far}
          />
          {["near", "far", "rope"].map((end) => load(`traverse.${end}`))}
        </div>
      )}
    </section>
  );
}
