// Edits are functions from plan to plan, so that one refused as stale can be made again on the newest plan.
import type { Drop, Edit, Figure, Plan } from "./model";

export type PlanEdit = (plan: Plan) => Plan;

/** The place a path's key names in a list: an index, or "#id" for the thing of that id wherever it now stands. */
function placeIn(list: readonly unknown[], key: string | number): number {
  if (typeof key === "number") return key;
  return list.findIndex((x) => typeof x === "object" && x !== null && (x as { id?: string }).id === key.slice(1));
}

/** A path with every "#id" turned into the index it has in this plan, as the server names fields. */
export function resolved(plan: Plan, path: readonly (string | number)[]): string {
  let at: unknown = plan;
  return path
    .map((key) => {
      const found = Array.isArray(at) && `${key}`.startsWith("#") ? placeIn(at, key) : key;
      at = (at as Record<string | number, unknown> | undefined)?.[found];
      return found;
    })
    .join("/");
}

function put(at: unknown, path: readonly (string | number)[], value: unknown): unknown {
  const [key, ...rest] = path;
  if (key === undefined) return value;
  if (Array.isArray(at)) {
    const place = placeIn(at, key);
    if (place < 0 || place >= at.length) return at; // it is gone: an edit of it changes nothing
    const copy: unknown[] = [...at];
    copy[place] = put(copy[place], rest, value);
    return copy;
  }
  const from = (at ?? {}) as Record<string, unknown>;
  return { ...from, [key]: put(from[key], rest, value) };
}

export function setAt(path: readonly (string | number)[], value: unknown): PlanEdit {
  return (plan) => put(plan, path, value) as Plan;
}

export function applyEdits(edits: readonly Edit[]): PlanEdit {
  return (plan) => edits.reduce((p, e) => put(p, e.path, e.value) as Plan, plan);
}

export function replaceDrop(drop: Drop): PlanEdit {
  return (plan) => ({ ...plan, drops: plan.drops.map((d) => (d.id === drop.id ? drop : d)) });
}

/** An edit of one drop by its id: still right after another edit has moved it. */
export function editDrop(id: string, change: (drop: Drop) => Drop): PlanEdit {
  return (plan) => ({ ...plan, drops: plan.drops.map((d) => (d.id === id ? change(d) : d)) });
}

/** The drop with only one state of its station, as everything that draws it takes it. */
export function onlyState(drop: Drop, which: number): Drop {
  const state = drop.station.states[which] ?? drop.station.states[0]!;
  return { ...drop, station: { ...drop.station, states: [state] } };
}

/** A change made to the drop as if it had that state alone, put back among its others. */
export function inState(drop: Drop, which: number, change: (drop: Drop) => Drop): Drop {
  const changed = change(onlyState(drop, which));
  const states = drop.station.states.map((s, i) => (i === which ? changed.station.states[0]! : s));
  return { ...changed, station: { ...changed.station, states } };
}

export function known(value: number, method: Extract<Figure, { kind: "known" }>["method"]): Figure {
  return { kind: "known", value, method, error: null, on: null, by: "" };
}

export function unknown(why: string): Extract<Figure, { kind: "unknown" }> {
  return { kind: "unknown", why };
}

export function freshId(prefix: string, taken: readonly { id: string }[]): string {
  const ids = new Set(taken.map((t) => t.id));
  for (let n = 1; ; n++) if (!ids.has(`${prefix}${n}`)) return `${prefix}${n}`;
}

export function freshName(base: string, taken: readonly { name: string }[]): string {
  const names = new Set(taken.map((t) => t.name.toLowerCase()));
  for (let n = 1; ; n++) if (!names.has(`${base} ${n}`.toLowerCase())) return `${base} ${n}`;
}
