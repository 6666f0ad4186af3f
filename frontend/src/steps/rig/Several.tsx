// An anchor of several points: what each is, where, what joins it to the focal point, and what of the load it carries.

import { Plus, Trash2 } from "lucide-react";
import { useEffect, useState } from "react";
import { freshId, known, setAt, unknown } from "../../state/edits";
import type { Feature, Leg, Plan, Rig, SeveralView } from "../../state/model";
import { useSession } from "../../state/plan";
import { ChoiceField, Choose, FigureField, type Path } from "../../ui/fields";
import { useWanted } from "../../ui/goto";
import { Num } from "../../ui/Num";
import { TERMS } from "../../ui/terms";
import { Called, newPost, newRated, PostForm, pointAs, RatedForm, turned } from "./Features";
import { LIES } from "./Links";

const FOCAL = [
  { value: "knotted", label: "knotted" },
  { value: "sliding", label: "sliding" },
  { value: "limited", label: "sliding, limiting knots" },
  { value: "clipped", label: "each leg clipped to the ring, no knot" },
];
const CLOSED = [
  { value: "usual", label: "the usual: ring bend, double fisherman's" },
  "ring bend",
  "double fisherman's",
  "triple fisherman's",
  "overhand",
];

type Several = Extract<Rig, { kind: "several" }>;
interface Form {
  rig: Several;
  rigAt: Path;
  at: Path;
  features: readonly Feature[];
  several: SeveralView | null;
}

export function SeveralForm(form: Form) {
  const { rig, rigAt, at, features } = form;
  const { edit } = useSession();
  const [open, setOpen] = useState("");
  const wanted = useWanted();
  // biome-ignore lint/correctness/useExhaustiveDependencies: asked for once, not with every edit
  useEffect(() => {
    const [, n] = /\/features\/(\d+)/.exec(wanted?.field ?? "") ?? [];
    const leg = n === undefined ? undefined : rig.legs.find((l) => l.anchor === features[Number(n)]?.id);
    if (leg) setOpen(leg.id);
  }, [wanted]);
  const add = () => {
    const point = newRated(features, `point ${rig.legs.length + 1}`);
    const leg: Leg = {
      id: freshId("l", rig.legs),
      anchor: point.id,
      of: rig.legs[0]!.of,
      closed_by: rig.legs[0]!.closed_by ?? "usual",
      lies: "unknown",
      out_m: known(-0.2, "eye"),
      aside_m: known(0, "eye"),
      up_m: known(0.3, "eye"),
    };
    edit(setAt([...at, "features"], [...features, point]), setAt([...rigAt, "legs"], [...rig.legs, leg]));
    setOpen(leg.id);
  };
  return (
    <>
      <Focal rig={rig} rigAt={rigAt} />
      <div className="col-span-3">
        <p className="quiet flex items-center text-xs">
          <span className="grow">
            points, from the station's origin
            {rig.down_deg?.kind === "unknown" ? "; the load pulls as the rope runs" : ""}
          </span>
          <button type="button" className="act plain" onClick={add}>
            <Plus size={13} className="inline" /> point
          </button>
        </p>
        {rig.legs.map((leg) => (
          <Point key={leg.id} form={form} leg={leg} open={open === leg.id} setOpen={setOpen} />
        ))}
      </div>
    </>
  );
}

/** Where the points meet, how it is tied, and how it is loaded. */
function Focal({ rig, rigAt }: { rig: Several; rigAt: Path }) {
  const place = (label: string, key: "out_m" | "aside_m" | "up_m") => (
    <FigureField label={label} path={[...rigAt, key]} figure={rig[key]} quantity="fine length" why="not decided" />
  );
  return (
    <>
      <p className="quiet col-span-3 text-xs">Focal point: {TERMS["focal point"]}.</p>
      <ChoiceField label="focal point" path={[...rigAt, "focal"]} value={rig.focal ?? "knotted"} choices={FOCAL} />
      {rig.focal !== "sliding" && rig.focal !== "clipped" && (
        <ChoiceField
          label="tied with"
          path={[...rigAt, "knot"]}
          value={rig.knot ?? "overhand"}
          choices={["overhand", "figure eight", "bowline on a bight"]}
        />
      )}
      {rig.focal === "limited" && (
        <FigureField
          label="limiting knots let it go"
          path={[...rigAt, "slack_m"]}
          figure={rig.slack_m ?? unknown("")}
          quantity="fine length"
          why="not decided"
        />
      )}
      <span className="col-span-3 grid grid-cols-6 gap-x-3 max-sm:grid-cols-2">
        {place("focal: out", "out_m")}
        {place("aside, left", "aside_m")}
        {place("up", "up_m")}
        <FigureField
          label="pull, down"
          path={[...rigAt, "down_deg"]}
          figure={rig.down_deg ?? unknown("")}
          quantity="degrees"
          why="as the rope runs"
        />
        <FigureField
          label="pull, left"
          path={[...rigAt, "aside_deg"]}
          figure={rig.aside_deg ?? known(0, "given")}
          quantity="degrees"
          why="unknown"
        />
        <FigureField
          label="swings ±"
          path={[...rigAt, "swing_deg"]}
          figure={rig.swing_deg ?? known(15, "given")}
          quantity="degrees"
          why="unknown"
        />
      </span>
    </>
  );
}

/** Sets something of a leg. One loop through every point is of one piece: what is chosen for one leg holds for all. */
function ofLegs(rig: Several, rigAt: Path, leg: Leg, key: "of" | "closed_by", value: string) {
  const loop = rig.focal === "sliding" || rig.focal === "limited";
  return (loop ? rig.legs : [leg]).map((l) => setAt([...rigAt, "legs", `#${l.id}`, key], value));
}

/** What a leg may be of. */
function textiles(shed: Plan["shed"]) {
  const cords = (shed.ropes ?? []).filter((r) => r.kind === "pull cord");
  return [...(shed.webbing ?? []), ...(shed.slings ?? []), ...cords]
    .map((x) => ({ value: x.id, label: x.name }))
    .concat((shed.rings ?? []).map((r) => ({ value: r.id, label: `chain of ${r.name}` })));
}

function Point({
  form: { rig, rigAt, at, features, several },
  leg,
  open,
  setOpen,
}: {
  form: Form;
  leg: Leg;
  open: boolean;
  setOpen: (leg: string) => void;
}) {
  const { plan, edit } = useSession();
  const f = features.find((x) => x.id === leg.anchor);
  const here: Path = [...rigAt, "legs", `#${leg.id}`];
  const seen = several?.legs.find((l) => l.id === leg.id);
  const place = (label: string, key: "out_m" | "aside_m" | "up_m") => (
    <FigureField label={label} path={[...here, key]} figure={leg[key]} quantity="fine length" why="not measured" />
  );
  const remove = () => {
    const legs = rig.legs.filter((l) => l.id !== leg.id);
    const others = features.filter((x) => x.id !== leg.anchor);
    edit(setAt([...rigAt, "legs"], legs), setAt([...at, "features"], others));
  };
  return (
    <div
      role="group"
      aria-label={`${f?.name ?? "missing"}, point ${rig.legs.indexOf(leg) + 1} of ${rig.legs.length}`}
      className="rule-t py-1"
      data-leg={leg.id}
    >
      <div className="point-row">
        {f && <Called feature={f} at={at} label="point" />}
        {place("out", "out_m")}
        {place("left", "aside_m")}
        {place("up", "up_m")}
        <Choose
          label="leg of"
          value={leg.of}
          choices={textiles(plan.shed)}
          onChange={(v) => edit(...ofLegs(rig, rigAt, leg, "of", v))}
        />
        <button
          type="button"
          className="act plain px-1"
          disabled={rig.legs.length < 3}
          aria-label={`remove ${f?.name ?? "point"}`}
          onClick={remove}
        >
          <Trash2 size={15} />
        </button>
      </div>
      <p className="mt-0.5 flex gap-3 text-xs">
        {seen ? (
          <span>
            carries up to <Num n={seen.worst} /> of the load; leg <Num n={seen.length} className="font-normal" />
          </span>
        ) : (
          <span className="sev-Not-checked">share not checked</span>
        )}
        <button
          type="button"
          className="min-h-6 cursor-pointer font-semibold underline"
          onClick={() => setOpen(open ? "" : leg.id)}
        >
          {open ? "close" : `what ${f?.name ?? "it"} holds…`}
        </button>
      </p>
      {open && f && f.kind !== "ice thread" && (
        <Holds rig={rig} rigAt={rigAt} at={at} features={features} leg={leg} f={f} />
      )}
    </div>
  );
}

/** What a point is, and what it and its leg hold. */
function Holds({
  rig,
  rigAt,
  at,
  features,
  leg,
  f,
}: Omit<Form, "several"> & { leg: Leg; f: Exclude<Feature, { kind: "ice thread" }> }) {
  const { plan, edit } = useSession();
  const here: Path = [...rigAt, "legs", `#${leg.id}`];
  const pointAt: Path = [...at, "features", `#${leg.anchor}`];
  const alike = features.find((x) => x.id === rig.legs[0]?.anchor);
  const chain = (plan.shed.rings ?? []).some((r) => r.id === leg.of);
  const sewn = (plan.shed.slings ?? []).some((x) => x.id === leg.of);
  const another = (kind: string) => {
    const made = { ...(kind === "post" ? newPost([]) : newRated([])), id: f.id, name: f.name };
    return setAt(
      [...at, "features"],
      features.map((x) => (x.id === f.id ? made : x)),
    );
  };
  return (
    <div className="mt-1 grid grid-cols-3 gap-x-4 gap-y-2">
      {chain && <ChoiceField label="it lies" path={[...here, "lies"]} value={leg.lies ?? "unknown"} choices={LIES} />}
      {!chain && !sewn && (
        <Choose
          label="its loop is closed by"
          value={leg.closed_by ?? "usual"}
          choices={CLOSED}
          onChange={(v) => edit(...ofLegs(rig, rigAt, leg, "closed_by", v))}
        />
      )}
      <Choose
        label="kind of point"
        value={f.kind}
        choices={[
          { value: "rated", label: "bolt, piece, chain, textile" },
          { value: "post", label: "tree, boulder, horn, pillar" },
        ]}
        onChange={(k) => edit(another(k))}
      />
      {alike && leg.id !== rig.legs[0]?.id && (
        <button type="button" className="act self-end" onClick={() => edit(pointAs(at, f, alike))}>
          As {alike.name}
        </button>
      )}
      {f.kind === "rated" ? (
        <RatedForm feature={f} at={pointAt} />
      ) : (
        <>
          <Choose
            label="kind of post"
            value={f.what}
            choices={["tree", "boulder", "horn", "pillar"]}
            onChange={(v) => edit(...turned(pointAt, f, v))}
          />
          <PostForm post={f} at={pointAt} />
        </>
      )}
    </div>
  );
}
