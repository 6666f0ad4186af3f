// An ice thread: where the two holes meet, what goes through them, and what nobody can compute.

import { setAt } from "../../state/edits";
import type { DropAssessment, IceThread, Rig } from "../../state/model";
import { useSession } from "../../state/plan";
import { ChoiceField, Choose, FigureField, type Path, SurveyField } from "../../ui/fields";
import { Num } from "../../ui/Num";

const TRI = ["yes", "no", "unknown"];

export function IceForm({
  feature: f,
  at,
  rig,
  rigAt,
  ice,
}: {
  feature: IceThread;
  at: Path;
  rig: Extract<Rig, { kind: "direct" }>;
  rigAt: Path;
  ice: DropAssessment["ice"];
}) {
  const { plan, edit } = useSession();
  const cords = (plan.shed.ropes ?? []).map((r) => ({ value: r.id, label: r.name }));
  const rings = (plan.shed.rings ?? []).map((r) => ({ value: r.id, label: `on ${r.name}` }));
  return (
    <>
      <FigureField
        label="screw's usable length"
        path={[...at, "screw_m"]}
        figure={f.screw_m}
        quantity="fine length"
        why="not measured"
      />
      <SurveyField
        label="spacing of the holes"
        path={[...at, "spacing_m"]}
        figure={f.spacing_m}
        quantity="fine length"
        why="not measured"
      />
      <span className="flex gap-2">
        <FigureField
          label="first to surface"
          path={[...at, "first_deg"]}
          figure={f.first_deg}
          quantity="degrees"
          why="not decided"
        />
        <FigureField
          label="second"
          path={[...at, "second_deg"]}
          figure={f.second_deg}
          quantity="degrees"
          why="not decided"
        />
      </span>
      <ChoiceField
        label="the ice is"
        path={[...at, "ice"]}
        value={f.ice ?? "unknown"}
        choices={["solid", "white, aerated", "unknown"]}
      />
      <Choose
        label="through it goes"
        value={f.cord ?? ""}
        choices={[
          { value: "", label: "the rope itself" },
          ...cords.map((c) => ({ ...c, label: `a loop of ${c.label}` })),
        ]}
        onChange={(v) => edit(setAt([...at, "cord"], v || null))}
      />
      <Choose
        label="the rope runs"
        value={rig.ring ?? ""}
        choices={[{ value: "", label: f.cord ? "straight on the cord" : "straight through the ice" }, ...rings]}
        onChange={(v) => edit(setAt([...rigAt, "ring"], v || null))}
      />
      <ChoiceField
        label="wet and cold enough to freeze in"
        path={[...at, "wet_cold"]}
        value={f.wet_cold ?? "unknown"}
        choices={TRI}
      />
      <ChoiceField label="found in place" path={[...at, "in_place"]} value={f.in_place ?? "unknown"} choices={TRI} />
      {f.in_place !== "no" && (
        <ChoiceField
          label="its whole length seen, unworn"
          path={[...at, "seen_whole"]}
          value={f.seen_whole ?? "unknown"}
          choices={TRI}
        />
      )}
      <ChoiceField
        label="backed up by a screw"
        path={[...at, "backed_up"]}
        value={f.backed_up ?? "unknown"}
        choices={[
          { value: "to the rope", label: "to the rope, without slack" },
          { value: "to the rope, slack", label: "to the rope, slack" },
          { value: "to the rope, drawn tight", label: "to the rope, drawn tight" },
          "to the cord",
          "no",
          "unknown",
        ]}
      />
      {f.cord && (
        <ChoiceField
          label="its loop is closed by"
          path={[...at, "closed_by"]}
          value={f.closed_by ?? "usual"}
          choices={[
            { value: "usual", label: "the usual: double fisherman's" },
            "double fisherman's",
            "triple fisherman's",
            "ring bend",
            "overhand",
          ]}
        />
      )}
      <FigureField
        label="from the ice to the rope"
        path={[...rigAt, "gain_m"]}
        figure={rig.gain_m}
        quantity="length"
        why="not decided"
      />
      <div className="col-span-3 flex items-center gap-4">
        {f.first_deg.kind === "known" && f.second_deg.kind === "known" && (
          <Triangle first={f.first_deg.value} second={f.second_deg.value} meets={ice?.meets ?? false} />
        )}
        <p className="text-[13px]">
          {ice?.first && ice.second && ice.depth ? (
            <>
              The holes are <Num n={ice.first} /> and <Num n={ice.second} /> long and meet <Num n={ice.depth} /> deep
              {ice.meets ? "." : <span className="sev-Shortfall">: {ice.why}.</span>}
            </>
          ) : (
            <span className="sev-Not-checked">Not checked: {ice?.why ?? "not entered"}.</span>
          )}
          <span className="quiet block">The strength of ice is not computed.</span>
        </p>
      </div>
    </>
  );
}

/** The two holes in section, at their angles. */
function Triangle({ first, second, meets }: { first: number; second: number; meets: boolean }) {
  const rad = Math.PI / 180;
  const sum = Math.sin((first + second) * rad);
  if (first + second >= 179) return null;
  const a = (90 * Math.sin(second * rad)) / sum;
  const x = a * Math.cos(first * rad);
  const y = a * Math.sin(first * rad);
  const k = Math.min(1, 62 / y, 120 / Math.max(90, x));
  return (
    <svg width={150} height={80} aria-label="the two holes in section" className="shrink-0 rounded bg-[var(--void)]">
      <rect x={0} y={12} width={150} height={68} fill="var(--water)" fillOpacity={0.35} />
      <path
        d={`M${30} 12L${30 + x * k} ${12 + y * k}L${30 + 90 * k} 12`}
        fill="none"
        stroke={meets ? "var(--color-base-content)" : "var(--color-error)"}
        strokeWidth={3}
        strokeLinejoin="round"
        strokeDasharray={meets ? undefined : "5 4"}
      />
    </svg>
  );
}
