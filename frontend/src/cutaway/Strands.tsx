// The strands as they hang, are pulled, and strain.
import { createContext, type ReactNode, useContext, useState } from "react";
import type { CurvePoint } from "../api/types.gen";
import type { Drop, DropAssessment, Point, Rope } from "../state/model";
import { STRIPES } from "./Swatch";
import { between, cut, dist, offset, path } from "./shape";
import { toScreen, type View } from "./view";

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
const SetPulled = createContext<(v: PulledView | null) => void>(() => undefined);
export const useSetPulled = () => useContext(SetPulled);

/** Holds what is pulled: strands and labels are drawn anew with it, and nothing else that stands within. */
export function Pulling({ children }: { children: ReactNode }) {
  const [pulled, set] = useState<PulledView | null>(null);
  return (
    <SetPulled.Provider value={set}>
      <PulledContext.Provider value={pulled}>{children}</PulledContext.Provider>
    </SetPulled.Provider>
  );
}

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
    <g role="img" aria-label="tension along the strand" fill="none" strokeOpacity={0.75}>
      {marks}
    </g>
  );
}

type Reach = DropAssessment["reach"][number];

/** What lies in a strand above the landing, and where on the drawing that is. */
export function onTheWay(r: Reach, line: readonly Point[]) {
  const all = line.slice(1).reduce((sum, p, i) => sum + dist(line[i]!, p), 0);
  return r.lies.flatMap((x) => {
    const here = x.below.value < all ? cut(line, x.below.value).at(-1) : undefined;
    return here ? [{ x, here }] : [];
  });
}

/** Both strands side by side by a fixed number of pixels, each to its true end; what lies on the landing lies out. */
export function Strands({
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
    <g role="img" aria-label="strands">
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
      {hanging.map((r, i) => (
        <Hanging
          key={r.key}
          r={r}
          i={i}
          rope={ropes.find((x) => x.id === r.top)}
          aside={asideOf(r.key, i)}
          line={line}
          view={view}
          pulls={r.key === pullKey}
          lit={lit}
        />
      ))}
      {joint &&
        pulled &&
        (() => {
          // What was at the ring travels down the pull strand: the join, the block, or the middle.
          const [x, y] = toScreen(view, joint);
          return (
            <path
              d={`M${x + ASIDE - 6} ${y}l6 -6l6 6l-6 6z`}
              fill="var(--color-base-100)"
              stroke="var(--color-base-content)"
              strokeWidth={1.8}
              role="img"
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

/** One strand from the ring to its true end; what lies on the landing lies out. */
function Hanging({
  r,
  i,
  rope,
  aside,
  line,
  view,
  pulls,
  lit,
}: {
  r: Reach;
  i: number;
  rope: Rope | undefined;
  aside: number;
  line: readonly Point[];
  view: View;
  /** Whether it is the one that is pulled. */
  pulls: boolean;
  lit: string;
}) {
  const pulled = useContext(PulledContext);
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
      opacity={r.low === null ? 0.35 : 1}
      className={[`rope.${r.rope}-${r.end}`, r.key.replace("reach.", "rope.")].includes(lit) ? "lit" : undefined}
    >
      <RopeLine points={points} rope={rope} id={r.key} />
      {pulls && !whole && (
        <PullMark
          points={offset(
            line.map((p) => toScreen(view, p)),
            aside,
          )}
        />
      )}
      {!pulled && !whole && <Lies r={r} line={line} view={view} aside={aside} />}
      {r.knotted ? (
        <circle
          cx={end[0]}
          cy={end[1]}
          r={4.4}
          fill={rope?.colour ?? "#777777"}
          stroke="var(--color-base-content)"
          strokeWidth={1.4}
          role="img"
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
          role="img"
          aria-label="end with a rider"
        />
      )}
    </g>
  );
}

/** Joins, and knots that isolate damage, where they lie in a strand. */
function Lies({ r, line, view, aside }: { r: Reach; line: readonly Point[]; view: View; aside: number }) {
  return onTheWay(r, line).map(({ x, here }) => {
    const [cx, cy] = toScreen(view, here);
    const x0 = cx + aside;
    return (
      <path
        key={`${x.what}-${x.below.value}`}
        // A join is a bar with two tails, a knot that isolates damage a loop to the side.
        d={
          x.what === "join"
            ? `M${x0 - 5} ${cy}h10M${x0 + 2} ${cy - 2}l6 -4M${x0 + 2} ${cy + 2}l7 -1`
            : `M${x0} ${cy - 4}c12 -7 12 15 0 8z`
        }
        fill={x.what === "join" ? "none" : "var(--color-base-100)"}
        stroke="var(--color-base-content)"
        strokeWidth={2}
        strokeLinecap="round"
        role="img"
        aria-label={x.what}
      />
    );
  });
}

/**
 * Whether the pull strand lies against the rock; null where the strands do not hang one behind the other, or it is
 * unknown.
 */
export function innerOf(drop: Drop): boolean | null {
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
      role="img"
      aria-label="pull strand"
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
    <g role="img" aria-label="reserve">
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
          role="img"
          aria-label="highest point of a lower"
        />
      )}
    </g>
  );
}
