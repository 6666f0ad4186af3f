// What each kind of thing in the shed is known by.
import { Plus, Trash2 } from "lucide-react";
import { Swatch } from "../../cutaway/Swatch";
import { freshId, setAt, unknown } from "../../state/edits";
import type { Device, Person, Ring, Rope, RopeAssessment, Sling, Tether, Webbing } from "../../state/model";
import { useSession } from "../../state/plan";
import {
  CapacityField,
  ChoiceField,
  Choose,
  DateField,
  FigureField,
  type Path,
  SurveyField,
  Typed,
} from "../../ui/fields";
import { Num } from "../../ui/Num";

const ROPE_KINDS = ["low-stretch", "dynamic single", "dynamic half", "dynamic twin"];
export const STRIPE_NAMES = ["plain", "dashes", "dots", "bars", "twin line", "long dash"] as const;
const ROPE_FIBRES = ["nylon", "polyester", "HMPE", "aramid", "polypropylene", "unknown"];
const FIBRES = ["nylon", "polyester", "HMPE", "aramid", "unknown"];

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
          <DateField label="measured on" path={[...path, "measured_m", "on"]} value={r.measured_m.on} />
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
        <label className="block">
          <span className="quiet block text-xs">colour</span>
          <input
            type="color"
            className="h-7 w-14 cursor-pointer"
            aria-label="colour"
            value={r.colour ?? "#777777"}
            onChange={(e) => edit(setAt([...path, "colour"], e.target.value))}
          />
        </label>
        <ChoiceField
          label="stripe"
          path={[...path, "stripe"]}
          value={r.stripe ?? "plain"}
          choices={STRIPE_NAMES}
          className="w-32"
        />
        <span className="pb-2">
          <Swatch rope={r} width={140} />
        </span>
      </div>
      <DamageForm r={r} path={path} />
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
                { at_m: unknown("not measured"), takes_m: unknown("not measured"), use: "knot passed", note: "" },
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
        </div>
      ))}
    </div>
  );
}

export function WebbingForm({ w, path }: { w: Webbing; path: Path }) {
  const { edit, view } = useSession();
  const pieces = w.pieces ?? [];
  const at: Path = [...path, "pieces"];
  const used = view.assessment.webbing.find((x) => x.id === w.id);
  return (
    <div>
      <div className="grid grid-cols-2 gap-x-5 gap-y-3">
        <ChoiceField
          label="fibre"
          path={[...path, "fibre"]}
          value={w.fibre}
          choices={["nylon", "polyester", "HMPE", "unknown"]}
        />
        <FigureField
          label="thickness"
          path={[...path, "thickness_mm"]}
          figure={w.thickness_mm}
          quantity="diameter"
          why="not measured"
        />
        <CapacityField
          className="col-span-2"
          label="strength of one strand, unknotted"
          path={[...path, "strength_kn"]}
          capacity={w.strength_kn}
          sources={["label", "P: common practice, no source"]}
        />
        <Colour path={path} value={w.colour ?? "#7a3b6b"} />
      </div>
      <div className="mt-5 flex items-center gap-3">
        <h3 className="text-[13px] font-bold">Pieces as they lie in the shed</h3>
        <button
          type="button"
          className="act plain"
          onClick={() => edit(setAt(at, [...pieces, { id: freshId("p", pieces), length_m: unknown("not measured") }]))}
        >
          <Plus size={14} className="inline" /> add a piece
        </button>
      </div>
      <div className="max-w-xs">
        {pieces.map((p, i) => (
          <div key={p.id} className="flex items-end gap-2">
            <SurveyField
              className="grow"
              label={`piece ${i + 1}`}
              path={[...at, `#${p.id}`, "length_m"]}
              figure={p.length_m}
              quantity="length"
              why="not measured"
            />
            <button
              type="button"
              className="act plain px-1"
              aria-label={`remove piece ${i + 1}`}
              onClick={() =>
                edit(
                  setAt(
                    at,
                    pieces.filter((x) => x.id !== p.id),
                  ),
                )
              }
            >
              <Trash2 size={15} />
            </button>
          </div>
        ))}
      </div>
      {used && used.cuts.length > 0 && (
        <>
          <h3 className="mt-5 text-[13px] font-bold">
            To cut for the whole descent: <Num n={used.total} />
            {used.stock && (
              <>
                {" "}
                of <Num n={used.stock} />
              </>
            )}
          </h3>
          <table className="w-full max-w-md text-[13px]" aria-label="webbing to cut">
            <tbody>
              {used.cuts.map((c) => (
                <tr key={c.drop} className="rule-t">
                  <td className="py-0.5">
                    {c.number} · {c.name}
                  </td>
                  <td className="text-right">
                    <Num n={{ ...c.length, working: "" }} />
                  </td>
                  <td className={`w-32 pl-4 ${c.piece ? "quiet" : "sev-Shortfall font-semibold"}`}>
                    {c.piece ? `from piece ${c.piece}` : "from no piece"}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
          {used.unknown > 0 && (
            <p className="sev-Not-checked mt-1 text-xs">
              What {used.unknown} more station{used.unknown === 1 ? "" : "s"} take is not known.
            </p>
          )}
        </>
      )}
    </div>
  );
}

function Colour({ path, value }: { path: Path; value: string }) {
  const { edit } = useSession();
  return (
    <label className="block">
      <span className="quiet block text-xs">colour</span>
      <input
        type="color"
        className="h-7 w-14 cursor-pointer"
        aria-label="colour"
        value={value}
        onChange={(e) => edit(setAt([...path, "colour"], e.target.value))}
      />
    </label>
  );
}

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

const TETHER_KNOTS = [
  { value: "none", label: "no knot, sewn ends" },
  "overhand",
  "figure eight",
  "bowline on a bight",
  "clove hitch",
  "girth hitch",
];

export function TetherForm({ t, path }: { t: Tether; path: Path }) {
  const { view } = useSession();
  const a = view.assessment.tethers.find((x) => x.id === t.id);
  const rope = t.made_of === "dynamic rope";
  return (
    <div>
      <p className="rule-t rule-b mb-4 py-2 text-[15px]">
        {a?.low && a.high ? (
          <>
            Holds <Num n={a.low} /> to <Num n={a.high} />, with its knot, and wet where a station is.
          </>
        ) : (
          <span className="sev-Not-checked font-semibold">Not checked: {a?.why}</span>
        )}
      </p>
      <div className="grid grid-cols-2 gap-x-5 gap-y-3">
        <ChoiceField
          label="made of"
          path={[...path, "made_of"]}
          value={t.made_of}
          choices={["sewn sling", "dynamic rope"]}
        />
        <ChoiceField label="fibre" path={[...path, "fibre"]} value={t.fibre} choices={FIBRES} />
        <ChoiceField label="knot in it" path={[...path, "knot"]} value={t.knot ?? "none"} choices={TETHER_KNOTS} />
        <ChoiceField
          label="its users stand on it"
          path={[...path, "kept"]}
          value={t.kept ?? "unknown"}
          choices={[
            { value: "tight, below the point", label: "tight, below what it is clipped to" },
            { value: "with slack", label: "with slack" },
            { value: "unknown", label: "nobody has said" },
          ]}
        />
        <SurveyField
          label="length, harness to clip"
          path={[...path, "length_m"]}
          figure={t.length_m ?? unknown("not measured")}
          quantity="fine length"
          why="not measured"
        />
        <CapacityField
          className="col-span-2"
          label={rope ? "breaking strength, unknotted" : "rating of the whole sling"}
          path={[...path, "strength_kn"]}
          capacity={t.strength_kn}
          sources={["label", "label, EN 566"]}
        />
        {rope && (
          <FigureField
            label="impact force on its label"
            path={[...path, "impact_kn"]}
            figure={t.impact_kn ?? unknown("no label figure")}
            quantity="force"
            why="no label figure"
          />
        )}
        {rope && (
          <ChoiceField
            label="rated as"
            path={[...path, "rated"]}
            value={t.rated ?? "single"}
            choices={["single", "half", "twin"]}
          />
        )}
      </div>
      <h3 className="mt-5 text-[13px] font-bold">
        A fall onto it{a?.user ? ` by ${a.user}, the heaviest who uses it` : ""}
      </h3>
      {a && a.falls.length > 0 ? (
        <table className="mt-1 w-80 text-[13px]" aria-label="falls onto the tether">
          <thead>
            <tr className="quiet text-left text-xs">
              <th className="font-normal">fall over its length</th>
              <th className="text-right font-normal">peak force</th>
              <th />
            </tr>
          </thead>
          <tbody>
            {a.falls.map((f) => (
              <tr key={f.factor.value} className="rule-t">
                <td className="py-0.5">{f.factor.value}</td>
                <td className="text-right">
                  <Num n={f.force} />
                </td>
                <td className="sev-Caution pl-3 text-xs">
                  {a.low && f.force.value > a.low.value ? "more than it holds" : ""}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <p className="sev-Not-checked text-xs">Not checked: {a?.why}.</p>
      )}
      <p className="quiet mt-2 max-w-md text-xs">
        Counted with the least stretch its fibre may have. Slings are static: kept tight, the person below what they are
        clipped to.
      </p>
    </div>
  );
}

export function PersonForm({ p, path }: { p: Person; path: Path }) {
  const { plan, edit } = useSession();
  const pick = (label: string, field: "device" | "tether", items: readonly { id: string; name: string }[]) => (
    <Choose
      label={label}
      value={p[field] ?? ""}
      choices={[{ value: "", label: "nobody has said" }, ...items.map((x) => ({ value: x.id, label: x.name }))]}
      onChange={(v) => edit(setAt([...path, field], v || null))}
    />
  );
  return (
    <div className="grid grid-cols-2 gap-x-5 gap-y-3">
      <ChoiceField
        label="role"
        path={[...path, "role"]}
        value={p.role}
        choices={["guide", "second guide", "able", "novice"]}
      />
      <FigureField
        label="weight with clothes, kit and wet pack"
        path={[...path, "mass_kg"]}
        figure={p.mass_kg}
        quantity="mass"
        why="not asked"
      />
      {pick("rides on", "device", plan.shed.devices ?? [])}
      {pick("clips in with", "tether", plan.shed.tethers ?? [])}
    </div>
  );
}
