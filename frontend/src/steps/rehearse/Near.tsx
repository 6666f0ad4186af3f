// The ring and the landing enlarged: what is tied, put in, threaded, knotted, where it is too small to see to scale.
import { RopeLine } from "../../cutaway/Strands";
import type { Size } from "../../cutaway/view";
import type { Picture, Point, Rope } from "../../state/model";
import { Coil, End } from "./marks";

const WIDTH = 150;
const HEIGHT = 112;
const X: readonly number[] = [66, 84];

/** How a knot or a thing at the ring is drawn, by its name. */
function Tied({ what, y }: { what: string; y: number }) {
  const ink = { stroke: "var(--color-base-content)", fill: "var(--color-base-100)", strokeWidth: 2 } as const;
  if (what === "join") return <path d={`M${X[1]! - 8} ${y}l8 -8l8 8l-8 8z`} {...ink} />;
  if (what === "block") return <rect x={X[1]! - 9} y={y - 9} width={18} height={18} {...ink} />;
  if (what === "tie-off") return <path d={`M${X[0]! - 22} ${y - 8}l9 -5l9 5v10l-9 5l-9 -5z`} {...ink} />;
  if (what.includes("overhand")) return <path d={`M${X[0]! - 7} ${y}q16 -14 32 0q-16 14 -32 0z`} {...ink} />;
  if (what === "isolating clove") return <path d={`M${X[0]! - 9} ${y - 5}h36m-36 10h36`} {...ink} strokeWidth={3.4} />;
  if (what === "backup screw") return <path d={`M${X[0]! - 30} ${y - 12}h14m-7 0v20m-5 -14h10m-10 6h10`} {...ink} />;
  return <circle cx={X[0]! - 18} cy={y} r={6} {...ink} />;
}

export function Near({
  shows,
  size,
  ropes,
  name,
  left,
}: {
  shows: Picture;
  size: Size;
  ropes: readonly Rope[];
  name: (id: string) => string;
  /** How far to the right nothing of the rope stands [px]. */
  left: number;
}) {
  const two = left > 2 * WIDTH + 30;
  if (left < WIDTH + 24 || (!two && size.height < 2 * HEIGHT + 190)) return null;
  const y = size.height - HEIGHT - 12;
  const colour = (id: string) => ropes.find((r) => r.id === id)?.colour ?? "#777777";
  const up = shows.strands.filter((s) => s.hangs === "down" || s.hangs === "station");
  const frame = (title: string) => (
    <>
      <rect
        x={0.75}
        y={0.75}
        width={WIDTH - 1.5}
        height={HEIGHT - 1.5}
        fill="var(--void)"
        stroke="var(--rock-edge)"
        strokeWidth={1.4}
      />
      <text x={7} y={15} fontSize={11.5} fontWeight={600} fill="var(--color-base-content)">
        {title}
      </text>
    </>
  );
  const ends = shows.strands.filter((s) => s.hangs === "down" || s.hangs === "landing");
  return (
    <g>
      <svg x={12} y={two ? y : y - HEIGHT - 8} width={WIDTH} height={HEIGHT}>
        {frame("at the ring")}
        {up.map((s, i) => {
          const x = X[up.length === 1 ? 1 : i]!;
          const points: Point[] = [
            [75, 40],
            [x, 54],
            [x, s.hangs === "down" ? HEIGHT + 4 : HEIGHT - 26],
          ];
          return (
            <RopeLine key={s.key} points={points} rope={ropes.find((r) => r.id === s.rope)} id={`near-${s.key}`} />
          );
        })}
        <circle cx={75} cy={36} r={11} fill="none" stroke="var(--color-base-content)" strokeWidth={4} />
        {shows.tied.map((t, i) => (
          <g key={t}>
            <Tied what={t} y={t.includes("isolating") || t.includes("overhand") ? 86 : 58 + 14 * i} />
          </g>
        ))}
        {shows.strands.some((s) => s.hangs === "down") && (
          <text x={X[1]! + 12} y={HEIGHT - 8} fontSize={10.5} fill="var(--quiet)">
            {shows.strands.map((s) => s.end.toUpperCase()).join(" · ")}
          </text>
        )}
      </svg>
      <svg x={two ? WIDTH + 22 : 12} y={y} width={WIDTH} height={HEIGHT}>
        {frame("at the landing")}
        <path d={`M0 ${HEIGHT - 18}h${WIDTH}`} stroke="var(--rock-edge)" strokeWidth={2} />
        {ends.map((s, i) => {
          const x = ends.length === 1 ? 75 : 52 + 44 * i;
          if (s.hangs === "landing")
            return i === 0 ? <Coil key={s.key} at={[72, HEIGHT - 26]} colour={colour(s.rope)} /> : null;
          return (
            <g key={s.key}>
              <RopeLine
                points={[
                  [x, 20],
                  [x, 62],
                ]}
                rope={ropes.find((r) => r.id === s.rope)}
                id={`foot-${s.key}`}
              />
              <End at={[x, 66]} stopper={s.stopper} planned={s.planned} colour={colour(s.rope)} />
              <text x={x} y={86} fontSize={10.5} textAnchor="middle" fill="var(--color-base-content)">
                {s.end.toUpperCase()}
                {s.hand ? `, ${name(s.hand)}` : s.pulled ? ", pulled" : ""}
              </text>
            </g>
          );
        })}
      </svg>
    </g>
  );
}
