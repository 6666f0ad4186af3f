// From a pointer's movement in metres to a proposed edit of the drop. No rule of the job here: the core judges it.
import { known } from "../state/edits";
import type { Drop, Figure, Geometry, Point, Rig } from "../state/model";
import { along } from "./shape";

export interface Handle {
  id: string;
  label: string;
  at: Point;
  /** The drop with this handle moved by dx out and dz up from where the drop has it. */
  move: (drop: Drop, dx: number, dz: number) => Drop;
  /** Pixels to the side, so that the anchor's handle and a ring close to it can both be taken. */
  nudge?: number;
  /** Which terrain point stays where it is on screen while this one is dragged. */
  still?: number;
}

const cm = (x: number): number => Math.round(x * 100) / 100;
const eye = (x: number): Figure => known(cm(x), "eye");
const value = (f: Figure): number => (f.kind === "known" ? f.value : 0);
const DEG = 180 / Math.PI;

function moveShot(drop: Drop, index: number, dx: number, dz: number): Drop {
  if (drop.section.kind !== "shots") return drop;
  const shots = drop.section.shots.map((s, i) => {
    if (i !== index || s.slope_m.kind === "unknown" || s.incl_deg.kind === "unknown") return s;
    const a = s.incl_deg.value / DEG;
    const x = s.slope_m.value * Math.cos(a) + dx;
    const z = s.slope_m.value * Math.sin(a) + dz;
    return {
      ...s,
      slope_m: eye(Math.hypot(x, z)),
      incl_deg: known(Math.round(Math.atan2(z, x) * DEG * 10) / 10, "given"),
    };
  });
  return { ...drop, section: { ...drop.section, shots } };
}

function moveEdge(drop: Drop, dx: number, dz: number): Drop {
  if (drop.section.kind !== "quick") return drop;
  const s = drop.section;
  return {
    ...drop,
    section: {
      ...s,
      setback_m: dx ? eye(Math.max(0, value(s.setback_m) + dx)) : s.setback_m,
      edge_fall_m: dz ? eye(value(s.edge_fall_m) - dz) : s.edge_fall_m,
    },
  };
}

function moveLanding(drop: Drop, dx: number, dz: number): Drop {
  if (drop.section.kind !== "quick") return drop;
  const s = drop.section;
  const h = value(s.height_m) - dz;
  const face = value(s.face_deg);
  const out = (face >= 90 ? 0 : value(s.height_m) / Math.tan(face / DEG)) - value(s.recess_m) + dx;
  const sideways =
    dx === 0
      ? {}
      : out < -0.005
        ? { recess_m: eye(-out), face_deg: known(90, "given") }
        : {
            recess_m: eye(0),
            face_deg: known(out < 0.005 ? 90 : Math.round(Math.atan2(h, out) * DEG * 10) / 10, "given"),
          };
  return { ...drop, section: { ...s, height_m: dz ? eye(h) : s.height_m, ...sideways } };
}

type Tie = Exclude<Rig, { kind: "none" }>;

/**
 * The figure that moves the ring out: of several points their focal point's place, of two posts the first one's
 * reach.
 */
function gainOf(rig: Tie): Figure {
  return rig.kind === "several" ? rig.out_m : rig.kind === "two posts" ? rig.first_gain_m : rig.gain_m;
}

function withGainOf(rig: Tie, gain: Figure): Tie {
  return rig.kind === "several"
    ? { ...rig, out_m: gain }
    : rig.kind === "two posts"
      ? { ...rig, first_gain_m: gain }
      : { ...rig, gain_m: gain };
}

function gainFigure(drop: Drop): Figure | null {
  const rig = drop.station.states[0]?.rig;
  return rig && rig.kind !== "none" ? gainOf(rig) : null;
}

/** How far out the ring hangs, along the rope's path. */
export function ringReach(drop: Drop): number | null {
  const rig = drop.station.states[0]?.rig;
  const own = rig && rig.kind !== "none" ? gainOf(rig) : null;
  if (!rig || rig.kind === "none" || own?.kind !== "known") return null;
  const more =
    rig.kind === "wrap" && rig.pattern === "re-threaded overhand" && rig.extension_m?.kind === "known"
      ? rig.extension_m.value
      : 0;
  return own.value + more + linked(rig);
}

/** How much further the links take the ring. */
function linked(rig: Tie): number {
  return (rig.links ?? []).reduce((sum, l) => sum + value(l.reach_m), 0);
}

export function setGain(drop: Drop, gain: number): Drop {
  const [state] = drop.station.states;
  if (!state || state.rig.kind === "none") return drop;
  const { rig: old } = state;
  const own = gain - linked(old);
  // A tie with a single strand past its focal point moves its ring by that strand.
  if (
    old.kind === "wrap" &&
    old.pattern === "re-threaded overhand" &&
    old.gain_m.kind === "known" &&
    old.extension_m?.kind === "known"
  ) {
    const rig = { ...old, extension_m: known(Math.max(0.05, cm(own - old.gain_m.value)), "given") };
    return { ...drop, station: { ...drop.station, states: [{ ...state, rig }] } };
  }
  // What takes the ring over an edge for the last person is the link that carries it: that one moves.
  const last = old.links?.[old.links.length - 1];
  const rig =
    last?.kind === "webbing"
      ? {
          ...old,
          links: old.links!.map((l) =>
            l === last
              ? { ...l, reach_m: known(Math.max(0, cm(value(l.reach_m) + own - value(gainOf(old)))), "given") }
              : l,
          ),
        }
      : withGainOf(old, known(Math.max(0.05, cm(own)), "given"));
  return { ...drop, station: { ...drop.station, states: [{ ...state, rig }] } };
}

/** Every point that can be dragged in this drop's drawing. */
export function handles(g: Geometry, drop: Drop): Handle[] {
  const made: Handle[] = [];
  const point = (i: number): Point => [g.terrain[i]!.x_m, g.terrain[i]!.z_m];
  const shots = drop.section.kind === "shots";
  if (g.terrain.length > 1) {
    made.push({
      id: "post",
      label: "anchor",
      at: [-(g.post_radius_m ?? 0), 0],
      nudge: -12,
      still: 1,
      move: (d, dx, dz) => (d.section.kind === "shots" ? moveShot(d, 0, -dx, -dz) : moveEdge(d, -dx, -dz)),
    });
  }
  g.terrain.forEach((t, i) => {
    if (i === 0) return;
    if (shots) {
      made.push({
        id: `shot-${i}`,
        label: i === g.terrain.length - 1 ? `shot ${i}, landing` : `shot ${i}`,
        at: point(i),
        move: (d, dx, dz) => moveShot(d, i - 1, dx, dz),
      });
    } else if (t.kind === "edge") {
      made.push({ id: "edge", label: "edge", at: point(i), move: moveEdge });
    } else {
      made.push({ id: "landing", label: "landing", at: point(i), move: moveLanding });
    }
  });
  const gain = gainFigure(drop);
  if (g.ring && gain?.kind === "known") {
    const ring = g.ring;
    const line: Point[] = [...g.tie, ...g.taut.slice(1)];
    made.push({
      id: "ring",
      label: "ring",
      at: ring,
      move: (d, dx, dz) => setGain(d, along(line, [ring[0] + dx, ring[1] + dz])),
    });
  }
  return made;
}
