// What a post or a rated anchor is by itself: how sound, what it holds, and by whose judgement or by its weight.
import { ratedAs } from "../../state/copied";
import { freshId, type PlanEdit, setAt, unknown } from "../../state/edits";
import type { Feature, Mass, Post, Rated } from "../../state/model";
import { useFieldError, useSession } from "../../state/plan";
import { SHARPNESS } from "../../ui/choices";
import {
  At,
  CapacityField,
  ChoiceField,
  Choose,
  DateField,
  FigureField,
  Labelled,
  type Path,
  SurveyField,
  Typed,
  useDraft,
} from "../../ui/fields";
import { decidedOf, Questions, STATES } from "./Questions";

const TRI = ["yes", "no", "unknown"];
const BED = [
  { value: "dry rock", label: "dry rock" },
  { value: "wet or loose", label: "wet or loose" },
  { value: "ice or snow", label: "ice or snow" },
  { value: "unknown", label: "nobody has looked" },
];

export function newPost(features: readonly Feature[], name = "boulder"): Post {
  return {
    kind: "post",
    id: freshId("post-", features),
    name,
    what: "boulder",
    girth_m: unknown("not measured"),
    surface: "rock",
    sharpness: "unknown",
    holds: unknown("nobody has judged it"),
    sound: "unknown",
    webbing_at: "unknown",
  };
}

export function newRated(features: readonly Feature[], name = "anchor in place"): Rated {
  return {
    kind: "rated",
    id: freshId("anchor-", features),
    name,
    what: "bolt",
    in_place: "yes",
    holds: unknown("not tested, not inspected"),
    good_strands: unknown("nobody has counted"),
    pieces: 1,
    fibre: "unknown",
    knot: "unknown",
    typical: false,
  };
}

const KINDS_OF_POST = ["tree", "boulder", "horn", "pillar"];

/** A post turned into another kind; it is called so too, unless the guide named it. */
export function turned(at: Path, post: Post, what: string): PlanEdit[] {
  const stem = post.name.replace(/ \d+$/, "");
  return [
    setAt([...at, "what"], what),
    setAt([...at, "surface"], what === "tree" ? "bark" : "rock"),
    ...(KINDS_OF_POST.includes(stem) ? [setAt([...at, "name"], post.name.replace(stem, what))] : []),
  ];
}

/** A thing called otherwise; what was recorded of it stays its own. */
export function renamed(station: Path, feature: Feature, name: string): PlanEdit {
  return (plan) => {
    const drop = plan.drops?.find((d) => `#${d.id}` === station[1]);
    const records = (drop?.station.inspections ?? []).map((r) =>
      r.item.toLowerCase() === feature.name.toLowerCase() ? { ...r, item: name.trim() || r.item } : r,
    );
    const put = setAt([...station, "features", `#${feature.id}`, "name"], name)(plan);
    return setAt([...station, "inspections"], records)(put);
  };
}

/** Another point said to be as the first: what it is, what that holds and who says so; what was seen is its own. */
export function pointAs(station: Path, point: Feature, first: Feature): PlanEdit {
  const at = [...station, "features", `#${point.id}`];
  const { id, name } = point;
  if (first.kind === "rated") {
    const own = point.kind === "rated" ? point : newRated([]);
    const { what = "other", typical = false } = first;
    return setAt(at, { ...own, id, name, what, holds: ratedAs(first, first.name), typical });
  }
  // What a post holds is judged of that post.
  if (first.kind !== "post") return (plan) => plan;
  const own = point.kind === "post" ? point : newPost([]);
  return setAt(at, { ...own, id, name, what: first.what, surface: first.surface });
}

/** What a thing is called; its records follow it. */
export function Called({ feature, at, label = "called" }: { feature: Feature; at: Path; label?: string }) {
  const { edit } = useSession();
  const path: Path = [...at, "features", `#${feature.id}`, "name"];
  return (
    <At path={path}>
      <Labelled label={label} error={useFieldError(path)}>
        <Typed
          label={label}
          value={feature.name}
          keep={useDraft(path)}
          className="w-full"
          onCommit={(v) => edit(renamed(at, feature, v))}
        />
      </Labelled>
    </At>
  );
}

export function PostForm({ post, at, which = "" }: { post: Post; at: Path; which?: string }) {
  const { edit } = useSession();
  const byWeight = post.holds.kind === "mass";
  const blank = unknown("not measured");
  const mass: Mass = {
    kind: "mass",
    long_m: blank,
    wide_m: blank,
    high_m: blank,
    bed: "unknown",
    slope_deg: unknown("not measured"),
    under_water: "unknown",
    height_m: blank,
    depth_m: blank,
  };
  return (
    <>
      {post.what === "tree" && (
        <ChoiceField
          label="alive, well rooted, crown healthy"
          path={[...at, "sound"]}
          value={post.sound ?? "unknown"}
          choices={TRI}
        />
      )}
      <ChoiceField
        label="its surface is"
        path={[...at, "sharpness"]}
        value={post.sharpness ?? "unknown"}
        choices={SHARPNESS}
      />
      <ChoiceField
        label="webbing sits on it"
        path={[...at, "webbing_at"]}
        value={post.webbing_at ?? "unknown"}
        choices={["low", "high", "unknown"]}
      />
      {post.what === "boulder" && (
        <Choose
          label="what it holds is"
          value={byWeight ? "mass" : "judged"}
          choices={[
            { value: "judged", label: "your own judgement" },
            { value: "mass", label: "worked out from its weight" },
          ]}
          onChange={(v) => edit(setAt([...at, "holds"], v === "mass" ? mass : unknown("nobody has judged it")))}
        />
      )}
      {post.holds.kind === "mass" ? (
        <MassForm mass={post.holds} at={[...at, "holds"]} />
      ) : (
        <CapacityField
          className="col-span-3"
          label={`what the ${which ? `${which} ` : ""}post itself holds: your own judgement, low and high, and why`}
          path={[...at, "holds"]}
          capacity={post.holds}
        />
      )}
    </>
  );
}

function MassForm({ mass, at }: { mass: Mass; at: Path }) {
  const side = (label: string, field: "long_m" | "wide_m" | "high_m" | "height_m" | "depth_m") => (
    <SurveyField label={label} path={[...at, field]} figure={mass[field]} quantity="fine length" why="not measured" />
  );
  return (
    <div className="col-span-3 grid grid-cols-3 gap-x-4 gap-y-2">
      {side("its box: length", "long_m")}
      {side("width", "wide_m")}
      {side("height", "high_m")}
      <ChoiceField label="it lies on" path={[...at, "bed"]} value={mass.bed ?? "unknown"} choices={BED} />
      <FigureField
        label="its bed slopes toward the pull"
        path={[...at, "slope_deg"]}
        figure={mass.slope_deg}
        quantity="degrees"
        why="not measured"
      />
      <ChoiceField
        label="under water"
        path={[...at, "under_water"]}
        value={mass.under_water ?? "unknown"}
        choices={TRI}
      />
      {side("webbing above its base", "height_m")}
      {side("depth of its base along the pull", "depth_m")}
      <p className="quiet self-end text-xs">
        Half its box is counted as rock; it slides or topples, whichever comes first.
      </p>
    </div>
  );
}

const WHAT = [
  { value: "bolt", label: "bolt" },
  { value: "piton", label: "piton" },
  { value: "placed piece", label: "placed piece" },
  { value: "chain", label: "chain" },
  { value: "textile", label: "textile (slings, cord)" },
  { value: "thread", label: "thread round rock" },
  { value: "other", label: "something else" },
];

export const today = () => new Date().toISOString().slice(0, 10);

/** What somebody saw of a thing found in place: the same record as under "Found in place". */
function Seen({ feature, station }: { feature: Rated; station: Path }) {
  const { plan, edit } = useSession();
  const drop = plan.drops?.find((d) => `#${d.id}` === station[1]);
  const records = drop?.station.inspections ?? [];
  const of = records
    .filter((r) => r.item.toLowerCase() === feature.name.toLowerCase())
    .sort((a, b) => (a.on ?? "").localeCompare(b.on ?? ""));
  const newest = of[of.length - 1];
  const at: Path = [...station, "inspections"];
  const say = (condition: string) => {
    const decision = decidedOf(condition, newest?.decision);
    if (newest) {
      const here = [...at, `#${newest.id}`];
      edit(setAt([...here, "condition"], condition), setAt([...here, "decision"], decision));
    } else {
      const id = freshId("i", records);
      // When somebody looked is for them to say.
      const made = { id, on: null, item: feature.name, found: "", condition, answers: {}, decision };
      edit(setAt(at, [...records, made]));
    }
  };
  return (
    <>
      <Choose
        label={`its state, as seen${newest?.on ? ` ${newest.on}` : ""}`}
        value={newest?.condition ?? "unknown"}
        choices={STATES}
        onChange={say}
      />
      {newest && !newest.on && <DateField label="looked at on" path={[...at, `#${newest.id}`, "on"]} value={null} />}
      {newest && (
        <Questions
          what={feature.what ?? "other"}
          record={newest}
          className="col-span-3"
          onSay={(said) => edit(setAt([...at, `#${newest.id}`, "answers"], { ...newest.answers, ...said }))}
        />
      )}
    </>
  );
}

export function RatedForm({ feature, at, className = "col-span-3" }: { feature: Rated; at: Path; className?: string }) {
  const { edit } = useSession();
  const textile = feature.what === "textile" || feature.what === "thread";
  return (
    <>
      <ChoiceField label="it is" path={[...at, "what"]} value={feature.what ?? "other"} choices={WHAT} />
      <ChoiceField
        label="found in place"
        path={[...at, "in_place"]}
        value={feature.in_place ?? "unknown"}
        choices={TRI}
      />
      {feature.in_place !== "no" && <Seen feature={feature} station={at.slice(0, 3)} />}
      {textile && (
        <FigureField
          label="good strands, all round looked at"
          path={[...at, "good_strands"]}
          figure={feature.good_strands ?? unknown("nobody has counted")}
          quantity="count"
          why="nobody has counted"
        />
      )}
      {textile && (
        <ChoiceField
          label="of"
          path={[...at, "fibre"]}
          value={feature.fibre ?? "unknown"}
          choices={["nylon", "polyester", "HMPE", "aramid", "unknown"]}
        />
      )}
      {textile && (
        <ChoiceField
          label="each strand closed by"
          path={[...at, "knot"]}
          value={feature.knot ?? "unknown"}
          choices={["sewn", "ring bend", "double fisherman's", "triple fisherman's", "overhand", "unknown"]}
        />
      )}
      {feature.what !== "textile" && (
        <Choose
          label="pieces side by side"
          value={String(feature.pieces ?? 1)}
          choices={[
            { value: "1", label: "one" },
            { value: "2", label: "two, each holding that alone" },
            { value: "3", label: "three, any two holding that" },
          ]}
          onChange={(v) => edit(setAt([...at, "pieces"], Number(v)))}
        />
      )}
      <CapacityField
        className={className}
        label={
          feature.what === "textile" || (feature.what === "thread" && feature.good_strands?.kind === "known")
            ? "what one of its strands holds, and by whom it is given"
            : "what the anchor holds, and by whom it is given"
        }
        path={[...at, "holds"]}
        capacity={feature.holds}
        typicalAt={[...at, "typical"]}
      />
    </>
  );
}
