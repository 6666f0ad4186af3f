// The ring and the landing enlarged.
import type { Drop, DropAssessment, Point } from "../state/model";
import { useSession } from "../state/plan";
import { Scene } from "./Scene";
import type { Size, View } from "./view";

/** Which corner of a line a point is, or −1. A line drawn off to the side has its corners a little elsewhere. */
export function corner(line: readonly Point[], x: number, z: number): number {
  return line.findIndex((p, i) => i > 0 && i + 1 < line.length && Math.hypot(p[0] - x, p[1] - z) < 0.3);
}

/** Enlarged views of the ring and the landing, for a drop too tall to show them. */
export function Insets({ a, drop, size }: { a: DropAssessment; drop: Drop; size: Size }) {
  const { plan } = useSession();
  const g = a.geometry;
  const ring = g.ring;
  const foot = g.taut[g.taut.length - 1];
  if (!ring || !foot) return null;
  const w = 176;
  const h = Math.min(132, size.height / 2 - 44);
  const scale = 34;
  const at = (p: Point, top: number, up: number, id: string, title: string) => {
    const view: View = { scale, ox: w * 0.42 - p[0] * scale, oy: h * up + p[1] * scale };
    return (
      <svg key={id} x={12} y={top} width={w} height={h} role="img" aria-label={title} overflow="hidden">
        <rect width={w} height={h} fill="var(--void)" />
        <Scene
          a={a}
          drop={drop}
          ropes={plan.shed.ropes ?? []}
          webbing={[...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])]}
          view={view}
          size={{ width: w, height: h }}
          id={id}
        />
        <rect
          x={0.75}
          y={0.75}
          width={w - 1.5}
          height={h - 1.5}
          fill="none"
          stroke="var(--rock-edge)"
          strokeWidth={1.5}
        />
        <rect x={1.5} y={1.5} width={w - 3} height={20} fill="var(--color-base-100)" />
        <text x={7} y={15} fontSize={11.5} fontWeight={600} fill="var(--color-base-content)">
          {title}
        </text>
      </svg>
    );
  };
  return (
    <g>
      {at(ring as Point, 40, 0.5, "inset-ring", "at the ring")}
      {at(foot as Point, size.height - h - 40, 0.62, "inset-landing", "at the landing")}
    </g>
  );
}
