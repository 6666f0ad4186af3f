// What may be taken over from another place or another thing: what was decided; never what was measured, seen or judged
// there.

import type { PlanEdit } from "./edits";
import { known, setAt, unknown } from "./edits";
import type { Drop, Feature, Figure, Plan, Quick, Shots, State } from "./model";

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
  accepted: [],
  threaded: null,
  run_through: false,
};
const UNSEEN = { edge: "unknown" as const, padded: false };

/** A value as it is taken over elsewhere. */
function elsewhere<T>(value: T): T {
  if (Array.isArray(value)) return value.map(elsewhere) as T;
  if (typeof value !== "object" || value === null) return value;
  const figure = value as Partial<Extract<Figure, { kind: "known" }>>;
  if (figure.kind === "known" && figure.method !== "given") return unknown("not measured") as T;
  return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, k in SEEN ? SEEN[k] : elsewhere(v)])) as T;
}

/** How another station is tied and roped, at this one: as decided there, what is there to tie to still to be judged. */
export function rigAs(drop: Drop, above: Drop): PlanEdit {
  const at = ["drops", `#${drop.id}`, "station"];
  const states = above.station.states.map((s: State) => ({ ...elsewhere(s), accepted: [] }));
  const features = (above.station.features ?? []).map((f: Feature) => elsewhere(f));
  return (plan: Plan) => setAt([...at, "states"], states)(setAt([...at, "features"], features)(plan));
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
    section: sectionOf(drop.section),
    landing: {
      kind: "unknown",
      aside_m: known(0, "eye"),
      next_m: unknown("not measured"),
      room: unknown("not counted"),
    },
    station: {
      ...drop.station,
      features: (drop.station.features ?? []).map(elsewhere),
      states: drop.station.states.map(elsewhere),
      strands_hang: "unknown",
      deviations: [],
      traverse: null,
      inspections: [],
      notes: "",
      through: { order: null, backups: [], edits: [], pauses: [], stowed: false },
    },
  };
}

/** What somebody says is at this drop as at the one before: rock, edges, cracks, wet, how the strands hang. */
export function groundAs(drop: Drop, before: Drop): PlanEdit {
  const at = ["drops", `#${drop.id}`];
  const of = before.section.kind === "quick" ? before.section : before.section.shots[0];
  const ground = { edge: of?.edge ?? ("unknown" as const), face: of?.face ?? ("as the drop" as const) };
  const { section } = drop;
  const put =
    section.kind === "quick"
      ? { ...section, ...ground }
      : { ...section, shots: section.shots.map((s) => ({ ...s, ...ground })) };
  const edits = [
    setAt([...at, "section"], put),
    setAt([...at, "rock"], before.rock ?? "unknown"),
    setAt([...at, "cracks"], before.cracks ?? "unknown"),
    setAt([...at, "station", "wet"], before.station.wet ?? "unknown"),
    setAt([...at, "station", "strands_hang"], before.station.strands_hang ?? "unknown"),
  ];
  return (plan) => edits.reduce((p, e) => e(p), plan);
}
