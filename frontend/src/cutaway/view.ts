// Metres to screen: one scale for both directions.
import type { Geometry, Point } from "../state/model";

export interface View {
  scale: number;
  ox: number;
  oy: number;
}

export interface Size {
  width: number;
  height: number;
}

export const MOST_SCALE = 60;
export const INSET_BELOW = 14;
/** Kept free on the void side for labels and the dimension. */
export const LABEL_COLUMN = 216;
export const DIMENSION = 92;
const PAD = { left: 64, top: 46, bottom: 54 };
/** A drawing too narrow for insets and the dimension keeps a narrower column of labels, and nothing else beside. */
export const isSmall = (size: Size): boolean => size.width < 560;
export const beside = (size: Size): number => (isSmall(size) ? 196 : LABEL_COLUMN + DIMENSION);

export const sx = (v: View, x: number): number => v.ox + x * v.scale;
export const sy = (v: View, z: number): number => v.oy - z * v.scale;
export const toScreen = (v: View, p: Point): Point => [sx(v, p[0]), sy(v, p[1])];

export interface Bounds {
  left: number;
  right: number;
  top: number;
  bottom: number;
}

export function bounds(g: Geometry): Bounds {
  const points: Point[] = [...g.terrain.map((t): Point => [t.x_m, t.z_m]), ...g.taut, ...(g.ring ? [g.ring] : [])];
  const behind = g.post_radius_m ? -2 * g.post_radius_m : -0.6;
  return {
    left: Math.min(behind, ...points.map((p) => p[0])),
    right: Math.max(1, ...points.map((p) => p[0])),
    top: Math.max(0.4, ...points.map((p) => p[1])),
    bottom: Math.min(-1.5, ...points.map((p) => p[1])),
  };
}

export function fit(b: Bounds, size: Size): View {
  const left = isSmall(size) ? 16 : PAD.left;
  const width = size.width - left - beside(size) - (isSmall(size) ? 24 : 40);
  const height = size.height - PAD.top - PAD.bottom;
  const scale = Math.max(0.5, Math.min(MOST_SCALE, width / (b.right - b.left), height / (b.top - b.bottom)));
  // What is left over goes to the rock side: the mass is seen, and insets have room on it.
  const slack = Math.min(250, Math.max(0, width - (b.right - b.left) * scale));
  return { scale, ox: left + slack - b.left * scale, oy: PAD.top + b.top * scale };
}

export function zoomAt(v: View, at: Point, by: number): View {
  const scale = Math.min(400, Math.max(0.5, v.scale * by));
  const k = scale / v.scale;
  return { scale, ox: at[0] - (at[0] - v.ox) * k, oy: at[1] - (at[1] - v.oy) * k };
}

/** A round length for a scale bar of about the given width, in metres, and its words. */
export function scaleBar(v: View, us: boolean): { metres: number; text: string } {
  const unit = us ? 0.3048 : 1;
  const aim = 90 / v.scale / unit;
  const power = 10 ** Math.floor(Math.log10(aim));
  const step = [5, 2, 1].map((k) => k * power).find((s) => s <= aim) ?? power;
  return { metres: step * unit, text: `${Number(step.toPrecision(2))} ${us ? "ft" : "m"}` };
}
