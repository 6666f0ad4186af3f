// What may be taken over from another place or another thing: what was decided; never what was measured, seen or judged
// there.

import type { PlanEdit } from "./edits";
import { editDrop, known, setAt, unknown } from "./edits";
import type { Capacity, Drop, Feature, Figure, Quick, Shots, State } from "./model";

/** What somebody saw or judged at one place; at another nobody has. */
const SEEN: Record<string, unknown> = {
  sharpness: "unknown",
  sound: "unknown",
  webbing_at: "unknown",
  in_place: "unknown",
  ice: "unknown",
  wet_cold: "unknown",
  seen_whole: "unknown",
  backed_up: "unknown",
  loaded: "unknown",
  ring_loaded: "unknown",
  lies: "unknown",
  pulled_lies: "unknown",
  holds: unknown("nobody has judged it"),
  good_strands: unknown("nobody has counted"),
  block_holds: unknown("not tested"),
  slips_kn: unknown("no pull test of the party's own"),
  ride_m: unknown("not decided"),
  angle_deg: unknown("not measured"),
  accepted: [],
  threaded: null,
  run_through: false,
};
const UNSEEN = { edge: "unknown" as const, padded: false, face: "as the drop" as const };

/** A value as it is taken over elsewhere. */
function elsewhere<T>(value: T): T {
  if (Array.isArray(value)) return value.map(elsewhere) as T;
  if (typeof value !== "object" || value === null) return value;
  const figure = value as Partial<Extract<Figure, { kind: "known" }>>;
  if (figure.kind === "known" && figure.method !== "given") return unknown("not measured") as T;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, k in SEEN ? SEEN[k] : elsewhere(v)])) as T;
}

/** Things that are made to a rating; of others it is judged of each in its place. */
const MADE = ["bolt", "chain"];
const LONGEST = 200;

/** What a thing of a rating holds, as of another one: of a bolt or chain with who says so and of which. */
export function ratedAs(of: Extract<Feature, { kind: "rated" }>, from: string): Capacity {
  if (of.holds.kind !== "range" || !MADE.includes(of.what ?? "other")) return unknown("nobody has judged it");
  return { ...of.holds, source: `${of.holds.source}, as ${from}`.slice(0, LONGEST) };
}

/** A rating of another place counts as typical, not checked until somebody says that it is so of what is here. */
const ofElsewhere = <T extends { holds: Capacity }>(made: T): T => ({ ...made, typical: made.holds.kind === "range" });

/** A thing to tie to as it is taken over: its kind, of a bolt or chain its rating, and nothing that was measured, seen
 *  or judged, however it was entered. */
function another<T extends Feature>(feature: T, from: string): T {
  const made = Object.fromEntries(
    Object.entries(elsewhere(feature)).map(([k, v]) => [k, isKnown(v) ? unknown("not measured") : v]),
  ) as T;
  if (made.kind === "rated" && feature.kind === "rated")
    return ofElsewhere({ ...made, holds: ratedAs(feature, from), fibre: "unknown", knot: "unknown", pieces: 1 });
  return made.kind === "post" ? { ...made, name: made.what } : made;
}
const isKnown = (v: unknown) => typeof v === "object" && v !== null && (v as Figure).kind === "known";

/** Points of an anchor: where they are is another matter elsewhere. */
const placeless = (state: State): State =>
  state.rig.kind === "several"
    ? {
        ...state,
        rig: {
          ...state.rig,
          legs: state.rig.legs.map((l) => ({ ...l, out_m: NOWHERE, aside_m: NOWHERE, up_m: NOWHERE })),
        },
      }
    : state;
const NOWHERE = unknown("not measured");

/** A station tied as another is: the same things and rig, to be measured and judged here; roped as it was. What was
 *  seen of what it was tied to goes, and so does what a thing of the same name would take for its own. */
export function anchorAs(id: string, from: Drop): PlanEdit {
  const rigs = from.station.states.map((s) => placeless(elsewhere(s)).rig);
  const features = featuresAs(from);
  return editDrop(id, (drop) => {
    const states = drop.station.states.map((s, i) => ({ ...s, rig: rigs[i] ?? rigs[0]!, accepted: [] }));
    const gone = [...(drop.station.features ?? []), ...features].map((f) => f.name.toLowerCase());
    const inspections = (drop.station.inspections ?? []).filter((r) => !gone.includes(r.item.toLowerCase()));
    return { ...drop, station: { ...drop.station, features, states, inspections } };
  });
}

/** A station roped as another is, whom each of its states serves with it; tied as it was. */
export function wayAs(id: string, from: Drop): PlanEdit {
  return editDrop(id, (drop) => {
    const own = drop.station.states;
    const states = from.station.states.map((s, i) => ({
      ...elsewhere(s),
      rig: (own[i] ?? own[0]!).rig,
      accepted: (own[i]?.accepted ?? []).filter((x) => !ROPED.test(x.part)),
    }));
    return { ...drop, station: { ...drop.station, states } };
  });
}
/** Parts that come with the rope system. */
const ROPED = /^(rope|block|join|release|system|cord)/;

const featuresAs = (from: Drop) => (from.station.features ?? []).map((f) => another(f, `at ${from.name}`));

/** How another station is tied and roped, at this one: as decided there, what is there to tie to still to be judged. */
export function rigAs(drop: Drop, from: Drop): PlanEdit {
  const tied = anchorAs(drop.id, from);
  const roped = wayAs(drop.id, from);
  return (plan) => tied(roped(plan));
}

const byEye = (f: Figure): Figure => (f.kind === "known" && f.method !== "given" ? known(f.value, "eye") : f);

/** Lengths of a section that were measured elsewhere count as taken by eye. */
function sectionOf(section: Quick | Shots): Quick | Shots {
  if (section.kind === "quick") {
    const { setback_m, edge_fall_m, height_m, recess_m } = section;
    return {
      ...section,
      ...UNSEEN,
      setback_m: byEye(setback_m),
      edge_fall_m: byEye(edge_fall_m),
      height_m: byEye(height_m),
      recess_m: byEye(recess_m),
    };
  }
  return { ...section, shots: section.shots.map((s) => ({ ...s, ...UNSEEN, slope_m: byEye(s.slope_m) })) };
}

/** A drop like another: rigged the same; its lengths count as by eye, what was seen and judged there is open. */
export function twinOf(drop: Drop, id: string, name: string): Drop {
  return {
    ...drop,
    id,
    name,
    notes: "",
    watch: null,
    position: null,
    onward: null,
    escape: null,
    cracks: "unknown",
    rock: "unknown",
    section: sectionOf(drop.section),
    landing: {
      kind: "unknown",
      aside_m: known(0, "eye"),
      next_m: unknown("not measured"),
      room: unknown("not counted"),
    },
    station: {
      ...drop.station,
      features: featuresAs(drop),
      states: drop.station.states.map((s) => placeless(elsewhere(s))),
      wet: "unknown",
      strands_hang: "unknown",
      deviations: [],
      traverse: null,
      inspections: [],
      notes: "",
      through: { order: null, backups: [], edits: [], pauses: [], stowed: false, without: [] },
    },
  };
}

const WORST = ["sharp", "coarse", "rounded"] as const;

/** How sharp the sharpest edge of a section is; unknown if nobody has said it of one. */
function sharpest(section: Quick | Shots) {
  const edges = section.kind === "quick" ? [section.edge] : section.shots.slice(0, -1).map((s) => s.edge);
  const unsaid = edges.length === 0 || edges.some((e) => e === undefined || e === "unknown");
  return unsaid ? ("unknown" as const) : WORST.find((w) => edges.includes(w))!;
}

/** What somebody says is at this drop as at the one before, where nobody has said it: rock, edges, cracks, wet, how the
 * strands hang. */
export function groundAs(drop: Drop, before: Drop): PlanEdit {
  const at = ["drops", `#${drop.id}`];
  const edge = sharpest(before.section);
  const own = <T extends { edge?: string | undefined }>(x: T) =>
    (x.edge ?? "unknown") === "unknown" ? { ...x, edge } : x;
  const { section, station } = drop;
  const unsaid = (mine: string | undefined, theirs: string | undefined) =>
    (mine ?? "unknown") === "unknown" ? (theirs ?? "unknown") : mine;
  const edits = [
    setAt([...at, "section"], section.kind === "quick" ? own(section) : { ...section, shots: section.shots.map(own) }),
    setAt([...at, "rock"], unsaid(drop.rock, before.rock)),
    setAt([...at, "cracks"], unsaid(drop.cracks, before.cracks)),
    setAt([...at, "station", "wet"], unsaid(station.wet, before.station.wet)),
    setAt([...at, "station", "strands_hang"], unsaid(station.strands_hang, before.station.strands_hang)),
  ];
  return (plan) => edits.reduce((p, e) => e(p), plan);
}
