// The anchor bench: the tie seen from above, as computed. The focal point is dragged along the line to the edge.

import { spoken } from "../../say";
import { known } from "../../state/edits";
import type { Drop, DropAssessment, Rig } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Num } from "../../ui/Num";
import { BenchFrame, BenchMissing, Grip, KnotMark, RingMark, Seen } from "./BenchFrame";
import { type Move, useHold } from "./hold";

type Bench = NonNullable<DropAssessment["bench"]>;
const W = 236;
const H = 148;
const STRAND = 4;

/** The tie longer by so much. */
function longer(drop: Drop, by: number): Drop {
  const [state] = drop.station.states;
  if (state?.rig.kind !== "wrap" || state.rig.gain_m.kind !== "known") return drop;
  const gain = Math.max(0.05, Math.round((state.rig.gain_m.value + by) * 100) / 100);
  const rig: Rig = { ...state.rig, gain_m: known(gain, "given") };
  return { ...drop, station: { ...drop.station, states: [{ ...state, rig }] } };
}

export function BenchView({
  a,
  drop,
  index,
  lit = "",
}: {
  a: DropAssessment;
  drop: Drop;
  index: number;
  lit?: string;
}) {
  const { plan } = useSession();
  const { units } = usePrefs();
  const b = a.bench;
  const ideal = b ? Math.min((W - 56) / (b.radius_m + Math.max(b.reach_m, b.ring_m)), (H - 44) / (2 * b.radius_m)) : 1;
  const hold = useHold(drop, index, ideal);
  const { scale } = hold;
  if (!b)
    return <BenchMissing width={W}>Enter the girth and where the ring hangs to see the tie from above.</BenchMissing>;
  const ox = 20 + b.radius_m * scale;
  const oy = H / 2 - 6;
  const x = (m: number) => ox + m * scale;
  const y = (m: number) => oy - m * scale;
  const rig = drop.station.states[0]?.rig;
  const post = drop.station.features?.find((f) => rig?.kind === "wrap" && f.id === rig.post);
  const tree = post?.kind === "post" && post.what === "tree";
  const tied = [...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])].find(
    (w) => rig?.kind === "wrap" && w.id === rig.webbing,
  );
  const colour = tied?.colour ?? "#7a3b6b";
  const light = (key: string) => (lit === key || (key === "ring" && lit.startsWith("link.")) ? "lit" : undefined);
  const gain = rig?.kind === "wrap" && rig.gain_m.kind === "known" ? rig.gain_m.value : null;
  const said = (m: number | null) =>
    m === null
      ? "nobody knows how far"
      : spoken({ value: m, quantity: "fine length", toward: "near", working: "" }, units);
  const move: Move = (dx) => (gain !== null && dx ? (d) => longer(d, dx) : null);
  return (
    <BenchFrame
      label="the tie from above"
      width={W}
      height={H}
      said={
        <>
          {b.strands} strand{b.strands === 1 ? "" : "s"} at the focal point
          {a.angle && b.strands > 1 ? (
            <>
              , <Num n={a.angle} /> between the legs
            </>
          ) : null}
          {b.knots.length > 0 && (
            <span className="quiet">. Squares: {[...new Set(b.knots.map((k) => k.what))].join(", ")}</span>
          )}
        </>
      }
    >
      <circle
        className={light("anchor")}
        cx={x(0)}
        cy={y(0)}
        r={b.radius_m * scale}
        fill={tree ? "var(--wood)" : "var(--boulder)"}
        stroke="var(--rock-edge)"
        strokeWidth={1.5}
      />
      <g className={light("webbing")}>
        <Webs b={b} x={x} y={y} scale={scale} colour={colour} />
      </g>
      {b.ring_m > b.reach_m + 1e-6 && (
        <path d={`M${x(b.reach_m)} ${y(0)}H${x(b.ring_m)}`} stroke={colour} strokeWidth={STRAND} />
      )}
      <RingMark x={x(b.ring_m) + 6} y={y(0)} lit={light("ring") !== undefined} />
      {b.knots.map((k, i) => (
        <KnotMark key={i} x={x(k.x_m)} y={y(k.y_m)} what={k.what} />
      ))}
      <Seen from="from above" />
      <Grip
        id="focal"
        label={`focal point, ${said(gain)} from the post`}
        x={x(b.reach_m)}
        y={y(0)}
        hold={hold}
        move={move}
      />
    </BenchFrame>
  );
}

/** The tie of a pattern in small, to tell it from the others. */
export function TieSketch({ b, tree, colour }: { b: Bench; tree: boolean; colour: string }) {
  const [w, h] = [58, 30];
  const scale = Math.min((w - 22) / (b.radius_m + Math.max(b.reach_m, b.ring_m)), (h - 14) / (2 * b.radius_m));
  const x = (m: number) => 8 + (b.radius_m + m) * scale;
  const y = (m: number) => h / 2 - m * scale;
  return (
    <svg width={w} height={h} className="block" aria-hidden="true" data-sketch={b.strands}>
      <circle cx={x(0)} cy={y(0)} r={b.radius_m * scale} fill={tree ? "var(--wood)" : "var(--boulder)"} />
      <Webs b={b} x={x} y={y} scale={scale} colour={colour} width={1.6} />
      {b.ring_m > b.reach_m + 1e-6 && (
        <path d={`M${x(b.reach_m)} ${y(0)}H${x(b.ring_m)}`} stroke={colour} strokeWidth={1.6} />
      )}
      {b.knots.map((k, i) => (
        <rect key={i} x={x(k.x_m) - 2} y={y(k.y_m) - 2} width={4} height={4} fill="var(--color-base-content)" />
      ))}
      <circle cx={x(b.ring_m) + 3} cy={y(0)} r={3} fill="none" stroke="var(--color-base-content)" strokeWidth={1.5} />
    </svg>
  );
}

/** Legs and arcs: one band for each pair of strands, an outer circle for a full turn. */
function Webs({
  b,
  x,
  y,
  scale,
  colour,
  width = STRAND,
}: {
  b: Bench;
  x: (m: number) => number;
  y: (m: number) => number;
  scale: number;
  colour: string;
  width?: number;
}) {
  const pairs = Math.max(1, b.strands / 2);
  const r = b.radius_m * scale;
  const single = b.strands === 1;
  return (
    <g fill="none" stroke={colour} strokeWidth={width} strokeLinejoin="round" strokeLinecap="round">
      {Array.from({ length: pairs }, (_, i) => {
        const out = (2 + i * 5) * (width / STRAND);
        const tx = b.touch_x_m + (out / scale) * Math.sin(Math.atan2(b.touch_x_m, b.touch_y_m));
        const ty = b.touch_y_m + (out / scale) * Math.cos(Math.atan2(b.touch_x_m, b.touch_y_m));
        return (
          <g key={i} strokeOpacity={i ? 0.72 : 1}>
            {single ? (
              <>
                <circle cx={x(0)} cy={y(0)} r={r + out} />
                <path d={`M${x(b.radius_m) + out} ${y(0)}H${x(b.reach_m)}`} />
              </>
            ) : (
              <path
                d={[
                  `M${x(b.reach_m)} ${y(0)}L${x(tx)} ${y(ty)}`,
                  `A${r + out} ${r + out} 0 1 0 ${x(tx)} ${y(-ty)}L${x(b.reach_m)} ${y(0)}`,
                ].join("")}
              />
            )}
          </g>
        );
      })}
      {b.turns > 0 && (
        <circle
          cx={x(0)}
          cy={y(0)}
          r={r + (3 + pairs * 5) * (width / STRAND)}
          strokeOpacity={0.6}
          strokeDasharray={b.turns > 1 ? "9 3" : undefined}
          {...(width === STRAND ? { role: "img", "aria-label": "full turn" } : {})}
        />
      )}
    </g>
  );
}
