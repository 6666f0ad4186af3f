// What the station is tied to, and how: a post, several points, two posts, an anchor whose strength somebody gives,
// ice.

import { rigAs } from "../../state/copied";
import { freshId, known, setAt, unknown } from "../../state/edits";
import type { Drop, DropAssessment, Feature, IceThread, Plan, Rig } from "../../state/model";
import { useSession } from "../../state/plan";
import { useWhich } from "../../state/which";
import { At, ChoiceField, Choose, FigureField, type Path, SurveyField, TextField } from "../../ui/fields";
import { Called, newPost, newRated, PostForm, RatedForm, turned } from "./Features";
import { IceForm } from "./Ice";
import { Links } from "./Links";
import { SeveralForm } from "./Several";

const KINDS = [
  { value: "none", label: "not chosen yet" },
  { value: "wrap", label: "a post" },
  { value: "several", label: "several points" },
  { value: "two posts", label: "two posts, one loop" },
  { value: "direct", label: "a rated anchor" },
  { value: "ice", label: "an ice thread" },
  { value: "round", label: "rope straight round a post" },
];

function newIce(features: readonly Feature[], cord: string | undefined): IceThread {
  return {
    kind: "ice thread",
    id: freshId("ice-", features),
    name: "ice thread",
    screw_m: known(0.21, "given"),
    spacing_m: known(0.21, "eye"),
    first_deg: known(60, "given"),
    second_deg: known(60, "given"),
    ice: "unknown",
    wet_cold: "unknown",
    cord: cord ?? null,
    closed_by: "usual",
    in_place: "no",
    seen_whole: "unknown",
    backed_up: "unknown",
  };
}

/** The rig of another kind, on what the station has already or on something new. */
function rigOf(kind: string, plan: Plan, old: readonly Feature[]): { rig: Rig; features: Feature[] } {
  const features = [...old];
  const ring = plan.shed.rings?.[0]?.id ?? "none";
  const webbing = plan.shed.webbing?.[0]?.id ?? "none";
  const rest = { ring, links: [], ring_loaded: "unknown" as const };
  const take = <T extends Feature>(found: T | undefined, make: () => T): T => {
    if (found) return found;
    const made = make();
    features.push(made);
    return made;
  };
  const posts = features.filter((f) => f.kind === "post");
  const rated = features.filter((f) => f.kind === "rated");
  if (kind === "wrap") {
    const post = take(posts[0], () => newPost(features));
    const knotted = plan.policies?.focal === "knotted";
    return {
      features,
      rig: {
        kind: "wrap",
        post: post.id,
        pattern: knotted ? "simple wrap, overhand" : "simple wrap",
        webbing,
        gain_m: known(0.6, "given"),
        bend_at: plan.policies?.bend === "in view" ? "leg" : "back",
        extension_m: unknown("no extension"),
        ...rest,
      },
    };
  }
  if (kind === "direct") {
    const anchor = take(rated[0], () => newRated(features));
    return { features, rig: { kind: "direct", anchor: anchor.id, gain_m: known(0.2, "given"), ...rest } };
  }
  if (kind === "round") {
    const post = take(posts[0], () => newPost(features, "tree"));
    return { features, rig: { kind: "direct", anchor: post.id, gain_m: known(0.05, "given"), ...rest, ring: null } };
  }
  if (kind === "ice") {
    const cord = plan.shed.ropes?.find((r) => r.kind === "pull cord")?.id;
    const thread = take(
      features.find((f) => f.kind === "ice thread"),
      () => newIce(features, cord),
    );
    return { features, rig: { kind: "direct", anchor: thread.id, gain_m: known(0.1, "given"), ...rest, ring: null } };
  }
  if (kind === "two posts") {
    const first = take(posts[0], () => newPost(features, "first post"));
    const second = take(posts[1], () => newPost(features, "second post"));
    return {
      features,
      rig: {
        kind: "two posts",
        first: first.id,
        second: second.id,
        webbing,
        first_gain_m: known(0.6, "given"),
        second_gain_m: known(0.6, "given"),
        angle_deg: unknown("not measured"),
        swing_deg: known(15, "given"),
        ...rest,
      },
    };
  }
  if (kind === "several") {
    const a = take(rated[0], () => newRated(features, "left point"));
    const b = take(rated[1], () => newRated(features, "right point"));
    const leg = (id: string, anchor: string, aside: number) => ({
      id,
      anchor,
      of: webbing,
      closed_by: "usual" as const,
      lies: "unknown" as const,
      out_m: known(0, "eye"),
      aside_m: known(aside, "eye"),
      up_m: known(0, "eye"),
    });
    return {
      features,
      rig: {
        kind: "several",
        legs: [leg("l1", a.id, 0.2), leg("l2", b.id, -0.2)],
        focal: "knotted",
        knot: "overhand",
        slack_m: unknown("no limiting knots"),
        out_m: known(0.6, "given"),
        aside_m: known(0, "given"),
        up_m: known(0, "given"),
        down_deg: unknown("as the rope runs"),
        aside_deg: known(0, "given"),
        swing_deg: known(15, "given"),
        ...rest,
      },
    };
  }
  return { features, rig: { kind: "none" } };
}

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

export function Anchor({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const { plan, edit } = useSession();
  const which = useWhich();
  const at: Path = ["drops", `#${drop.id}`, "station"];
  const rigAt: Path = [...at, "states", which, "rig"];
  const rig = drop.station.states[0]!.rig;
  const features = (drop.station.features ?? []) as readonly Feature[];
  const choose = (kind: string) => {
    const next = rigOf(kind, plan, features);
    edit(setAt([...at, "features"], next.features), setAt(rigAt, next.rig));
  };
  const drops = plan.drops ?? [];
  const above = drops[drops.findIndex((d) => d.id === drop.id) - 1];
  const rings = plan.shed.rings ?? [];
  const cut = (plan.shed.webbing ?? []).map((w) => ({ value: w.id, label: w.name }));
  const either = [...cut, ...(plan.shed.slings ?? []).map((w) => ({ value: w.id, label: w.name }))];
  const feature = features.find((f) =>
    rig.kind === "wrap" ? f.id === rig.post : rig.kind === "direct" && f.id === rig.anchor,
  );
  const featureAt: Path = [...at, "features", `#${feature?.id ?? ""}`];
  const others = features.filter((f) => f.kind === (feature?.kind ?? "")).map((f) => ({ value: f.id, label: f.name }));
  const value =
    rig.kind === "direct" && feature?.kind === "ice thread"
      ? "ice"
      : rig.kind === "direct" && feature?.kind === "post"
        ? "round"
        : rig.kind;
  return (
    <div className="grid min-w-0 grow grid-cols-3 content-start gap-x-4 gap-y-2">
      <At path={[...rigAt, "kind"]}>
        <Choose label="tied to" value={value} choices={KINDS} onChange={choose} />
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
      {feature?.kind === "post" && rig.kind === "wrap" && (
        <>
          <Choose
            label="kind of post"
            value={feature.what}
            choices={["tree", "boulder", "horn", "pillar"]}
            onChange={(v) => edit(...turned(featureAt, feature, v))}
          />
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
          <SurveyField
            className="col-span-2"
            label="girth"
            path={[...featureAt, "girth_m"]}
            figure={feature.girth_m}
            quantity="length"
            why="not measured"
          />
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
            choices={either}
          />
          <PostForm post={feature} at={featureAt} />
        </>
      )}
      {rig.kind === "direct" && feature?.kind === "post" && (
        <>
          <Choose
            label="kind of post"
            value={feature.what}
            choices={["tree", "boulder", "horn", "pillar"]}
            onChange={(v) => edit(...turned(featureAt, feature, v))}
          />
          <SurveyField
            className="col-span-2"
            label="girth"
            path={[...featureAt, "girth_m"]}
            figure={feature.girth_m}
            quantity="length"
            why="not measured"
          />
          <PostForm post={feature} at={featureAt} />
          <p className="quiet col-span-3 text-xs">
            The rope runs round it without a ring: it rubs far more, and the bark suffers.
          </p>
        </>
      )}
      {rig.kind === "direct" && feature?.kind === "rated" && (
        <>
          {(feature.what === "textile" || feature.what === "thread") && (
            <ChoiceField
              label="the rope runs through"
              path={[...rigAt, "ring"]}
              value={rig.ring ?? ""}
              choices={[...rings.map((r) => ({ value: r.id, label: r.name }))]}
            />
          )}
          {(feature.what === "textile" || feature.what === "thread") && (
            <label className="flex items-center gap-1.5 self-end pb-1.5">
              <input
                type="checkbox"
                className="size-4 accent-[var(--color-accent)]"
                checked={rig.ring === null}
                onChange={() => edit(setAt([...rigAt, "ring"], rig.ring === null ? (rings[0]?.id ?? "none") : null))}
              />
              rope straight through the textile
            </label>
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
      )}
      {rig.kind === "direct" && feature?.kind === "ice thread" && (
        <IceForm feature={feature} at={featureAt} rig={rig} rigAt={rigAt} ice={a.ice} />
      )}
      {rig.kind === "several" && (
        <SeveralForm rig={rig} rigAt={rigAt} at={at} features={features} several={a.several} />
      )}
      {rig.kind === "two posts" && (
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
                <Choose
                  label={`kind of ${n} post`}
                  value={post.what}
                  choices={["tree", "boulder", "horn", "pillar"]}
                  onChange={(v) => edit(...turned(postAt, post, v))}
                />
                <FigureField
                  label="focal point, from it"
                  path={[...rigAt, `${n}_gain_m`]}
                  figure={n === "first" ? rig.first_gain_m : rig.second_gain_m}
                  quantity="length"
                  why="not decided"
                />
                <SurveyField
                  className="col-span-2"
                  label={`girth of ${n} post`}
                  path={[...postAt, "girth_m"]}
                  figure={post.girth_m}
                  quantity="length"
                  why="not measured"
                />
                <PostForm post={post} at={postAt} which={n} />
              </div>
            );
          })}
        </>
      )}
      {rig.kind !== "none" && <Links rig={rig} at={rigAt} />}
      {rig.kind !== "none" && <Hanging drop={drop} at={at} />}
      {rig.kind !== "none" && rings.length === 0 && (
        <p className="sev-Not-checked col-span-3 text-xs">There is no ring in the shed yet.</p>
      )}
      {rig.kind === "wrap" && either.length === 0 && (
        <p className="sev-Not-checked col-span-3 text-xs">There is no webbing in the shed yet.</p>
      )}
    </div>
  );
}

/** Who hangs from the anchor besides the rider. */
function Hanging({ drop, at }: { drop: Drop; at: Path }) {
  const { plan, edit, view } = useSession();
  const hanging = drop.station.hanging ?? [];
  const people = plan.party ?? [];
  if (people.length < 2) return null;
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
          {people.map((p) => (
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
