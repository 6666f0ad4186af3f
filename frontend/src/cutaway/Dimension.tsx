// The height of the drop beside it, and how far off the survey may be.
import type { DropAssessment, Point } from "../state/model";
import { DIMENSION, type Size, sy, toScreen, type View } from "./view";

export function UpperBound({ a, view }: { a: DropAssessment; view: View }) {
  const high = a.geometry.high[a.geometry.high.length - 1];
  const nominal = a.geometry.terrain[a.geometry.terrain.length - 1];
  if (!high || !nominal || nominal.z_m - high[1] < 0.05) return null;
  const [x, y] = toScreen(view, high as Point);
  return (
    <path
      d={`M${x - 18} ${y}h52`}
      stroke="var(--color-base-content)"
      strokeWidth={1.4}
      strokeDasharray="5 3"
      role="img"
      aria-label="landing at the upper bound"
    />
  );
}

function dimensionX(size: Size): number {
  return size.width - DIMENSION + 14;
}

export function dimensionLabel(a: DropAssessment, v: View, size: Size) {
  const top = sy(v, a.geometry.edge_z_m ?? 0);
  const bottom = sy(v, a.geometry.terrain[a.geometry.terrain.length - 1]!.z_m);
  const middle = Math.min(size.height - 60, Math.max(10, (Math.max(0, top) + Math.min(size.height, bottom)) / 2 - 16));
  return { left: dimensionX(size) + 10, top: middle };
}

export function Dimension({ a, view, size }: { a: DropAssessment; view: View; size: Size }) {
  const g = a.geometry;
  const last = g.terrain[g.terrain.length - 1];
  if (!g.height || g.edge_z_m === null || !last) return null;
  const x = dimensionX(size);
  const top = sy(view, g.edge_z_m);
  const bottom = sy(view, last.z_m);
  return (
    <path
      d={`M${x - 5} ${top}h10M${x} ${top}V${bottom}M${x - 5} ${bottom}h10`}
      stroke="var(--quiet)"
      strokeWidth={1.1}
      fill="none"
      role="img"
      aria-label="height"
    />
  );
}
