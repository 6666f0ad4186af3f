// The drawing of one drop's section, in any view: rock, void, water, anchor, tie, ring, contacts, strands, ends.
import { createContext, useContext, useMemo } from "react";
import type { Drop, DropAssessment, Point, Rope, Sling, Webbing } from "../state/model";
import { cut, offset, path } from "./shape";
import { type Size, sx, sy, toScreen, type View } from "./view";

export const STRIPES: Record<Rope["stripe"] & string, { dash: string; cap: "butt" | "round"; width: number }> = {
  plain: { dash: "0 1000000", cap: "butt", width: 0 },
  dashes: { dash: "6 6", cap: "butt", width: 1.6 },
  dots: { dash: "0.1 6", cap: "round", width: 2.2 },
  bars: { dash: "2 5", cap: "butt", width: 4.5 },
  "twin line": { dash: "1000000", cap: "butt", width: 1.2 },
  "long dash": { dash: "16 5", cap: "butt", width: 1.6 },
};
/** The key of the part that is lit: pointed at in the load path. */
export const LitContext = createContext("");

/** How far the rope is pulled in the drawing, and which strand comes up. */
export const PulledContext = createContext<{ metres: number; ride: string } | null>(null);

const ROPE_WIDTH = 4.6;
const ASIDE = 3.2;

export function RopeLine({ points, rope, id }: { points: readonly Point[]; rope: Rope | undefined; id: string }) {
  const d = path(points);
  const stripe = STRIPES[rope?.stripe ?? "plain"];
  return (
    <g data-rope={id} fill="none" strokeLinejoin="round">
      <path d={d} stroke="#1b1b1b" strokeOpacity={0.55} strokeWidth={ROPE_WIDTH + 1.4} />
      <path d={d} stroke={rope?.colour ?? "#777777"} strokeWidth={ROPE_WIDTH} />
      {stripe.width > 0 && <path d={d} stroke="#fffdf6" strokeOpacity={0.92} strokeWidth={stripe.width} strokeDasharray={stripe.dash} strokeLinecap={stripe.cap} />}
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
function rockPoints(a: DropAssessment, view: View, size: Size): { rock: Point[]; floorY: number; landing: Point | null } {
  const terrain = a.geometry.terrain.map((t) => toScreen(view, [t.x_m, t.z_m]));
  const first = terrain[0]!;
  const far = size.width + 60;
  const left: Point[] = [[-60, first[1] - 14], [first[0] - 90, first[1] - 8], [first[0] - 26, first[1]]];
  const landing = a.geometry.terrain.length > 1 && a.geometry.missing.length === 0 ? terrain[terrain.length - 1]! : null;
  const base = Math.max(size.height + 60, ...terrain.map((p) => p[1] + 60));
  if (!landing) {
    const last = terrain[terrain.length - 1]!;
    return { rock: [...left.filter((p) => p[0] < first[0]), ...terrain, [last[0], base], [-60, base]], floorY: base, landing: null };
  }
  const [x, y] = landing;
  const kind = a.geometry.landing;
  const floor: Point[] =
    kind === "pool" || kind === "moving water" ? [[x + 3, y + 16], [x + 26, y + 24], [x + 110, y + 27], [x + 190, y + 12], [x + 232, y - 5], [far, y - 9]]
    : kind === "wading" ? [[x + 4, y + 7], [x + 90, y + 9], [x + 150, y - 3], [far, y - 6]]
    : kind === "ledge" ? [[x + 74, y + 1], [x + 80, y + 9], [x + 78, base]]
    : kind === "hanging stance" ? [[x, base]]
    : [[x + 60, y + 1], [x + 170, y - 3], [far, y + 1]];
  const closes: Point[] = kind === "ledge" || kind === "hanging stance" ? [[-60, base]] : [[far, base], [-60, base]];
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
      {kind === "moving water" && [0, 1, 2].map((i) => (
        <path key={i} d={`M${x + 40 + i * 52} ${y + 8}q8 -6 16 0t16 0m-5 -4l5 4l-6 3`} fill="none" stroke="var(--water-edge)" strokeWidth={1.4} />
      ))}
    </g>
  );
}

function Post({ drop, a, view, webbing }: { drop: Drop; a: DropAssessment; view: View; webbing: Webbing | Sling | undefined }) {
  const rig = drop.station.states[0]?.rig;
  const [x, y] = toScreen(view, [0, 0]);
  if (rig?.kind === "several") return <Points drop={drop} a={a} view={view} />;
  const id = rig?.kind === "wrap" ? rig.post : rig?.kind === "direct" ? rig.anchor : rig?.kind === "two posts" ? rig.first : "";
  const feature = drop.station.features.find((f) => f.id === id);
  if (!feature) return null;
  if (feature.kind !== "post") {
    return (
      <g aria-label={feature.name}>
        {feature.kind === "ice thread"
          ? <path d={`M${x - 26} ${y - 1}L${x - 14} ${y + 13}L${x - 2} ${y - 1}`} fill="none" stroke="var(--color-base-content)" strokeWidth={2} />
          : <><path d={`M${x - 9} ${y - 7}h8v14h-8z`} fill="var(--quiet)" stroke="var(--color-base-content)" strokeWidth={1.4} /><circle cx={x - 5} cy={y} r={2} fill="var(--color-base-100)" /></>}
      </g>
    );
  }
  const r = (a.geometry.post_radius_m ?? 0.25) * view.scale;
  const band = webbing?.colour ?? "#7a3b6b";
  const shape =
    feature.what === "tree" ? `M${x - 2 * r} ${y + 6}C${x - 2 * r - r * 0.2} ${y - 20} ${x - 2 * r} ${y - 60} ${x - 2 * r + r * 0.2} ${y - 400}H${x - r * 0.2}C${x} ${y - 60} ${x + r * 0.1} ${y - 20} ${x} ${y + 6}Z`
    : feature.what === "pillar" ? `M${x - 2 * r} ${y + 6}V${y - 2.6 * r}q${r} ${-r * 0.4} ${2 * r} 0V${y + 6}Z`
    : feature.what === "horn" ? `M${x - 2.2 * r} ${y + 8}C${x - 2 * r} ${y - r} ${x - 1.2 * r} ${y - 2.4 * r} ${x - 0.7 * r} ${y - 2.5 * r}C${x - 0.1 * r} ${y - 2 * r} ${x} ${y - r} ${x} ${y + 6}Z`
    : `M${x - 2 * r} ${y + 3}C${x - 2.15 * r} ${y - 0.7 * r} ${x - 1.7 * r} ${y - 1.25 * r} ${x - r} ${y - 1.25 * r}C${x - 0.3 * r} ${y - 1.2 * r} ${x + 0.05 * r} ${y - 0.6 * r} ${x} ${y + 4}Z`;
  return (
    <g aria-label={feature.name}>
      <path d={shape} fill={feature.what === "tree" ? "var(--wood)" : "var(--boulder)"} stroke="var(--rock-edge)" strokeWidth={1.6} />
      <path d={`M${x - 2 * r} ${y - 1}Q${x - r} ${y + Math.min(5, r / 3)} ${x} ${y}`} fill="none" stroke={band} strokeWidth={5} strokeLinecap="round" />
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
            <rect x={x - 4.5} y={y - 4.5} width={9} height={9} rx={2} fill="var(--quiet)" stroke="var(--color-base-content)" strokeWidth={1.4} />
          </g>
        );
      })}
    </g>
  );
}

export function Scene({ a, drop, ropes, webbing, view, size, id }: {
  a: DropAssessment; drop: Drop; ropes: readonly Rope[]; webbing: readonly (Webbing | Sling)[]; view: View; size: Size; id: string;
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
        <clipPath id={`rock-${id}`}><path d={rockPath} /></clipPath>
        <clipPath id={`void-${id}`}><path clipRule="evenodd" d={`M-100 -100H${size.width + 100}V${size.height + 100}H-100Z${rockPath}`} /></clipPath>
      </defs>
      {water && <Water at={landing} kind={g.landing} id={id} />}
      <path d={rockPath} fill="var(--rock)" fillOpacity={landing ? 1 : 0.4} />
      <path d={layers} fill="none" stroke="var(--strata)" strokeWidth={1} clipPath={`url(#rock-${id})`} />
      <path d={rockPath} fill="none" stroke="var(--rock-edge)" strokeWidth={1.6} strokeDasharray={landing ? undefined : "3 6"} />
      {g.landing === "hanging stance" && landing && <path d={`M${landing[0]} ${landing[1]}h26`} stroke="var(--rock-edge)" strokeWidth={5} />}
      <g className={light("anchor") ?? (lit.startsWith("point.") || lit.startsWith("leg.") ? "lit" : undefined)}><Post drop={drop} a={a} view={view} webbing={web} /></g>
      {g.tie.length > 1 && <path d={path(g.tie.map((p) => toScreen(view, p as Point)))} fill="none" stroke={web?.colour ?? "var(--quiet)"} strokeWidth={5} strokeLinejoin="round" aria-label="tie" className={light("webbing")} />}
      <Strands a={a} ropes={ropes} view={view} lit={lit} />
      {g.contacts.filter((c) => (c.turn.value * 180) / Math.PI >= 2).map((c) => (
        <circle key={c.index} cx={sx(view, c.x_m)} cy={sy(view, c.z_m)} r={3.6} fill="var(--color-base-100)" stroke="var(--color-base-content)" strokeWidth={1.8} aria-label="contact" />
      ))}
      {g.ring && !(rig?.kind === "direct" && rig.ring === null) && <circle cx={sx(view, g.ring[0])} cy={sy(view, g.ring[1])} r={6.2} fill="none" stroke="var(--color-base-content)" strokeWidth={2.8} aria-label="ring" className={light("ring")} />}
    </g>
  );
}

/** Both strands side by side by a fixed number of pixels, each to its true end; what lies on the landing lies out. */
function Strands({ a, ropes, view, lit }: { a: DropAssessment; ropes: readonly Rope[]; view: View; lit: string }) {
  const line = a.geometry.taut.map((p) => p as Point);
  const pulled = useContext(PulledContext);
  return (
    <g aria-label="strands">
      {a.reach.map((r, i) => {
        const rope = ropes.find((x) => x.id === r.rope);
        const aside = a.reach.length === 1 ? 0 : i === 0 ? -ASIDE : ASIDE;
        const whole = r.low === null;
        // Pulled, the side that comes up gets shorter by what the other gets longer; what the hand takes in leaves the drawing.
        const moved = pulled && !whole ? (r.key === pulled.ride ? -pulled.metres : 0) : 0;
        if (!whole && r.low!.value + moved <= 0) return null;
        const hang = whole ? line : cut(line, r.low!.value + moved);
        let points = offset(hang.map((p) => toScreen(view, p)), aside);
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
          <g key={r.key} opacity={whole ? 0.35 : 1} className={lit === `rope.${r.rope}-${r.end}` ? "lit" : undefined}>
            <RopeLine points={points} rope={rope} id={r.key} />
            {r.knotted
              ? <circle cx={end[0]} cy={end[1]} r={4.4} fill={rope?.colour ?? "#777777"} stroke="var(--color-base-content)" strokeWidth={1.4} aria-label="stopper" />
              : <path d={`M${end[0] - 5 * Math.sin(dir)} ${end[1] + 5 * Math.cos(dir)}L${end[0] + 5 * Math.sin(dir)} ${end[1] - 5 * Math.cos(dir)}`} stroke="var(--color-base-content)" strokeWidth={1.8} />}
            {ridden && <circle cx={ridden[0] + aside} cy={ridden[1]} r={4} fill="none" stroke={rope?.colour ?? "#777777"} strokeWidth={1.6} strokeDasharray="2 2" aria-label="end with a rider" />}
          </g>
        );
      })}
    </g>
  );
}
