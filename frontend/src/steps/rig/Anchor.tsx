// What the station is tied to, and how: a post with webbing round it, or an anchor whose strength somebody gives.
import { known, setAt, unknown } from "../../state/edits";
import type { Drop, DropAssessment, Feature, Plan, Rig } from "../../state/model";
import { useSession } from "../../state/plan";
import { SHARPNESS } from "../survey/Survey";
import { BenchView } from "./Bench";
import { Links } from "./Links";
import { CapacityField, ChoiceField, Choose, FigureField, type Path, SurveyField, TextField } from "../../ui/fields";

const KINDS = [
  { value: "none", label: "not chosen yet" }, { value: "wrap", label: "a post" }, { value: "direct", label: "a rated anchor" },
];

function rigOf(kind: string, plan: Plan, features: readonly Feature[]): { rig: Rig; features: Feature[] } {
  const ring = plan.shed.rings?.[0]?.id ?? "none";
  if (kind === "wrap") {
    const post = features.find((f) => f.kind === "post") ?? {
      kind: "post" as const, id: "post", name: "boulder", what: "boulder" as const, girth_m: unknown("not measured"), surface: "rock" as const, sharpness: "unknown" as const, holds: unknown("nobody has judged it"),
    };
    return {
      features: [...features.filter((f) => f.id !== post.id), post],
      rig: { kind: "wrap", post: post.id, pattern: plan.policies?.focal === "knotted" ? "simple wrap, overhand" : "simple wrap", webbing: plan.shed.webbing?.[0]?.id ?? "none", ring, gain_m: known(0.6, "given"), bend_at: plan.policies?.bend === "in view" ? "leg" : "back", extension_m: unknown("no extension"), links: [], ring_loaded: "long axis" },
    };
  }
  if (kind === "direct") {
    const anchor = features.find((f) => f.kind === "rated") ?? { kind: "rated" as const, id: "anchor", name: "anchor in place", in_place: "yes" as const, holds: unknown("not tested, not inspected") };
    return { features: [...features.filter((f) => f.id !== anchor.id), anchor], rig: { kind: "direct", anchor: anchor.id, ring, gain_m: known(0.2, "given"), links: [], ring_loaded: "long axis" } };
  }
  return { features: [...features], rig: { kind: "none" } };
}

const PATTERNS = [
  { value: "simple wrap", label: "simple wrap, ring free" }, { value: "simple wrap, overhand", label: "simple wrap, overhand at the focal point" },
  { value: "frost knot", label: "frost knot" }, { value: "wrap two, pull one", label: "wrap two, pull one" },
  { value: "wrap three, pull two", label: "wrap three, pull two" }, { value: "redundant wrap two, pull one", label: "redundant wrap two, pull one" },
  { value: "redundant wrap, quick tie", label: "redundant wrap, quick tie" }, { value: "basket", label: "basket of a tied loop" },
  { value: "redundant basket", label: "redundant basket" }, { value: "girth hitch", label: "girth hitch of a loop" },
  { value: "threaded eye", label: "threaded-eye girth" }, { value: "re-threaded overhand", label: "re-threaded overhand, extended" },
];
const BEND_CHOSEN = ["simple wrap", "simple wrap, overhand", "basket"];

export function Anchor({ drop, a, index }: { drop: Drop; a: DropAssessment; index: number }) {
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
  const webbing = [...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])].map((w) => ({ value: w.id, label: w.name }));
  const feature = features.find((f) => (rig.kind === "wrap" ? f.id === rig.post : rig.kind === "direct" && f.id === rig.anchor));
  const featureAt: Path = [...at, "features", `#${feature?.id ?? ""}`];
  return (
    <div className="flex gap-4"><div className="grid min-w-0 grow grid-cols-3 content-start gap-x-4 gap-y-2">
      <Choose label="tied to" value={rig.kind} choices={KINDS} onChange={choose} />
      {feature && <TextField label="called" path={[...featureAt, "name"]} value={feature.name} />}
      {feature?.kind === "post" && rig.kind === "wrap" && (
        <>
          <Choose label="kind of post" value={feature.what} choices={["tree", "boulder", "horn", "pillar"]}
            onChange={(v) => edit(setAt([...featureAt, "what"], v), setAt([...featureAt, "surface"], v === "tree" ? "bark" : "rock"))} />
          <ChoiceField label="its surface is" path={[...featureAt, "sharpness"]} value={feature.sharpness ?? "unknown"} choices={SHARPNESS} />
          <ChoiceField label="pattern" path={[...rigAt, "pattern"]} value={rig.pattern} choices={PATTERNS} className="col-span-2" />
          {BEND_CHOSEN.includes(rig.pattern) && <ChoiceField label="webbing's bend sits" path={[...rigAt, "bend_at"]} value={rig.bend_at} choices={[{ value: "back", label: "at the back" }, { value: "side", label: "at the side" }, { value: "leg", label: "in a leg" }]} />}
          <SurveyField className="col-span-2" label="girth" path={[...featureAt, "girth_m"]} figure={feature.girth_m} quantity="length" why="not measured" />
          <FigureField label="focal point, from post" path={[...rigAt, "gain_m"]} figure={rig.gain_m} quantity="length" why="not decided" />
          {rig.pattern === "re-threaded overhand" && <FigureField label="extension, to the ring" path={[...rigAt, "extension_m"]} figure={rig.extension_m ?? unknown("no extension")} quantity="length" why="not decided" />}
          <ChoiceField label="webbing or sewn sling" path={[...rigAt, "webbing"]} value={rig.webbing} choices={webbing} />
        </>
      )}
      {rig.kind === "direct" && (
        <>
          {feature?.kind === "rated" && <ChoiceField label="found in place" path={[...featureAt, "in_place"]} value={feature.in_place ?? "unknown"} choices={["yes", "no", "unknown"]} />}
          <FigureField label={rig.links?.length ? "first link, from the anchor" : "ring, from the anchor"} path={[...rigAt, "gain_m"]} figure={rig.gain_m} quantity="length" why="not decided" />
        </>
      )}
      {feature && (
        <CapacityField className="col-span-3" label={feature.kind === "post" ? "what the post itself holds: your own judgement, low and high, and why" : "what the anchor holds, and by whom it is given"}
          path={[...featureAt, "holds"]} capacity={feature.holds} />
      )}
      {rig.kind !== "none" && <Links rig={rig} at={rigAt} />}
      {rig.kind !== "none" && rings.length === 0 && <p className="sev-Not-checked col-span-3 text-xs">There is no ring in the shed yet.</p>}
      {rig.kind === "wrap" && webbing.length === 0 && <p className="sev-Not-checked col-span-3 text-xs">There is no webbing in the shed yet.</p>}
    </div>
    {rig.kind === "wrap" && <BenchView a={a} drop={drop} index={index} />}
    </div>
  );
}
