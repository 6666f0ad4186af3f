// A rope or a pull cord of the shed, what is damaged on it, and knots that were measured in it.
import { Plus, Trash2 } from "lucide-react";
import { Swatch } from "../../cutaway/Swatch";
import { setAt, unknown } from "../../state/edits";
import type { Rope, RopeAssessment } from "../../state/model";
import { useSession } from "../../state/plan";
import {
  CapacityField,
  ChoiceField,
  DateField,
  FigureField,
  type Path,
  SurveyField,
  TextField,
  Typed,
} from "../../ui/fields";
import { Num } from "../../ui/Num";
import { Colour } from "./Colour";
import { SamplesField } from "./SamplesField";

const ROPE_KINDS = ["low-stretch", "dynamic single", "dynamic half", "dynamic twin"];

export const STRIPE_NAMES = ["plain", "dashes", "dots", "bars", "twin line", "long dash"] as const;

const ROPE_FIBRES = ["nylon", "polyester", "HMPE", "aramid", "polypropylene", "unknown"];

export function RopeForm({ r, path, length }: { r: Rope; path: Path; length: RopeAssessment | undefined }) {
  const { edit } = useSession();
  const cord = r.kind === "pull cord";
  return (
    <div>
      <p className="rule-t rule-b mb-4 py-2 text-[15px]">
        {length?.low && length.high ? (
          <>
            Counted as <Num n={length.low} /> at the least, <Num n={length.high} /> at the most.
          </>
        ) : (
          <span className="sev-Not-checked font-semibold">Length not checked: {length?.why}</span>
        )}
      </p>
      <div className="grid grid-cols-2 gap-x-5 gap-y-3">
        <FigureField
          label="nominal length, on its label"
          path={[...path, "nominal_m"]}
          figure={r.nominal_m}
          quantity="length"
          why="not entered"
        />
        <SurveyField
          label="measured length"
          path={[...path, "measured_m"]}
          figure={r.measured_m}
          quantity="length"
          why="never measured"
        />
        {r.measured_m.kind === "known" && (
          <>
            <DateField label="measured on" path={[...path, "measured_m", "on"]} value={r.measured_m.on} />
            <TextField label="measured by" path={[...path, "measured_m", "by"]} value={r.measured_m.by ?? ""} />
          </>
        )}
        <ChoiceField
          label={r.measured_m.kind === "known" ? "wet since it was measured" : "wet since new"}
          path={[...path, "wet_since_measured"]}
          value={r.wet_since_measured ?? "unknown"}
          choices={["yes", "no", "unknown"]}
        />
        <FigureField
          label="diameter"
          path={[...path, "diameter_mm"]}
          figure={r.diameter_mm}
          quantity="diameter"
          why="not entered"
        />
        {!cord && <ChoiceField label="kind" path={[...path, "kind"]} value={r.kind} choices={ROPE_KINDS} />}
        <ChoiceField label="fibre" path={[...path, "fibre"]} value={r.fibre ?? "unknown"} choices={ROPE_FIBRES} />
        <FigureField
          label={r.kind.startsWith("dynamic") ? "static elongation, 80 kg" : "elongation, 50 to 150 kg"}
          path={[...path, "elongation_pct"]}
          figure={r.elongation_pct}
          quantity="percent"
          why="no label figure"
        />
        <FigureField
          label="mass on its label"
          path={[...path, "mass_kg_m"]}
          figure={r.mass_kg_m ?? unknown("no label figure")}
          quantity="line mass"
          why="no label figure"
        />
        <CapacityField
          className="col-span-2"
          label="breaking strength on its label, unknotted"
          path={[...path, "strength_kn"]}
          capacity={r.strength_kn}
          sources={["label"]}
        />
        <label className="flex items-center gap-2 self-end pb-1.5">
          <input
            type="checkbox"
            className="size-4 accent-[var(--color-accent)]"
            checked={r.middle_mark ?? false}
            onChange={(e) => edit(setAt([...path, "middle_mark"], e.target.checked))}
          />
          has a middle mark
        </label>
        {r.middle_mark && (
          <SurveyField
            label="middle mark off by"
            path={[...path, "middle_off_m"]}
            figure={r.middle_off_m}
            quantity="fine length"
            why="never checked"
          />
        )}
        {r.middle_mark && r.middle_off_m.kind === "known" && r.middle_off_m.value > 0 && (
          <ChoiceField
            label="and lies nearer to"
            path={[...path, "middle_nearer"]}
            value={r.middle_nearer ?? "unknown"}
            choices={[
              { value: "a", label: "end A" },
              { value: "b", label: "end B" },
              { value: "unknown", label: "nobody has looked" },
            ]}
          />
        )}
      </div>
      <h3 className="mt-5 mb-1 text-[13px] font-bold">How it is drawn</h3>
      <div className="flex items-end gap-4">
        <Colour path={path} value={r.colour ?? "#777777"} />
        <ChoiceField
          label="stripe"
          path={[...path, "stripe"]}
          value={r.stripe ?? "plain"}
          choices={STRIPE_NAMES}
          className="w-32 shrink-0"
        />
        <span className="pb-2">
          <Swatch rope={r} width={96} />
        </span>
      </div>
      <DamageForm r={r} path={path} />
      <KnotWidths r={r} path={[...path, "widths"]} />
    </div>
  );
}

const KNOTS = ["overhand", "flat overhand", "figure eight", "flat figure eight", "butterfly"] as const;

/** How wide knots are that were tied in this rope: what a ring is to stop or to let through is judged by them. */
function KnotWidths({ r, path }: { r: Rope; path: Path }) {
  const { edit } = useSession();
  const widths = r.widths ?? [];
  const free = KNOTS.filter((k) => !widths.some((w) => w.knot === k));
  return (
    <div className="mt-5">
      <div className="flex items-center gap-3">
        <h3 className="text-[13px] font-bold">Knots measured in it</h3>
        {free.length > 0 && (
          <button
            type="button"
            className="act plain"
            onClick={() => edit(setAt(path, [...widths, { knot: free[0], samples_mm: [], on: null }]))}
          >
            <Plus size={14} className="inline" /> add
          </button>
        )}
      </div>
      <p className="quiet max-w-lg text-[13px]">
        Tie it, set it hard under body weight, measure across its narrowest; untie it and tie it anew. From five on it
        stands for the table's width; fewer count only where they are worse. Where a ring is to stop the knot the
        narrowest counts, where it is to pass the widest.
      </p>
      {widths.map((w, i) => (
        <div key={w.knot} className="mt-2 grid grid-cols-[1fr_9rem_2rem] items-end gap-x-3 gap-y-1">
          <ChoiceField
            label="knot"
            path={[...path, i, "knot"]}
            value={w.knot}
            choices={KNOTS.filter((k) => k === w.knot || free.includes(k))}
          />
          <DateField label="measured on" path={[...path, i, "on"]} value={w.on} />
          <button
            type="button"
            className="act plain px-1"
            aria-label={`remove what was measured of the ${w.knot}`}
            onClick={() =>
              edit(
                setAt(
                  path,
                  widths.filter((_, j) => j !== i),
                ),
              )
            }
          >
            <Trash2 size={15} />
          </button>
          <SamplesField
            label="widths, one after another"
            name={`widths of the ${w.knot}`}
            path={[...path, i, "samples_mm"]}
            samples={w.samples_mm ?? []}
            quantity="diameter"
            placeholder="31  29  33"
            className="col-span-2"
          />
        </div>
      ))}
    </div>
  );
}

function DamageForm({ r, path }: { r: Rope; path: Path }) {
  const { edit } = useSession();
  const damage = r.damage ?? [];
  const at: Path = [...path, "damage"];
  return (
    <div className="mt-5">
      <div className="flex items-center gap-3">
        <h3 className="text-[13px] font-bold">Damaged places</h3>
        <button
          type="button"
          className="act plain"
          onClick={() =>
            edit(
              setAt(at, [
                ...damage,
                {
                  at_m: unknown("not measured"),
                  takes_m: unknown("not measured"),
                  use: "knot passed",
                  as_now: "unknown",
                  note: "",
                },
              ]),
            )
          }
        >
          <Plus size={14} className="inline" /> add
        </button>
      </div>
      {damage.map((d, i) => (
        <div key={i} className="mt-1 grid grid-cols-[1fr_1fr_2rem] items-end gap-x-3 gap-y-1">
          <SurveyField
            label="from end A"
            path={[...at, i, "at_m"]}
            figure={d.at_m}
            quantity="length"
            why="not measured"
          />
          <SurveyField
            label="rope it takes"
            path={[...at, i, "takes_m"]}
            figure={d.takes_m}
            quantity="length"
            why="not measured"
          />
          <button
            type="button"
            className="act plain px-1"
            aria-label="remove this damage"
            onClick={() =>
              edit(
                setAt(
                  at,
                  damage.filter((_, j) => j !== i),
                ),
              )
            }
          >
            <Trash2 size={15} />
          </button>
          <ChoiceField
            label="used"
            path={[...at, i, "use"]}
            value={d.use ?? "knot passed"}
            choices={[
              { value: "knot passed", label: "past a knot that isolates it" },
              { value: "longest sound piece", label: "only as its longest sound piece" },
              { value: "cut off", label: "cut off there" },
            ]}
          />
          <label className="block">
            <span className="quiet block text-xs">what</span>
            <Typed
              label="what the damage is"
              value={d.note ?? ""}
              className="w-full"
              onCommit={(v) => edit(setAt([...at, i, "note"], v))}
            />
          </label>
          <span />
          {r.wet_since_measured !== "no" && (
            <div className="col-span-2">
              <ChoiceField
                label="measured in the rope as it is now"
                path={[...at, i, "as_now"]}
                value={d.as_now ?? "unknown"}
                choices={["yes", "no", "unknown"]}
              />
            </div>
          )}
        </div>
      ))}
    </div>
  );
}
