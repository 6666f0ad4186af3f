// What the station is tied to, and how: a post, several points, two posts, an anchor whose strength somebody gives,
// ice.

import { rigAs } from "../../state/copied";
import { known, setAt, unknown } from "../../state/edits";
import type { Drop, DropAssessment, Feature, Plan, Rig } from "../../state/model";
import { useSession } from "../../state/plan";
import { useWhich } from "../../state/which";
import { At, ChoiceField, Choose, FigureField, type Path, SurveyField, TextField } from "../../ui/fields";
import { Called, PostForm, RatedForm, turned } from "./Features";
import { IceForm } from "./Ice";
import { Links } from "./Links";
import { SeveralForm } from "./Several";
import { rigOf } from "./tied";

const KINDS = [
  { value: "none", label: "not chosen yet" },
  { value: "wrap", label: "a post" },
  { value: "several", label: "several points" },
  { value: "two posts", label: "two posts, one loop" },
  { value: "direct", label: "a rated anchor" },
  { value: "ice", label: "an ice thread" },
  { value: "round", label: "rope straight round a post" },
];

const PATTERNS = [
  { value: "simple wrap", label: "simple wrap, ring free" },
  { value: "simple wrap, overhand", label: "simple wrap, overhand at the focal point" },
  { value: "frost knot", label: "frost knot" },
  { value: "wrap two, pull one", label: "wrap two, pull one" },
  { value: "wrap three, pull two", label: "wrap three, pull two" },
  { value: "redundant wrap two, pull one", label: "redundant wrap two, pull one" },
  { value: "redundant wrap, quick tie", label: "redundant wrap, quick tie" },
  { value: "basket", label: "basket of a tied loop" },
  { value: "redundant basket", label: "redundant basket" },
  { value: "girth hitch", label: "girth hitch of a loop" },
  { value: "threaded eye", label: "threaded-eye girth" },
  { value: "re-threaded overhand", label: "re-threaded overhand, extended" },
];
const BEND_CHOSEN = ["simple wrap", "simple wrap, overhand", "basket"];

/** What every part of the form is about. */
interface Part<R extends Rig = Rig> {
  rig: R;
  rigAt: Path;
  at: Path;
  features: readonly Feature[];
}
type Wrapped = Extract<Rig, { kind: "wrap" }>;
type Direct = Extract<Rig, { kind: "direct" }>;
type TwoPosts = Extract<Rig, { kind: "two posts" }>;
type PostAt = { post: Extract<Feature, { kind: "post" }>; postAt: Path };

export function Anchor({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const { plan, edit } = useSession();
  const which = useWhich();
  const at: Path = ["drops", `#${drop.id}`, "station"];
  const rigAt: Path = [...at, "states", which, "rig"];
  const rig = drop.station.states[0]!.rig;
  const features = (drop.station.features ?? []) as readonly Feature[];
  const choose = (kind: string) => {
    const next = rigOf(kind, plan, drop, features);
    edit(setAt([...at, "features"], next.features), setAt(rigAt, next.rig));
  };
  const drops = plan.drops ?? [];
  const above = drops[drops.findIndex((d) => d.id === drop.id) - 1];
  const feature = features.find((f) =>
    rig.kind === "wrap" ? f.id === rig.post : rig.kind === "direct" && f.id === rig.anchor,
  );
  const others = features.filter((f) => f.kind === (feature?.kind ?? "")).map((f) => ({ value: f.id, label: f.name }));
  return (
    <div className="grid min-w-0 grow grid-cols-3 content-start gap-x-4 gap-y-2">
      <At path={[...rigAt, "kind"]}>
        <Choose label="tied to" value={kindOf(rig, feature)} choices={KINDS} onChange={choose} />
      </At>
      {rig.kind === "none" && above && (
        <button
          type="button"
          className="act col-span-2 self-end justify-self-start"
          title="how it is tied and roped; what is there to tie to is still to be measured and judged"
          onClick={() => edit(rigAs(drop, above))}
        >
          Rig as above, at {above.name}
        </button>
      )}
      {feature && <Called feature={feature} at={at} />}
      {others.length > 1 && (
        <ChoiceField
          label="which"
          path={[...rigAt, rig.kind === "wrap" ? "post" : "anchor"]}
          value={feature!.id}
          choices={others}
        />
      )}
      <Tied part={{ rig, rigAt, at, features }} feature={feature} a={a} />
      {rig.kind !== "none" && (
        <>
          <Links rig={rig} at={rigAt} />
          <Hanging drop={drop} at={at} />
        </>
      )}
      <Lacking rig={rig} plan={plan} />
    </div>
  );
}

/** What a rig is called among the kinds. */
function kindOf(rig: Rig, feature: Feature | undefined): string {
  if (rig.kind !== "direct") return rig.kind;
  return feature?.kind === "ice thread" ? "ice" : feature?.kind === "post" ? "round" : rig.kind;
}

/** The form of whatever the station is tied to. */
function Tied({ part, feature, a }: { part: Part; feature: Feature | undefined; a: DropAssessment }) {
  const { rig, rigAt, at, features } = part;
  const featureAt: Path = [...at, "features", `#${feature?.id ?? ""}`];
  if (rig.kind === "several")
    return <SeveralForm rig={rig} rigAt={rigAt} at={at} features={features} several={a.several} />;
  if (rig.kind === "two posts") return <TwoPostsForm {...part} rig={rig} />;
  if (rig.kind === "wrap" && feature?.kind === "post")
    return <WrapForm rig={rig} rigAt={rigAt} post={feature} postAt={featureAt} />;
  if (rig.kind !== "direct" || !feature) return null;
  if (feature.kind === "ice thread")
    return <IceForm feature={feature} at={featureAt} rig={rig} rigAt={rigAt} ice={a.ice} />;
  if (feature.kind === "rated") return <RatedRig rig={rig} rigAt={rigAt} feature={feature} featureAt={featureAt} />;
  return (
    <>
      <KindOfPost post={feature} postAt={featureAt} />
      <Girth post={feature} postAt={featureAt} />
      <PostForm post={feature} at={featureAt} />
      <p className="quiet col-span-3 text-xs">
        The rope runs round it without a ring: it rubs far more, and the bark suffers.
      </p>
    </>
  );
}

/** What the shed lacks for it. */
function Lacking({ rig, plan }: { rig: Rig; plan: Plan }) {
  const textile = [...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])];
  const lacks = [
    ...(rig.kind !== "none" && (plan.shed.rings ?? []).length === 0 ? ["ring"] : []),
    ...(rig.kind === "wrap" && textile.length === 0 ? ["webbing"] : []),
  ];
  return lacks.map((what) => (
    <p key={what} className="sev-Not-checked col-span-3 text-xs">
      There is no {what} in the shed yet.
    </p>
  ));
}

function KindOfPost({ post, postAt, label = "kind of post" }: PostAt & { label?: string }) {
  const { edit } = useSession();
  return (
    <Choose
      label={label}
      value={post.what}
      choices={["tree", "boulder", "horn", "pillar"]}
      onChange={(v) => edit(...turned(postAt, post, v))}
    />
  );
}

function Girth({ post, postAt, label = "girth" }: PostAt & { label?: string }) {
  return (
    <SurveyField
      className="col-span-2"
      label={label}
      path={[...postAt, "girth_m"]}
      figure={post.girth_m}
      quantity="length"
      why="not measured"
    />
  );
}

function WrapForm({ rig, rigAt, post, postAt }: PostAt & { rig: Wrapped; rigAt: Path }) {
  const { plan } = useSession();
  const either = [...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])];
  return (
    <>
      <KindOfPost post={post} postAt={postAt} />
      <ChoiceField
        label="pattern"
        path={[...rigAt, "pattern"]}
        value={rig.pattern}
        choices={PATTERNS}
        className="col-span-2"
      />
      {BEND_CHOSEN.includes(rig.pattern) && (
        <ChoiceField
          label="webbing's bend sits"
          path={[...rigAt, "bend_at"]}
          value={rig.bend_at}
          choices={[
            { value: "back", label: "at the back" },
            { value: "side", label: "at the side" },
            { value: "leg", label: "in a leg" },
          ]}
        />
      )}
      <Girth post={post} postAt={postAt} />
      <FigureField
        label="focal point, from post"
        path={[...rigAt, "gain_m"]}
        figure={rig.gain_m}
        quantity="length"
        why="not decided"
      />
      {rig.pattern === "re-threaded overhand" && (
        <FigureField
          label="extension, to the ring"
          path={[...rigAt, "extension_m"]}
          figure={rig.extension_m ?? unknown("no extension")}
          quantity="length"
          why="not decided"
        />
      )}
      <ChoiceField
        label="webbing or sewn sling"
        path={[...rigAt, "webbing"]}
        value={rig.webbing}
        choices={either.map((w) => ({ value: w.id, label: w.name }))}
      />
      <PostForm post={post} at={postAt} />
    </>
  );
}

function RatedRig({
  rig,
  rigAt,
  feature,
  featureAt,
}: {
  rig: Direct;
  rigAt: Path;
  feature: Extract<Feature, { kind: "rated" }>;
  featureAt: Path;
}) {
  const { plan, edit } = useSession();
  const rings = plan.shed.rings ?? [];
  return (
    <>
      {(feature.what === "textile" || feature.what === "thread") && (
        <>
          <ChoiceField
            label="the rope runs through"
            path={[...rigAt, "ring"]}
            value={rig.ring ?? ""}
            choices={rings.map((r) => ({ value: r.id, label: r.name }))}
          />
          <label className="flex items-center gap-1.5 self-end pb-1.5">
            <input
              type="checkbox"
              className="size-4 accent-[var(--color-accent)]"
              checked={rig.ring === null}
              onChange={() => edit(setAt([...rigAt, "ring"], rig.ring === null ? (rings[0]?.id ?? "none") : null))}
            />
            rope straight through the textile
          </label>
        </>
      )}
      <RatedForm feature={feature} at={featureAt} />
      <FigureField
        label={rig.links?.length ? "first link, from the anchor" : "ring, from the anchor"}
        path={[...rigAt, "gain_m"]}
        figure={rig.gain_m}
        quantity="length"
        why="not decided"
      />
    </>
  );
}

function TwoPostsForm({ rig, rigAt, at, features }: Part<TwoPosts>) {
  const { plan } = useSession();
  const cut = (plan.shed.webbing ?? []).map((w) => ({ value: w.id, label: w.name }));
  return (
    <>
      <FigureField
        label="angle between the posts' lines"
        path={[...rigAt, "angle_deg"]}
        figure={rig.angle_deg}
        quantity="degrees"
        why="not measured"
      />
      <ChoiceField label="webbing" path={[...rigAt, "webbing"]} value={rig.webbing} choices={cut} />
      <FigureField
        label="the load swings ±"
        path={[...rigAt, "swing_deg"]}
        figure={rig.swing_deg ?? known(15, "given")}
        quantity="degrees"
        why="unknown"
      />
      {(["first", "second"] as const).map((n) => {
        const post = features.find((f) => f.id === rig[n]);
        if (post?.kind !== "post")
          return (
            <p key={n} className="sev-Not-checked col-span-3 text-xs">
              The {n} post is not there.
            </p>
          );
        const postAt: Path = [...at, "features", `#${post.id}`];
        return (
          <div key={n} className="rule-t col-span-3 grid grid-cols-3 gap-x-4 gap-y-2 pt-2">
            <TextField label={`${n} post`} path={[...postAt, "name"]} value={post.name} />
            <KindOfPost post={post} postAt={postAt} label={`kind of ${n} post`} />
            <FigureField
              label="focal point, from it"
              path={[...rigAt, `${n}_gain_m`]}
              figure={n === "first" ? rig.first_gain_m : rig.second_gain_m}
              quantity="length"
              why="not decided"
            />
            <Girth post={post} postAt={postAt} label={`girth of ${n} post`} />
            <PostForm post={post} at={postAt} which={n} />
          </div>
        );
      })}
    </>
  );
}

/** Who hangs from the anchor besides the rider. */
function Hanging({ drop, at }: { drop: Drop; at: Path }) {
  const { plan, edit, view } = useSession();
  const hanging = drop.station.hanging ?? [];
  const people = plan.party ?? [];
  const gone = hanging.filter((id) => !people.some((p) => p.id === id));
  if (people.length < 2 && hanging.length === 0 && (drop.station.together ?? "no") === "no") return null;
  const hangs = view.assessment.drops.find((d) => d.id === drop.id)?.hangs;
  const named = people.filter((p) => hangs?.who.includes(p.id)).map((p) => p.name);
  const all = named.length === people.length;
  return (
    <>
      {named.length > 1 && (
        <p className="col-span-3 text-[13px]" data-testid="all-hang">
          {all ? `All ${named.length}` : named.join(", ")} hang here at once
          {hangs?.act ? `, from act ${hangs.act} on.` : ": the drop above ends at a hanging stance."}
        </p>
      )}
      <At path={[...at, "hanging"]}>
        <fieldset
          hidden={all && hanging.length === 0}
          className="col-span-3 flex flex-wrap items-center gap-x-4 text-[13px]"
        >
          <legend className="quiet float-left mr-3 text-xs">hang at the station while somebody rides</legend>
          {[...people, ...gone.map((id) => ({ id, name: "somebody who is not in the party" }))].map((p) => (
            <label key={p.id} className="flex min-h-7 items-center gap-1">
              <input
                type="checkbox"
                className="size-4 accent-[var(--color-accent)]"
                checked={hanging.includes(p.id)}
                onChange={() =>
                  edit(
                    setAt(
                      [...at, "hanging"],
                      hanging.includes(p.id) ? hanging.filter((x) => x !== p.id) : [...hanging, p.id],
                    ),
                  )
                }
              />
              {p.name}
            </label>
          ))}
        </fieldset>
      </At>
      <ChoiceField
        className="col-span-2"
        label="two ride at once"
        path={[...at, "together"]}
        value={drop.station.together ?? "no"}
        choices={[
          { value: "no", label: "no, one after the other" },
          { value: "one strand", label: "both on one strand" },
          { value: "own strands", label: "each on a strand of their own" },
        ]}
      />
    </>
  );
}
