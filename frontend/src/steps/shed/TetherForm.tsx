// What somebody clips in by, and what a fall would put on it.
import { unknown } from "../../state/edits";
import type { Tether } from "../../state/model";
import { useSession } from "../../state/plan";
import { CapacityField, ChoiceField, FigureField, type Path, SurveyField } from "../../ui/fields";
import { Num } from "../../ui/Num";
import { FIBRES } from "./WebbingForm";

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
              <td />
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
