// Where people stand, hang and wait in the drawing of one station.
import { cut, dist } from "../../cutaway/shape";
import { toScreen, type View } from "../../cutaway/view";
import type { DropAssessment, PersonShown, Point } from "../../state/model";

export const MARK = 13;
const STEP = 31;

export interface Stood {
  p: PersonShown;
  at: Point;
  /** Where the device sits on the strands, for whoever rides or is on the rope. */
  on: Point | null;
}

/** The rope's line on screen from ring to landing; null where the drop is not measured. */
export function lineOf(a: DropAssessment, view: View): Point[] | null {
  const line = a.geometry.taut.map((p) => toScreen(view, p as Point));
  return a.geometry.ring && line.length > 1 ? line : null;
}

export function lengthOf(line: readonly Point[]): number {
  return line.slice(1).reduce((sum, p, i) => sum + dist(line[i]!, p), 0);
}

/** The point so many pixels down a line, its end where it is shorter. */
export function downLine(line: readonly Point[], px: number): Point {
  const part = cut(line, px);
  return part[part.length - 1] ?? line[line.length - 1]!;
}

/** Everybody who is in view at this station, where their mark stands; those above and gone on are told in words. */
export function stand(people: readonly PersonShown[], line: readonly Point[], width: number): Stood[] {
  const ring = line[0]!;
  const foot = line[line.length - 1]!;
  const long = lengthOf(line);
  const at = (p: PersonShown) => people.filter((q) => q.place === p.place).indexOf(p);
  const riders = people.filter((p) => p.place === "rope").length;
  const onRope = people.filter((p) => p.place === "station" && p.links.some((x) => x.here && onStrands(x.kind)));
  const made: Stood[] = [];
  // As many beside each other as there is room for, so that no mark lies over another.
  const fit = (room: number) => Math.max(1, Math.min(4, 1 + Math.floor(room / STEP)));
  const [behind, beside] = [fit(ring[0] - 46 - MARK - 8), fit(width - MARK - foot[0] - 44)];
  for (const p of people) {
    const i = at(p);
    if (p.place === "station") {
      // On the rock behind the ring, those at the edge nearest to it; whoever is on the rope has their device below it.
      const at: Point = [
        Math.max(MARK + 8, ring[0] - 46 - STEP * (i % behind)),
        ring[1] - 22 + 34 * Math.floor(i / behind),
      ];
      const rope = onRope.indexOf(p);
      made.push({ p, at, on: rope >= 0 ? downLine(line, 16 + 13 * rope) : null });
    } else if (p.place === "rope") {
      const on = downLine(line, long * (0.42 + 0.16 * (riders > 1 ? i : 0)));
      made.push({ p, at: [Math.min(width - MARK, on[0] + 32), on[1] + 22], on });
    } else if (p.place === "landing") {
      const row = Math.floor(i / beside);
      made.push({ p, at: [foot[0] + 44 + STEP * (i % beside), foot[1] - MARK - 3 - row * STEP], on: null });
    }
  }
  return made;
}

export const onStrands = (kind: string): boolean =>
  ["device", "third hand", "lowering", "bight", "top line"].includes(kind);

/** Everybody's letters, by id; the same on every screen. */
export function lettersOf(party: readonly { id: string; name: string }[]): ReadonlyMap<string, string> {
  const letters = initials(party.map((p) => p.name));
  return new Map(party.map((p, i) => [p.id, letters[i]!]));
}

/** The letters of everybody's marks, no two alike: the initial; with the first letter that tells those of one initial
 *  apart, or a number where none does. */
export function initials(all: readonly string[]): readonly string[] {
  const first = (name: string) => name.trim().slice(0, 1).toUpperCase() || "?";
  return all.map((name, at) => {
    const some = all.flatMap((n, i) => (first(n) === first(name) ? [{ n: n.trim().toLowerCase(), i }] : []));
    if (some.length < 2) return first(name);
    const longest = Math.max(...some.map((x) => x.n.length));
    for (let k = 1; k < longest; k++) {
      const letters = some.map((x) => x.n[k] ?? "");
      if (letters.every((c) => /\p{L}|\p{N}/u.test(c)) && new Set(letters).size === some.length)
        return first(name) + name.trim()[k]!.toLowerCase();
    }
    return `${first(name)}${some.findIndex((x) => x.i === at) + 1}`;
  });
}
