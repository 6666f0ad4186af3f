// What the station is tied to, and how: a post with a simple wrap, or an anchor whose strength somebody gives.
import { known, setAt, unknown } from "../../state/edits";
import type { Drop, Feature, Plan, Rig, Webbing } from "../../state/model";
import { useSession } from "../../state/plan";
import { CapacityField, ChoiceField, Choose, FigureField, type Path, SurveyField, TextField } from "../../ui/fields";

const KINDS = [
  { value: "none", label: "not chosen yet" }, { value: "wrap", label: "a post, simple wrap" }, { value: "direct", label: "a rated anchor" },
];

function rigOf(kind: string, plan: Plan, features: readonly Feature[]): { rig: Rig; features: Feature[] } {
  const ring = plan.shed.rings?.[0]?.id ?? "none";
  if (kind === "wrap") {
    const post = features.find((f) => f.kind === "post") ?? {
      kind: "post" as const, id: "post", name: "boulder", what: "boulder" as const, girth_m: unknown("not measured"), surface: "rock" as const, holds: unknown("nobody has judged it"),
    };
    return {
      features: [...features.filter((f) => f.id !== post.id), post],
      rig: { kind: "wrap", post: post.id, pattern: "simple wrap", webbing: plan.shed.webbing?.[0]?.id ?? "none", ring, gain_m: known(0.6, "given"), bend_at: "back" },
    };
  }
  if (kind === "direct") {
    const anchor = features.find((f) => f.kind === "rated") ?? { kind: "rated" as const, id: "anchor", name: "anchor in place", holds: unknown("not tested, not inspected") };
    return { features: [...features.filter((f) => f.id !== anchor.id), anchor], rig: { kind: "direct", anchor: anchor.id, ring, gain_m: known(0.2, "given") } };
  }
  return { features: [...features], rig: { kind: "none" } };
}

export function Anchor({ drop }: { drop: Drop }) {
  const { plan, edit } = useSession();
  const at: Path = ["drops", `#${drop.id}`, "station"];
  const rigAt: Path = [...at, "states", 0, "rig"];
  const rig = drop.station.states[0]!.rig;
  const features = drop.station.features ?? [];
  const choose = (kind: string) => {
    const next = rigOf(kind, plan, features);
    edit(setAt([...at, "features"], next.features), setAt(rigAt, next.rig));
  };
  const rings = (plan.shed.rings ?? []).map((r) => ({ value: r.id, label: r.name }));
  const webbing = (plan.shed.webbing ?? []).map((w: Webbing) => ({ value: w.id, label: w.name }));
  const feature = features.find((f) => (rig.kind === "wrap" ? f.id === rig.post : rig.kind === "direct" && f.id === rig.anchor));
  const featureAt: Path = [...at, "features", `#${feature?.id ?? ""}`];
  return (
    <div className="grid grid-cols-[1.35fr_1fr_1fr_1fr] gap-x-4 gap-y-2">
      <Choose label="tied to" value={rig.kind} choices={KINDS} onChange={choose} />
      {feature && <TextField label="what it is called" path={[...featureAt, "name"]} value={feature.name} />}
      {feature?.kind === "post" && rig.kind === "wrap" && (
        <>
          <Choose label="kind of post" value={feature.what} choices={["tree", "boulder", "horn", "pillar"]}
            onChange={(v) => edit(setAt([...featureAt, "what"], v), setAt([...featureAt, "surface"], v === "tree" ? "bark" : "rock"))} />
          <ChoiceField label="webbing's bend sits" path={[...rigAt, "bend_at"]} value={rig.bend_at} choices={[{ value: "back", label: "at the back" }, { value: "side", label: "at the side" }, { value: "leg", label: "in a leg" }]} />
          <SurveyField label="girth" path={[...featureAt, "girth_m"]} figure={feature.girth_m} quantity="length" why="not measured" />
          <FigureField label="ring, from the near face" path={[...rigAt, "gain_m"]} figure={rig.gain_m} quantity="length" why="not decided" />
          <ChoiceField label="webbing" path={[...rigAt, "webbing"]} value={rig.webbing} choices={webbing} />
          <ChoiceField label="ring" path={[...rigAt, "ring"]} value={rig.ring} choices={rings} />
        </>
      )}
      {rig.kind === "direct" && (
        <>
          <FigureField label="ring, from the anchor" path={[...rigAt, "gain_m"]} figure={rig.gain_m} quantity="length" why="not decided" />
          <ChoiceField label="ring" path={[...rigAt, "ring"]} value={rig.ring} choices={rings} />
        </>
      )}
      {feature && (
        <CapacityField className="col-span-4" label={feature.kind === "post" ? "what the post itself holds: your own judgement, low and high, and why" : "what the anchor holds, and by whom it is given"}
          path={[...featureAt, "holds"]} capacity={feature.holds} />
      )}
      {rig.kind !== "none" && rings.length === 0 && <p className="sev-Not-checked col-span-4 text-xs">There is no ring in the shed yet.</p>}
      {rig.kind === "wrap" && webbing.length === 0 && <p className="sev-Not-checked col-span-4 text-xs">There is no webbing in the shed yet.</p>}
    </div>
  );
}
