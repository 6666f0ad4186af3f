// Where labels go: a column on the void side, sorted by height, pushed apart, never on top of each other.
export interface Anchor {
  id: string;
  /** Where the leader starts, on screen. */
  x: number;
  y: number;
  /** Height the label takes, on screen. */
  height: number;
}

export interface Placed {
  id: string;
  y: number;
}

export const GAP = 4;

/** Tops of the labels in a column between two heights. Order by anchor; pushed down, then back up from the foot. */
export function place(anchors: readonly Anchor[], top: number, bottom: number): Placed[] {
  const sorted = [...anchors].sort((a, b) => a.y - b.y || a.id.localeCompare(b.id));
  const tops: number[] = [];
  let floor = top;
  for (const a of sorted) {
    const y = Math.max(floor, a.y - a.height / 2);
    tops.push(y);
    floor = y + a.height + GAP;
  }
  let ceiling = bottom;
  for (let i = sorted.length - 1; i >= 0; i--) {
    const most = ceiling - sorted[i]!.height;
    if (tops[i]! > most) tops[i] = most;
    ceiling = tops[i]! - GAP;
  }
  return sorted.map((a, i) => ({ id: a.id, y: tops[i]! }));
}
