// Shapes as pure functions: points in, path text or points out.
import type { Point } from "../state/model";

export function path(points: readonly Point[], closed = false): string {
  if (points.length === 0) return "";
  return points.map((p, i) => `${i ? "L" : "M"}${p[0].toFixed(2)} ${p[1].toFixed(2)}`).join("") + (closed ? "Z" : "");
}

export function dist(a: Point, b: Point): number {
  return Math.hypot(a[0] - b[0], a[1] - b[1]);
}

/** The point a share of the way from one to another. */
export function between(a: Point, b: Point, share: number): Point {
  return [a[0] + share * (b[0] - a[0]), a[1] + share * (b[1] - a[1])];
}

/** The first part of a polyline, up to a length along it. */
export function cut(points: readonly Point[], length: number): Point[] {
  const out: Point[] = points[0] ? [points[0]] : [];
  let left = length;
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1]!;
    const b = points[i]!;
    const far = dist(a, b);
    if (far >= left) {
      out.push(between(a, b, far > 0 ? Math.max(0, left) / far : 0));
      return out;
    }
    out.push(b);
    left -= far;
  }
  return out;
}

/** A polyline moved sideways by a fixed distance, mitred at its corners. */
export function offset(points: readonly Point[], by: number): Point[] {
  const clean = points.filter((p, i) => i === 0 || dist(p, points[i - 1]!) > 1e-6);
  if (clean.length < 2) return [...clean];
  const normals = clean.slice(1).map((b, i): Point => {
    const a = clean[i]!;
    const d = dist(a, b);
    return [(b[1] - a[1]) / d, -(b[0] - a[0]) / d];
  });
  return clean.map((p, i): Point => {
    const n0 = normals[Math.max(0, i - 1)]!;
    const n1 = normals[Math.min(normals.length - 1, i)]!;
    const mx = n0[0] + n1[0];
    const my = n0[1] + n1[1];
    const dot = 1 + n0[0] * n1[0] + n0[1] * n1[1];
    const k = dot < 0.2 ? by / 2 : by / dot;
    return [p[0] + mx * k, p[1] + my * k];
  });
}

/** How far along a polyline the point nearest to p lies. */
export function along(points: readonly Point[], p: Point): number {
  let best = 0;
  let bestFar = Infinity;
  let gone = 0;
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1]!;
    const b = points[i]!;
    const d = dist(a, b);
    if (d === 0) continue;
    const t = Math.min(1, Math.max(0, ((p[0] - a[0]) * (b[0] - a[0]) + (p[1] - a[1]) * (b[1] - a[1])) / (d * d)));
    const far = dist(p, [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])]);
    if (far < bestFar) {
      bestFar = far;
      best = gone + t * d;
    }
    gone += d;
  }
  return best;
}
