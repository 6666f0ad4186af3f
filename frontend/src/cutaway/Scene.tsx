// The drawing of one drop's section, in any view: rock, void, water, anchor, tie, ring, contacts, strands, ends.
import { createContext, type ReactNode, useContext, useMemo } from "react";
import type { CurvePoint } from "../api/types.gen";
import type { Drop, DropAssessment, Point, Rope, Sling, Webbing } from "../state/model";
import { STRIPES } from "./Swatch";
import { between, cut, dist, offset, path } from "./shape";
import { type Size, sx, sy, toScreen, type View } from "./view";

/** The key of the part that is lit: pointed at in the load path. */
export const LitContext = createContext("");

/**
 * The rope as it is pulled: how far, the tension along both strands' lines, which strand comes up and which is
 * pulled.
 */
export interface PulledView {
  metres: number;
  here: CurvePoint;
  up: string;
  down: string;
  upLine: readonly Point[];
  downLine: readonly Point[];
  bands: readonly number[];
}
export const PulledContext = createContext<PulledView | null>(null);

const ROPE_WIDTH = 4.6;
const ASIDE = 3.2;

export function RopeLine({ points, rope, id }: { points: readonly Point[]; rope: Rope | undefined; id: string }) {
  const d = path(points);
  const stripe = STRIPES[rope?.stripe ?? "plain"];
  return (
    <g data-rope={id} fill="none" strokeLinejoin="round">
      <path d={d} stroke="#1b1b1b" strokeOpacity={0.55} strokeWidth={ROPE_WIDTH + 1.4} />
      <path d={d} stroke={rope?.colour ?? "#777777"} strokeWidth={ROPE_WIDTH} />
      {stripe.width > 0 && (
        <path
          d={d}
          stroke="#fffdf6"
          strokeOpacity={0.92}
          strokeWidth={stripe.width}
          strokeDasharray={stripe.dash}
          strokeLinecap={stripe.cap}
        />
      )}
    </g>
  );
}

function strata(ox: number, oy: number, size: Size): string {
  const rows: string[] = [];
  const step = 24;
  const phase = ((oy % step) + step) % step;
  for (let y = phase - step; y < size.height + step; y += step) {
    let d = `M-40 ${y.toFixed(1)}`;
    const row = Math.round((y - oy) / step);
    for (let x = -40; x < size.width + 80; x += 40) {
      const lift = 3.2 * Math.sin((x - ox) / 47 + row * 1.9) + 1.6 * Math.sin((x - ox) / 19 + row);
      d += `Q${x + 20} ${(y - lift).toFixed(1)} ${x + 40} ${y.toFixed(1)}`;
    }
    rows.push(d);
  }
  return rows.join("");
}

/** The rock as one mass: behind the anchor, along the terrain, and whatever the landing is. */
function rockPoints(
  a: DropAssessment,
  view: View,
  size: Size,
): { rock: Point[]; floorY: number; landing: Point | null } {
  const terrain = a.geometry.terrain.map((t) => toScreen(view, [t.x_m, t.z_m]));
  const first = terrain[0]!;
  const far = size.width + 60;
  const left: Point[] = [
    [-60, first[1] - 14],
    [first[0] - 90, first[1] - 8],
    [first[0] - 26, first[1]],
  ];
  const landing =
    a.geometry.terrain.length > 1 && a.geometry.missing.length === 0 ? terrain[terrain.length - 1]! : null;
  const base = Math.max(size.height + 60, ...terrain.map((p) => p[1] + 60));
  if (!landing) {
    const last = terrain[terrain.length - 1]!;
    return {
      rock: [...left.filter((p) => p[0] < first[0]), ...terrain, [last[0], base], [-60, base]],
      floorY: base,
      landing: null,
    };
  }
  const [x, y] = landing;
  const kind = a.geometry.landing;
  const floor: Point[] =
    kind === "pool" || kind === "moving water"
      ? [
          [x + 3, y + 16],
          [x + 26, y + 24],
          [x + 110, y + 27],
          [x + 190, y + 12],
          [x + 232, y - 5],
          [far, y - 9],
        ]
      : kind === "wading"
        ? [
            [x + 4, y + 7],
            [x + 90, y + 9],
            [x + 150, y - 3],
            [far, y - 6],
          ]
        : kind === "ledge"
          ? [
              [x + 74, y + 1],
              [x + 80, y + 9],
              [x + 78, base],
            ]
          : kind === "hanging stance"
            ? [[x, base]]
            : [
                [x + 60, y + 1],
                [x + 170, y - 3],
                [far, y + 1],
              ];
  const closes: Point[] =
    kind === "ledge" || kind === "hanging stance"
      ? [[-60, base]]
      : [
          [far, base],
          [-60, base],
        ];
  return { rock: [...left.filter((p) => p[0] < first[0]), ...terrain, ...floor, ...closes], floorY: y, landing };
}

function Water({ at, kind, id }: { at: Point; kind: string; id: string }) {
  const [x, y] = at;
  const depth = kind === "wading" ? 10 : 30;
  const width = kind === "wading" ? 146 : 222;
  return (
    <g aria-label={kind}>
      <rect x={x - 14} y={y} width={width + 14} height={depth} fill="var(--water)" clipPath={`url(#void-${id})`} />
      <path d={`M${x} ${y}H${x + width}`} stroke="var(--water-edge)" strokeWidth={1.5} clipPath={`url(#void-${id})`} />
      {kind === "moving water" &&
        [0, 1, 2].map((i) => (
          <path
            key={i}
            d={`M${x + 40 + i * 52} ${y + 8}q8 -6 16 0t16 0m-5 -4l5 4l-6 3`}
            fill="none"
            stroke="var(--water-edge)"
            strokeWidth={1.4}
          />
        ))}
    </g>
  );
}

function Post({
  drop,
  a,
  view,
  webbing,
}: {
  drop: Drop;
  a: DropAssessment;
  view: View;
  webbing: Webbing | Sling | undefined;
}) {
  const rig = drop.station.states[0]?.rig;
  const [x, y] = toScreen(view, [0, 0]);
  if (rig?.kind === "several") return <Points drop={drop} a={a} view={view} />;
  const id =
    rig?.kind === "wrap" ? rig.post : rig?.kind === "direct" ? rig.anchor : rig?.kind === "two posts" ? rig.first : "";
  const feature = drop.station.features.find((f) => f.id === id);
  if (!feature) return null;
  if (feature.kind !== "post") {
    return (
      <g aria-label={feature.name}>
        {feature.kind === "ice thread" ? (
          <path
            d={`M${x - 26} ${y - 1}L${x - 14} ${y + 13}L${x - 2} ${y - 1}`}
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={2}
          />
        ) : (
          <>
            <path
              d={`M${x - 9} ${y - 7}h8v14h-8z`}
              fill="var(--quiet)"
              stroke="var(--color-base-content)"
              strokeWidth={1.4}
            />
            <circle cx={x - 5} cy={y} r={2} fill="var(--color-base-100)" />
          </>
        )}
      </g>
    );
  }
  const r = (a.geometry.post_radius_m ?? 0.25) * view.scale;
  const band = webbing?.colour ?? "#7a3b6b";
  const shape =
    feature.what === "tree"
      ? [
          `M${x - 2 * r} ${y + 6}`,
          `C${x - 2.2 * r} ${y - 20} ${x - 2 * r} ${y - 60} ${x - 1.8 * r} ${y - 400}H${x - r * 0.2}`,
          `C${x} ${y - 60} ${x + r * 0.1} ${y - 20} ${x} ${y + 6}Z`,
        ].join("")
      : feature.what === "pillar"
        ? `M${x - 2 * r} ${y + 6}V${y - 2.6 * r}q${r} ${-r * 0.4} ${2 * r} 0V${y + 6}Z`
        : feature.what === "horn"
          ? [
              `M${x - 2.2 * r} ${y + 8}`,
              `C${x - 2 * r} ${y - r} ${x - 1.2 * r} ${y - 2.4 * r} ${x - 0.7 * r} ${y - 2.5 * r}`,
              `C${x - 0.1 * r} ${y - 2 * r} ${x} ${y - r} ${x} ${y + 6}Z`,
            ].join("")
          : [
              `M${x - 2 * r} ${y + 3}`,
              `C${x - 2.15 * r} ${y - 0.7 * r} ${x - 1.7 * r} ${y - 1.25 * r} ${x - r} ${y - 1.25 * r}`,
              `C${x - 0.3 * r} ${y - 1.2 * r} ${x + 0.05 * r} ${y - 0.6 * r} ${x} ${y + 4}Z`,
            ].join("");
  return (
    <g aria-label={feature.name}>
      <path
        d={shape}
        fill={feature.what === "tree" ? "var(--wood)" : "var(--boulder)"}
        stroke="var(--rock-edge)"
        strokeWidth={1.6}
      />
      {rig?.kind !== "direct" && (
        <path
          d={`M${x - 2 * r} ${y - 1}Q${x - r} ${y + Math.min(5, r / 3)} ${x} ${y}`}
          fill="none"
          stroke={band}
          strokeWidth={5}
          strokeLinecap="round"
        />
      )}
    </g>
  );
}

/** Several points from the side: each at its own place, its leg to where the ring rests. */
function Points({ drop, a, view }: { drop: Drop; a: DropAssessment; view: View }) {
  const v = a.several;
  const rig = drop.station.states[0]?.rig;
  if (!v || rig?.kind !== "several" || !a.geometry.ring) return null;
  // The drawing hangs the ring on the rope's line; the points stand off from it as computed.
  const ring = toScreen(view, [v.rest[0], v.rest[2]]);
  return (
    <g aria-label="points">
      {v.legs.map((l) => {
        const [x, y] = toScreen(view, [l.at[0], l.at[2]]);
        return (
          <g key={l.id}>
            <path d={`M${x} ${y}L${ring[0]} ${ring[1]}`} stroke="#7a3b6b" strokeWidth={2.6} strokeOpacity={0.8} />
            <rect
              x={x - 4.5}
              y={y - 4.5}
              width={9}
              height={9}
              rx={2}
              fill="var(--quiet)"
              stroke="var(--color-base-content)"
              strokeWidth={1.4}
            />
          </g>
        );
      })}
    </g>
  );
}

export function Scene({
  a,
  drop,
  ropes,
  webbing,
  view,
  size,
  id,
}: {
  a: DropAssessment;
  drop: Drop;
  ropes: readonly Rope[];
  webbing: readonly (Webbing | Sling)[];
  view: View;
  size: Size;
  id: string;
}) {
  const g = a.geometry;
  const { rock, landing } = rockPoints(a, view, size);
  const rig = drop.station.states[0]?.rig;
  const web = webbing.find((w) => (rig?.kind === "wrap" || rig?.kind === "two posts") && w.id === rig.webbing);
  const rockPath = path(rock, true);
  const lit = useContext(LitContext);
  const light = (key: string) => (lit === key ? "lit" : undefined);
  const layers = useMemo(() => strata(view.ox, view.oy, size), [view.ox, view.oy, size]);
  const water = landing && ["pool", "moving water", "wading"].includes(g.landing);
  return (
    <g>
      <defs>
        <clipPath id={`rock-${id}`}>
          <path d={rockPath} />
        </clipPath>
        <clipPath id={`void-${id}`}>
          <path clipRule="evenodd" d={`M-100 -100H${size.width + 100}V${size.height + 100}H-100Z${rockPath}`} />
        </clipPath>
      </defs>
      {water && <Water at={landing} kind={g.landing} id={id} />}
      <path d={rockPath} fill="var(--rock)" fillOpacity={landing ? 1 : 0.4} />
      <path d={layers} fill="none" stroke="var(--strata)" strokeWidth={1} clipPath={`url(#rock-${id})`} />
      <path
        d={rockPath}
        fill="none"
        stroke="var(--rock-edge)"
        strokeWidth={1.6}
        strokeDasharray={landing ? undefined : "3 6"}
      />
      {g.landing === "hanging stance" && landing && (
        <path d={`M${landing[0]} ${landing[1]}h26`} stroke="var(--rock-edge)" strokeWidth={5} />
      )}
      <g className={light("anchor") ?? (lit.startsWith("point.") || lit.startsWith("leg.") ? "lit" : undefined)}>
        <Post drop={drop} a={a} view={view} webbing={web} />
      </g>
      {g.tie.length > 1 && (
        <path
          d={path(g.tie.map((p) => toScreen(view, p as Point)))}
          fill="none"
          stroke={web?.colour ?? "var(--quiet)"}
          strokeWidth={5}
          strokeLinejoin="round"
          aria-label="tie"
          className={light("webbing")}
        />
      )}
      <Strands a={a} ropes={ropes} view={view} lit={lit} inner={innerOf(drop)} />
      {(drop.station.deviations ?? []).map((d) => {
        const at =
          d.below_m.kind === "known"
            ? cut(
                g.taut.map((p) => p as Point),
                d.below_m.value,
              ).at(-1)
            : undefined;
        return (
          at && (
            <path
              key={d.id}
              d={`M${sx(view, at[0]) - 12} ${sy(view, at[1])}h24`}
              stroke={d.left_in ? "var(--color-base-content)" : "var(--quiet)"}
              strokeWidth={3}
              strokeDasharray={d.left_in ? undefined : "4 3"}
              aria-label="deviation"
            />
          )
        );
      })}
      {g.contacts
        .filter((c) => (c.turn.value * 180) / Math.PI >= 2)
        .map((c) => (
          <circle
            key={c.index}
            cx={sx(view, c.x_m)}
            cy={sy(view, c.z_m)}
            r={3.6}
            fill="var(--color-base-100)"
            stroke="var(--color-base-content)"
            strokeWidth={1.8}
            aria-label="contact"
          />
        ))}
      {g.ring && !(rig?.kind === "direct" && rig.ring === null) && (
        <circle
          cx={sx(view, g.ring[0])}
          cy={sy(view, g.ring[1])}
          r={6.2}
          fill="none"
          stroke="var(--color-base-content)"
          strokeWidth={2.8}
          aria-label="ring"
          className={light("ring")}
        />
      )}
    </g>
  );
}

/**
 * Tension as a band behind the strand: faint where slack, strong where it sticks. The numbers stand at the contacts.
 */
function Strain({
  line,
  tension,
  length,
  aside,
  view,
  bands,
}: {
  line: readonly Point[];
  tension: readonly number[];
  length: number;
  aside: number;
  view: View;
  bands: readonly number[];
}) {
  const most = Math.max(...bands);
  const marks: ReactNode[] = [];
  const screen = offset(
    line.map((p) => toScreen(view, p)),
    aside,
  );
  let gone = 0;
  for (let i = 0; i + 1 < line.length; i++) {
    const piece = dist(line[i]!, line[i + 1]!);
    const on = Math.max(0, Math.min(1, (length - gone) / (piece || 1)));
    const [a, b] = [screen[i], screen[i + 1]];
    if (!a || !b || on === 0) break;
    const parts = Math.max(1, Math.min(14, Math.round((dist(a, b) * on) / 28)));
    for (let k = 0; k < parts; k++) {
      const [t0, t1] = [(k / parts) * on, ((k + 1) / parts) * on];
      const f = (t0 + t1) / 2 / on;
      const n = tension[2 * i]! + f * (tension[2 * i + 1]! - tension[2 * i]!);
      const share = Math.min(1, n / most);
      marks.push(
        <path
          key={`${i}-${k}`}
          d={path([between(a, b, t0), between(a, b, t1)])}
          stroke={`color-mix(in oklab, var(--strain) ${Math.round(share * 100)}%, var(--slack))`}
          strokeWidth={9 + 9 * share}
        />,
      );
    }
    gone += piece;
  }
  return (
    <g aria-label="tension along the strand" fill="none" strokeOpacity={0.75}>
      {marks}
    </g>
  );
}

/** Both strands side by side by a fixed number of pixels, each to its true end; what lies on the landing lies out. */
function Strands({
  a,
  ropes,
  view,
  lit,
  inner,
}: {
  a: DropAssessment;
  ropes: readonly Rope[];
  view: View;
  lit: string;
  inner: boolean | null;
}) {
  const line = a.geometry.taut.map((p) => p as Point);
  const pulled = useContext(PulledContext);
  const hanging = a.reach.filter((r) => r.role !== "reserve");
  // Where one strand hangs behind the other, the inner one is drawn on the rock's side.
  const pullKey = a.retrieval.side.strand ? `reach.${a.retrieval.side.strand}` : "";
  const asideOf = (key: string, i: number) =>
    hanging.length === 1
      ? 0
      : inner !== null && pullKey
        ? (key === pullKey) === inner
          ? -ASIDE
          : ASIDE
        : i === 0
          ? -ASIDE
          : ASIDE;
  const knot = pulled && pulled.metres > 0 ? cut(pulled.downLine, pulled.metres) : [];
  const joint = knot[knot.length - 1];
  return (
    <g aria-label="strands">
      {pulled &&
        hanging.map((r, i) => {
          const strain =
            r.key === pulled.up
              ? { line: pulled.upLine, tension: pulled.here.up_n, length: (r.high?.value ?? 0) - pulled.metres }
              : r.key === pulled.down
                ? { line: pulled.downLine, tension: pulled.here.down_n, length: Infinity }
                : null;
          return (
            strain && <Strain key={r.key} {...strain} aside={asideOf(r.key, i)} view={view} bands={pulled.bands} />
          );
        })}
      {hanging.map((r, i) => {
        const rope = ropes.find((x) => x.id === r.rope);
        const aside = asideOf(r.key, i);
        const whole = r.low === null || r.role === "lower";
        // Pulled, the side that comes up gets shorter by what the other gets longer; what the hand takes in leaves
        // the drawing.
        const moved = pulled && !whole ? (r.key === pulled.up ? -pulled.metres : 0) : 0;
        if (!whole && r.low!.value + moved <= 0) return null;
        const hang = whole ? line : cut(line, r.low!.value + moved);
        let points = offset(
          hang.map((p) => toScreen(view, p)),
          aside,
        );
        const spare = (r.free ? -r.free.above.value : 0) + moved;
        if (!whole && spare > 0) {
          const end = points[points.length - 1]!;
          const run = Math.min(24, spare * view.scale); // short of the labels' column
          points = [...points, [end[0] + 5, end[1] - 2 - i * 4], [end[0] + 5 + run, end[1] - 2 - i * 5]];
        }
        const end = points[points.length - 1];
        const before = points[points.length - 2];
        if (!end || !before) return null;
        const dir = Math.atan2(end[1] - before[1], end[0] - before[0]);
        const hangsFree = !pulled && r.free !== null && r.free.above.value > 0;
        const ridden = r.ridden && hangsFree ? toScreen(view, [r.ridden.x_m, r.ridden.z_m]) : null;
        return (
          <g
            key={r.key}
            opacity={r.low === null ? 0.35 : 1}
            className={lit === `rope.${r.rope}-${r.end}` ? "lit" : undefined}
          >
            <RopeLine points={points} rope={rope} id={r.key} />
            {r.key === pullKey && !whole && (
              <PullMark
                points={offset(
                  line.map((p) => toScreen(view, p)),
                  aside,
                )}
              />
            )}
            {r.knotted ? (
              <circle
                cx={end[0]}
                cy={end[1]}
                r={4.4}
                fill={rope?.colour ?? "#777777"}
                stroke="var(--color-base-content)"
                strokeWidth={1.4}
                aria-label="stopper"
              />
            ) : (
              <path
                d={path([-5, 5].map((off) => [end[0] + off * Math.sin(dir), end[1] - off * Math.cos(dir)]))}
                stroke="var(--color-base-content)"
                strokeWidth={1.8}
              />
            )}
            {ridden && (
              <circle
                cx={ridden[0] + aside}
                cy={ridden[1]}
                r={4}
                fill="none"
                stroke={rope?.colour ?? "#777777"}
                strokeWidth={1.6}
                strokeDasharray="2 2"
                aria-label="end with a rider"
              />
            )}
          </g>
        );
      })}
      {joint &&
        pulled &&
        (() => {
          // What was at the ring travels down the pulled side: the join, the block, or the middle.
          const [x, y] = toScreen(view, joint);
          return (
            <path
              d={`M${x + ASIDE - 6} ${y}l6 -6l6 6l-6 6z`}
              fill="var(--color-base-100)"
              stroke="var(--color-base-content)"
              strokeWidth={1.8}
              aria-label="what was at the ring"
            />
          );
        })()}
      {a.reach
        .filter((r) => r.role === "reserve")
        .map((r) => (
          <Reserve key={r.key} r={r} rope={ropes.find((x) => x.id === r.rope)} a={a} line={line} view={view} />
        ))}
    </g>
  );
}

/**
 * Whether the pulled strand lies against the rock; null where the strands do not hang one behind the other, or it is
 * unknown.
 */
function innerOf(drop: Drop): boolean | null {
  const lies = drop.station.states[0]?.pulled_lies;
  return drop.station.strands_hang !== "one behind"
    ? null
    : lies === "against the rock"
      ? true
      : lies === "outside"
        ? false
        : null;
}

/** Two arrowheads on the strand that is pulled, on its longest piece. */
function PullMark({ points }: { points: readonly Point[] }) {
  let best = 0;
  for (let i = 1; i + 1 < points.length; i++)
    if (dist(points[i]!, points[i + 1]!) > dist(points[best]!, points[best + 1]!)) best = i;
  const [p, q] = [points[best], points[best + 1]];
  if (!p || !q || dist(p, q) < 40) return null;
  const angle = (Math.atan2(q[1] - p[1], q[0] - p[0]) * 180) / Math.PI;
  const here = between(p, q, 0.62);
  return (
    <g
      transform={`translate(${here[0].toFixed(1)} ${here[1].toFixed(1)}) rotate(${angle.toFixed(1)})`}
      aria-label="pulled strand"
    >
      <path d="M-5 -7l7 7l-7 7M3 -7l7 7l-7 7" fill="none" stroke="var(--color-base-100)" strokeWidth={4.6} />
      <path d="M-5 -7l7 7l-7 7M3 -7l7 7l-7 7" fill="none" stroke="var(--color-base-content)" strokeWidth={2} />
    </g>
  );
}

/** The reserve in its bag at the station, and the highest point from which a lower still reaches the landing. */
function Reserve({
  r,
  rope,
  a,
  line,
  view,
}: {
  r: DropAssessment["reach"][number];
  rope: Rope | undefined;
  a: DropAssessment;
  line: readonly Point[];
  view: View;
}) {
  if (!a.geometry.ring) return null;
  const [x, y] = toScreen(view, a.geometry.ring as Point);
  const high = r.highest && r.highest.value > 0.05 ? cut(line, r.highest.value) : [];
  const at = high[high.length - 1];
  const mark = at ? toScreen(view, at) : null;
  return (
    <g aria-label="reserve">
      <path d={`M${x - 5} ${y - 4}q-14 -12 -22 -2`} fill="none" stroke={rope?.colour ?? "#777777"} strokeWidth={2.6} />
      <path
        d={`M${x - 36} ${y - 7}h18l3 19h-24z`}
        fill={rope?.colour ?? "#777777"}
        fillOpacity={0.55}
        stroke="var(--color-base-content)"
        strokeWidth={1.5}
      />
      {mark && (
        <path
          d={`M${mark[0] - 13} ${mark[1]}h26M${mark[0] - 7} ${mark[1] + 4}l7 7l7 -7`}
          fill="none"
          stroke="var(--color-base-content)"
          strokeWidth={1.8}
          aria-label="highest point of a lower"
        />
      )}
    </g>
  );
}
