// Where everything lies on the time line: acts, who is held by what between them, hazards over them.
import { useMemo } from "react";
import { words } from "../../say";
import type { Person, Span, Step } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { type StationAt, useGoing } from "../../state/rehearsal";

export const GUTTER = 118;
export const BRACKET = 17;
const LETTER = 5.9;
/** How many rows of hazards there are at the most; those with the worst falls come first. */
export const ROWS = 5;
export const ZOOMS = ["move", "station", "act", "whole descent"] as const;
export type Zoom = (typeof ZOOMS)[number];

export type Hold = "many" | "one" | "none" | "ground";
export interface Run {
  hold: Hold;
  from: number;
  to: number;
  /** What is said under it, where there is room. */
  said: string;
}
const PATHS: Record<number, string> = { 1: "one path", 2: "two paths", 3: "three paths" };

function holdOf(step: Step, who: string): [Hold, string] {
  const held = step.held.find((h) => h.who === who);
  if (!held) return ["ground", ""];
  if (held.paths > 1) return ["many", PATHS[held.paths] ?? `${held.paths} paths`];
  if (held.paths === 1) return ["one", "one path"];
  if (held.exposed) return ["none", "held by nothing"];
  return ["ground", held.place.startsWith("at the landing") ? "at the landing" : "stands"];
}

export interface Act {
  step: Step;
  /** Place of its station, and its own place in it. */
  k: number;
  n: number;
}

export function runsOf(acts: readonly Act[], who: string): Run[] {
  const made: Run[] = [];
  for (const [i, a] of acts.entries()) {
    const [hold, said] = holdOf(a.step, who);
    const last = made[made.length - 1];
    if (last && last.hold === hold && last.said === said) last.to = i + 1;
    else made.push({ hold, from: i, to: i + 1, said });
  }
  return made;
}

export interface Bracket {
  span: Span;
  k: number;
  from: number;
  to: number;
  row: number;
  /** Its place among what is said aloud first, 0 for none. */
  first: number;
  /** Where its words begin, from the first act [px]. */
  left: number;
  right: number;
}

/** Hazards as brackets in rows, none over another's words. */
function bracketsOf(
  stations: readonly StationAt[],
  starts: readonly number[],
  scale: number,
  room: number,
  ranks: ReadonlyMap<string, number>,
  text: (s: Span) => string,
  shown: readonly number[],
  replaced: { k: number; spans: readonly Span[]; acts: number } | null,
  sight: readonly [number, number],
): Bracket[] {
  const made: Bracket[] = [];
  for (const k of shown) {
    const run = stations[k]?.run;
    if (!run) continue;
    const mine = replaced?.k === k ? replaced : null;
    const spans = mine ? mine.spans : run.spans;
    const acts = mine ? mine.acts : run.steps.length;
    const start = starts[k] ?? 0;
    for (const span of spans) {
      const from = start + span.begin - 1;
      const to = span.end === 0 ? start + acts : start + span.end - 1;
      if (to <= sight[0] || from >= sight[1]) continue;
      const first = ranks.get(span.key) ?? 0;
      const wide = Math.max((to - from) * scale, text(span).length * LETTER + (first ? 26 : 8));
      // Its words begin at the bracket, or so far before it that they end inside.
      const left = Math.max(0, Math.min(from * scale, room - wide));
      made.push({ span, k, from, to, row: 0, first, left, right: Math.max(left + wide, to * scale) + 8 });
    }
  }
  // What is said aloud first has its row first.
  made.sort((a, b) => (a.first || 99) - (b.first || 99) || a.from - b.from);
  const taken: [number, number][][] = [];
  for (const b of made) {
    let row = taken.findIndex((some) => some.every(([l, r]) => b.right <= l || b.left >= r));
    if (row < 0) row = taken.push([]) - 1;
    taken[row]!.push([Math.min(b.left, b.from * scale), b.right]);
    b.row = row;
  }
  return made;
}

/** The time line's measure: acts along it, people down it [px]. */
export interface Ruler {
  zoom: Zoom;
  acts: readonly Act[];
  /** Place of the act in view, and of its station. */
  now: number;
  k: number;
  width: number;
  room: number;
  scale: number;
  offset: number;
  /** Where an act begins. */
  x: (act: number) => number;
  /** Where hazards begin, lanes begin, and all ends; the height of a lane, and its line. */
  head: number;
  top: number;
  height: number;
  lane: number;
  lineAt: (row: number) => number;
  /** Acts in sight, from and before; every how manyth has its number. */
  first: number;
  last: number;
  every: number;
  people: readonly Person[];
  brackets: readonly Bracket[];
}

export function useRuler(zoom: Zoom, width: number): Ruler {
  const { plan } = useSession();
  const { units } = usePrefs();
  const { stations, k, run, n, move, whole, tried } = useGoing();
  const shown = useMemo(() => (zoom === "whole descent" ? stations.map((_, i) => i) : [k]), [zoom, stations, k]);
  const acts = useMemo(() => {
    const made: Act[] = [];
    for (const i of shown) {
      const steps = (i === k ? run : stations[i]?.run)?.steps ?? [];
      for (const [m, step] of steps.entries()) made.push({ step, k: i, n: m });
    }
    return made;
  }, [shown, stations, k, run]);
  const starts = useMemo(() => {
    const made: number[] = [];
    for (const [i, a] of acts.entries()) if (made[a.k] === undefined) made[a.k] = i;
    return made;
  }, [acts]);
  const now = (starts[k] ?? 0) + n;
  const room = Math.max(200, width - GUTTER - 22);
  const [from, to] = zoom === "move" && move ? [move.begin - 1, move.end] : [0, acts.length];
  const scale = zoom === "act" ? Math.max(124, room / 6) : room / Math.max(1, to - from);
  const centred = Math.max(0, Math.min(acts.length * scale - room, (now + 0.5) * scale - room / 2));
  const offset = zoom === "act" ? centred : from * scale;
  const people = useMemo(() => {
    const of = (id: string) => plan.party.find((p) => p.id === id);
    return (run?.order ?? []).map(of).filter((p): p is Person => p !== undefined);
  }, [run, plan.party]);
  const ranks = useMemo(
    () => new Map((whole?.first ?? []).map((i, at) => [whole?.hazards[i]?.key ?? "", at + 1] as const)),
    [whole],
  );
  const brackets = useMemo(
    () =>
      bracketsOf(
        stations,
        starts,
        scale,
        zoom === "act" || zoom === "move" ? Infinity : room,
        ranks,
        (s) => words(s.title, units),
        shown,
        tried?.run ? { k, spans: tried.run.spans, acts: tried.run.steps.length } : null,
        [from, to],
      ),
    [stations, from, to, starts, scale, room, zoom, ranks, units, shown, tried, k],
  );
  const head = zoom === "act" ? 82 : 44;
  const top = head + Math.min(ROWS, 1 + Math.max(-1, ...brackets.map((b) => b.row))) * BRACKET;
  const lane = people.length > 5 ? 30 : 42;
  return {
    zoom,
    acts,
    now,
    k,
    width,
    room,
    scale,
    offset,
    x: (act) => GUTTER + act * scale - offset,
    head,
    top,
    height: top + lane * people.length + 6,
    lane,
    lineAt: (row) => top + lane * row + lane / 2 - 4,
    first: Math.max(from, Math.floor(offset / scale) - 1),
    last: Math.min(to, Math.ceil((offset + room) / scale) + 1),
    every: scale >= 17 ? 1 : scale >= 8 ? 5 : 10,
    people,
    brackets,
  };
}
