// The cutaway: the drop to scale, its labels, its handles. What it paints always comes from one answer of the core.
import { Maximize2, Minus, Plus } from "lucide-react";
import {
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import { spoken } from "../say";
import { inState } from "../state/edits";
import type { Drop, DropAssessment, Point } from "../state/model";
import { useSession } from "../state/plan";
import { usePrefs } from "../state/prefs";
import { useWhich } from "../state/which";
import { Num } from "../ui/Num";
import { type Handle, handles, ringReach, setGain } from "./handles";
import { place } from "./labels";
import { LitContext, PulledContext, type PulledView, Scene } from "./Scene";
import { cut } from "./shape";
import {
  bounds,
  DIMENSION,
  fit,
  INSET_BELOW,
  LABEL_COLUMN,
  type Size,
  scaleBar,
  sx,
  sy,
  toScreen,
  type View,
  zoomAt,
} from "./view";

interface Label {
  id: string;
  at: Point;
  title: ReactNode;
  sub?: ReactNode;
  tone?: string;
}

const STEADY_PX = 4;
const SETTLE_MS = 500;

/**
 * ``corner``: what lies over the rock at the lower left; where the enlarged views stand there, only while a part is
 * lit or it is pinned.
 */
export function Cutaway({
  a,
  drop,
  index,
  corner,
  pinned = false,
}: {
  a: DropAssessment;
  drop: Drop;
  index: number;
  corner?: ReactNode;
  pinned?: boolean;
}) {
  const lit = useContext(LitContext);
  const session = useSession();
  const { units } = usePrefs();
  const box = useRef<HTMLDivElement>(null);
  const [size, setSize] = useState<Size>({ width: 700, height: 500 });
  const [view, setView] = useState<View | null>(null);
  const [byHand, setByHand] = useState(false);
  useLayoutEffect(() => {
    const el = box.current;
    if (!el) return;
    const measure = () => setSize({ width: el.clientWidth, height: el.clientHeight });
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(el);
    return () => watch.disconnect();
  }, []);

  const drag = useDrag(a, drop, index, view);
  const g = a.geometry;
  const ideal = useMemo(() => fit(bounds(g), size), [g, size]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another drop, or another size, is fitted afresh
  useEffect(() => {
    setView(null);
    setByHand(false);
  }, [drop.id, size]);
  // The view stays still under the pointer; once a change is saved it is fitted again unless it was set by hand.
  const shown: View = drag.frozen ?? (byHand && view ? view : ideal);
  useEffect(() => {
    if (!drag.frozen && !byHand) setView(ideal);
  }, [ideal, drag.frozen, byHand]);
  const v = drag.shift(shown, g);

  const zoom = useCallback(
    (at: Point, by: number) => {
      setByHand(true);
      setView((old) => zoomAt(old ?? ideal, at, by));
    },
    [ideal],
  );
  const refit = useCallback(() => {
    setByHand(false);
    setView(null);
  }, []);
  useEffect(() => {
    const el = box.current;
    if (!el) return;
    const wheel = (e: WheelEvent) => {
      e.preventDefault();
      const r = el.getBoundingClientRect();
      zoom([e.clientX - r.left, e.clientY - r.top], Math.exp(-e.deltaY * 0.0015));
    };
    const command = (e: Event) => {
      const what = (e as CustomEvent<string>).detail;
      const middle: Point = [el.clientWidth / 2, el.clientHeight / 2];
      if (what === "fit") refit();
      else zoom(middle, what === "in" ? 1.25 : 0.8);
    };
    el.addEventListener("wheel", wheel, { passive: false });
    window.addEventListener("cutaway", command);
    return () => {
      el.removeEventListener("wheel", wheel);
      window.removeEventListener("cutaway", command);
    };
  }, [refit, zoom]);

  const pan = usePan(v, (next) => {
    setByHand(true);
    setView(next);
  });
  const pulled = useContext(PulledContext);
  const labels = useLabels(a, drop, v, units === "us", pulled);
  const columnX = Math.min(size.width - LABEL_COLUMN - DIMENSION, Math.max(sx(v, bounds(g).right) + 46, 200));
  const placed = place(
    labels.map((l) => ({ id: l.id, x: l.at[0], y: l.at[1], height: l.sub ? 32 : 17 })),
    8,
    size.height - 30,
  );
  const bar = scaleBar(v, units === "us");
  const tall = v.scale < INSET_BELOW && g.missing.length === 0;
  return (
    <div
      ref={box}
      className="relative h-full w-full overflow-hidden bg-[var(--void)]"
      data-testid="cutaway"
      data-scale={v.scale.toFixed(2)}
    >
      <svg
        width={size.width}
        height={size.height}
        className="absolute inset-0 select-none"
        role="group"
        aria-label={`cutaway of ${drop.name}`}
        {...pan}
      >
        <Scene
          a={a}
          drop={drop}
          ropes={session.plan.shed.ropes ?? []}
          webbing={[...(session.plan.shed.webbing ?? []), ...(session.plan.shed.slings ?? [])]}
          view={v}
          size={size}
          id="main"
        />
        <UpperBound a={a} view={v} />
        {placed.map((p) => {
          const l = labels.find((x) => x.id === p.id)!;
          const y = p.y + 9;
          return (
            <path
              key={p.id}
              d={`M${l.at[0] + 7} ${l.at[1]}L${columnX - 26} ${y}H${columnX - 5}`}
              fill="none"
              stroke="var(--leader)"
              strokeWidth={1}
            />
          );
        })}
        <Dimension a={a} view={v} size={size} />
        <g transform={`translate(14 ${size.height - 16})`} aria-label="scale bar">
          <path
            d={`M0 -5V0H${bar.metres * v.scale}V-5`}
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={1.4}
          />
          <text x={bar.metres * v.scale + 6} y={1} fontSize={11.5} fill="var(--color-base-content)">
            {bar.text}
          </text>
        </g>
        {tall && <Insets a={a} drop={drop} size={size} />}
        <g>
          {handles(g, drop).map((h) => (
            <HandleMark key={h.id} h={h} at={toScreen(v, h.at)} held={drag.held === h.id} drag={drag} />
          ))}
        </g>
      </svg>
      {placed.map((p) => {
        const l = labels.find((x) => x.id === p.id)!;
        return (
          <div
            key={p.id}
            data-label={p.id}
            className={`mark-label absolute leading-[15.5px] whitespace-nowrap ${l.tone ?? ""}`}
            style={{ left: columnX, top: p.y }}
          >
            <div className="font-semibold">{l.title}</div>
            {l.sub && <div className={l.tone ? "" : "quiet"}>{l.sub}</div>}
          </div>
        );
      })}
      {g.height && g.edge_z_m !== null && (
        <div
          data-label="height"
          className="mark-label absolute leading-[15.5px] whitespace-nowrap"
          style={dimensionLabel(a, v, size)}
        >
          <Num n={g.height} />
          <div className="quiet">height</div>
        </div>
      )}
      {g.missing.length > 0 && (
        <div className="absolute top-1/3 right-10 w-80">
          <p className="sev-Not-checked text-lg font-bold">Not measured yet</p>
          <p>{g.missing.join(", ")}</p>
          <p className="quiet mt-1">Enter the figures below. The drawing and the checks follow.</p>
        </div>
      )}
      <div className="absolute top-2 left-2 flex gap-1">
        <button type="button" className="act plain px-1" title="Fit (F)" aria-label="fit the drawing" onClick={refit}>
          <Maximize2 size={15} />
        </button>
        <button
          type="button"
          className="act plain px-1"
          title="Zoom in (+)"
          aria-label="zoom in"
          onClick={() => zoom([size.width / 2, size.height / 2], 1.25)}
        >
          <Plus size={15} />
        </button>
        <button
          type="button"
          className="act plain px-1"
          title="Zoom out (−)"
          aria-label="zoom out"
          onClick={() => zoom([size.width / 2, size.height / 2], 0.8)}
        >
          <Minus size={15} />
        </button>
      </div>
      {corner && (!tall || lit || pinned) && (
        <div className="absolute bottom-10 left-3 rounded bg-base-100/90 p-1.5">{corner}</div>
      )}
      {drag.held && session.refused && (
        <p role="alert" className="sev-Shortfall absolute inset-x-0 bottom-2 text-center font-semibold">
          {session.refused.detail}
        </p>
      )}
    </div>
  );
}

/** Which corner of a line a point is, or −1. A line drawn off to the side has its corners a little elsewhere. */
function corner(line: readonly Point[], x: number, z: number): number {
  return line.findIndex((p, i) => i > 0 && i + 1 < line.length && Math.hypot(p[0] - x, p[1] - z) < 0.3);
}

function useLabels(a: DropAssessment, drop: Drop, v: View, us: boolean, pulled: PulledView | null): Label[] {
  const deviations = drop.station.deviations ?? [];
  const aside = drop.landing.aside_m?.kind === "known" ? drop.landing.aside_m.value : 0;
  return useMemo(() => {
    const g = a.geometry;
    const made: Label[] = [];
    const force = (n: number) =>
      spoken({ value: n, quantity: "pull", toward: "up", working: "" }, us ? "us" : "metric");
    // Tension just below a corner and just above it, on either strand, while it is pulled.
    const strain = (x: number, z: number): string | null => {
      if (!pulled) return null;
      const [i, j] = [corner(pulled.upLine, x, z), corner(pulled.downLine, x, z)];
      const parts = [];
      if (i > 0 && pulled.here.up_n[2 * i]! > 0)
        parts.push(`up ${force(pulled.here.up_n[2 * i]!)} → ${force(pulled.here.up_n[2 * i - 1]!)}`);
      if (j > 0) parts.push(`down ${force(pulled.here.down_n[2 * j - 1]!)} → ${force(pulled.here.down_n[2 * j]!)}`);
      return parts.join("; ");
    };
    const at = (x: number, z: number): Point => [sx(v, x), sy(v, z)];
    if (g.ring) {
      made.push({
        id: "ring",
        at: at(g.ring[0], g.ring[1]),
        title: a.parts.some((p) => p.key === "ring") || a.parts.length === 0 ? "ring" : "rope",
        sub: pulled
          ? `${force(pulled.here.up_n[0] ?? 0)} → ${force(pulled.here.down_n[0] ?? 0)}`
          : g.post_name
            ? `on ${g.post_name}`
            : undefined,
      });
    }
    g.contacts.forEach((c) => {
      if ((c.turn.value * 180) / Math.PI < 2) return;
      made.push({
        id: `contact-${c.index}`,
        at: at(c.x_m, c.z_m),
        title: (
          <>
            {c.kind}
            {c.edge !== "rounded" && c.edge !== "unknown" ? `, ${c.edge}` : ""} · turns <Num n={c.turn} />
          </>
        ),
        ...(pulled
          ? { sub: strain(c.x_m, c.z_m) ?? undefined }
          : c.edge === "unknown"
            ? { sub: "sharpness not checked", tone: "sev-Not-checked" }
            : {}),
      });
    });
    if (pulled) {
      for (const d of deviations) {
        const mark =
          d.left_in && d.below_m.kind === "known" ? cut(g.taut as Point[], d.below_m.value).at(-1) : undefined;
        if (mark)
          made.push({
            id: `dev-${d.id}`,
            at: at(mark[0], mark[1]),
            title: d.name,
            sub: strain(mark[0], mark[1]) ?? undefined,
          });
      }
      const hand = pulled.downLine[pulled.downLine.length - 1];
      if (hand)
        made.push({
          id: "hand",
          at: at(hand[0], hand[1]),
          title: <>{force(pulled.here.high_n)} at the hand</>,
          sub: <>at the least friction {force(pulled.here.low_n)}</>,
        });
      return made;
    }
    const ends = new Map<string, DropAssessment["reach"]>();
    for (const r of a.reach) {
      if (!r.free) continue;
      const where = `${r.name}|${r.free.above.value.toFixed(2)}|${r.spare?.value.toFixed(2) ?? ""}`;
      ends.set(where, [...(ends.get(where) ?? []), r]);
    }
    for (const group of ends.values()) {
      const r = group[0]!;
      const above = r.free!.above;
      const name = group.length > 1 ? `${r.name}, both ends` : `${r.name} ${r.end.toUpperCase()}, ${r.role}`;
      const short = r.spare !== null && r.spare.value < 0;
      const ridden =
        above.value <= 0 || r.role === "pull" ? null : r.ridden ? (
          <>
            , <Num n={r.ridden.above} /> with a rider
          </>
        ) : (
          <>, with a rider not checked</>
        );
      made.push({
        id: `end-${r.key}`,
        at: at(r.free!.x_m, r.free!.z_m),
        tone: short ? "sev-Shortfall" : "",
        title:
          short && r.spare ? (
            <>
              {name} <Num n={{ ...r.spare, value: -r.spare.value, toward: "up" }} /> short
            </>
          ) : (
            name
          ),
        sub:
          above.value > 0 ? (
            <>
              hangs <Num n={above} /> up{ridden}
            </>
          ) : (
            <>
              <Num n={{ ...above, value: -above.value, toward: "down" }} /> on the landing
            </>
          ),
      });
    }
    for (const r of a.reach) {
      if (r.role !== "reserve" || !g.ring || !r.low) continue;
      made.push({
        id: "reserve",
        at: at(g.ring[0], g.ring[1]),
        title: (
          <>
            reserve <Num n={{ ...r.low, value: Math.max(0, r.low.value) }} /> in the bag
          </>
        ),
        sub: r.spare && r.spare.value < 0 && r.highest ? undefined : "lowers from anywhere",
        tone: r.spare && r.spare.value < 0 ? "sev-Shortfall" : "",
      });
      const mark = r.highest && r.highest.value > 0.05 ? cut(g.taut as Point[], r.highest.value).at(-1) : undefined;
      if (mark && r.highest)
        made.push({
          id: "highest",
          at: at(mark[0], mark[1]),
          title: "a lower reaches from here down",
          sub: (
            <>
              <Num n={r.highest} /> below the ring
            </>
          ),
        });
    }
    for (const d of deviations) {
      const mark = d.below_m.kind === "known" ? cut(g.taut as Point[], d.below_m.value).at(-1) : undefined;
      if (mark)
        made.push({
          id: `dev-${d.id}`,
          at: at(mark[0], mark[1]),
          title: d.name,
          sub: d.left_in ? "stays in, pulled through" : "the last person takes it out",
        });
    }
    const foot_ = g.terrain[g.terrain.length - 1];
    if (aside > 0 && foot_)
      made.push({
        id: "aside",
        at: at(foot_.x_m, foot_.z_m),
        title: (
          <>
            landing <Num n={{ value: aside, quantity: "length", toward: "near", working: "" }} /> off to the side
          </>
        ),
      });
    if (g.recess) {
      const lip = g.taut[g.taut.length - 1];
      const foot = g.terrain[g.terrain.length - 1];
      if (lip && foot)
        made.push({
          id: "recess",
          at: at((lip[0] + foot.x_m) / 2, lip[1]),
          title: (
            <>
              landing <Num n={g.recess} /> back under
            </>
          ),
        });
    }
    const high = g.high[g.high.length - 1];
    const low = g.terrain[g.terrain.length - 1];
    if (high && low && low.z_m - high[1] > 0.3) {
      const more = { value: low.z_m - high[1], quantity: "length", toward: "up", working: "" } as const;
      const deeper = spoken(more, us ? "us" : "metric");
      made.push({
        id: "upper",
        at: at(high[0] + 30 / v.scale, high[1]),
        title: <span className="font-normal">landing, at the survey's limit</span>,
        sub: <>up to {deeper} deeper</>,
      });
    }
    return made;
  }, [a, v, us, pulled, deviations, aside]);
}

function UpperBound({ a, view }: { a: DropAssessment; view: View }) {
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
      aria-label="landing at the upper bound"
    />
  );
}

function dimensionX(size: Size): number {
  return size.width - DIMENSION + 14;
}

function dimensionLabel(a: DropAssessment, v: View, size: Size) {
  const top = sy(v, a.geometry.edge_z_m ?? 0);
  const bottom = sy(v, a.geometry.terrain[a.geometry.terrain.length - 1]!.z_m);
  const middle = Math.min(size.height - 60, Math.max(10, (Math.max(0, top) + Math.min(size.height, bottom)) / 2 - 16));
  return { left: dimensionX(size) + 10, top: middle };
}

function Dimension({ a, view, size }: { a: DropAssessment; view: View; size: Size }) {
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
      aria-label="height"
    />
  );
}

/** Enlarged views of the ring and the landing, for a drop too tall to show them. */
function Insets({ a, drop, size }: { a: DropAssessment; drop: Drop; size: Size }) {
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
      <svg key={id} x={12} y={top} width={w} height={h} aria-label={title} overflow="hidden">
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

interface Drag {
  held: string | null;
  frozen: View | null;
  shift: (v: View, g: DropAssessment["geometry"]) => View;
  down: (h: Handle, e: PointerEvent) => void;
  key: (h: Handle, e: KeyboardEvent) => void;
  blur: () => void;
}

/** A drag is one edit, made on release; Escape cancels it. Arrow keys move a handle and settle after a moment. */
function useDrag(a: DropAssessment, drop: Drop, index: number, view: View | null): Drag {
  const { propose, commit, cancel, plan, draft, saving } = useSession();
  const which = useWhich();
  const [held, setHeld] = useState<string | null>(null);
  const [frozen, setFrozen] = useState<View | null>(null);
  const still = useRef<{ index: number; at: Point } | null>(null);
  const keyed = useRef<{ id: string; drop: Drop; handle: Handle; dx: number; dz: number; timer: number } | null>(null);
  const latest = useRef(view);
  latest.current = view ?? latest.current;

  // After the release the view stays until the saved answer has come.
  useEffect(() => {
    if (!held && !draft && saving.kind !== "saving") {
      setFrozen(null);
      still.current = null;
    }
  }, [held, draft, saving]);

  const start = (h: Handle) => {
    setHeld(h.id);
    setFrozen(latest.current);
    const t = h.still === undefined ? undefined : a.geometry.terrain[h.still];
    still.current = t && h.still !== undefined ? { index: h.still, at: [t.x_m, t.z_m] } : null;
  };
  const down = (h: Handle, e: PointerEvent) => {
    if (e.button !== 0 || !latest.current) return;
    e.preventDefault();
    e.stopPropagation();
    settle();
    const target = e.currentTarget as Element;
    target.setPointerCapture(e.pointerId);
    (target as SVGElement).focus();
    start(h);
    const from: Point = [e.clientX, e.clientY];
    const scale = latest.current.scale;
    const base = plan.drops?.find((d) => d.id === drop.id) ?? drop;
    let moved = false;
    const move = (m: globalThis.PointerEvent) => {
      const px: Point = [m.clientX - from[0], m.clientY - from[1]];
      const dx = Math.abs(px[0]) < STEADY_PX ? 0 : px[0] / scale;
      const dz = Math.abs(px[1]) < STEADY_PX ? 0 : -px[1] / scale;
      if (dx === 0 && dz === 0 && !moved) return;
      moved = true;
      propose(
        inState(base, which, (d) => h.move(d, dx, dz)),
        index,
      );
    };
    const end = () => {
      target.removeEventListener("pointermove", move as EventListener);
      target.removeEventListener("pointerup", up);
      target.removeEventListener("pointercancel", abandon);
      window.removeEventListener("keydown", onEscape, true);
      setHeld(null);
    };
    const up = () => {
      end();
      if (moved) commit();
      else cancel();
    };
    const abandon = () => {
      end();
      cancel();
    };
    const onEscape = (k: globalThis.KeyboardEvent) => {
      if (k.key === "Escape") {
        k.stopPropagation();
        abandon();
      }
    };
    target.addEventListener("pointermove", move as EventListener);
    target.addEventListener("pointerup", up);
    target.addEventListener("pointercancel", abandon);
    window.addEventListener("keydown", onEscape, true);
  };
  const settle = () => {
    const k = keyed.current;
    if (!k) return;
    clearTimeout(k.timer);
    keyed.current = null;
    setHeld(null);
    commit();
  };
  const key = (h: Handle, e: KeyboardEvent) => {
    const way: Point | undefined = (
      { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] } as Record<string, Point>
    )[e.key];
    if (e.key === "Escape" && keyed.current) {
      clearTimeout(keyed.current.timer);
      keyed.current = null;
      setHeld(null);
      cancel();
      e.stopPropagation();
      return;
    }
    if (e.key === "Enter") return settle();
    if (!way) return;
    e.preventDefault();
    e.stopPropagation();
    const by = e.shiftKey ? 1 : 0.1;
    let k = keyed.current;
    if (!k || k.id !== h.id) {
      settle();
      start(h);
      k = keyed.current = {
        id: h.id,
        drop: plan.drops?.find((d) => d.id === drop.id) ?? drop,
        handle: h,
        dx: 0,
        dz: 0,
        timer: 0,
      };
    }
    clearTimeout(k.timer);
    k.dx += way[0] * by;
    k.dz += way[1] * by;
    // The ring moves along the rope's path: out and down lengthen the tie.
    const along = k.dx - k.dz;
    const { handle, dx, dz } = k;
    propose(
      inState(k.drop, which, (d) => (h.id === "ring" ? moveRing(d, along) : handle.move(d, round(dx), round(dz)))),
      index,
    );
    k.timer = window.setTimeout(settle, SETTLE_MS);
  };
  const shift = (v: View, g: DropAssessment["geometry"]): View => {
    const s = still.current;
    const t = s ? g.terrain[s.index] : undefined;
    return s && t && frozen
      ? { ...v, ox: v.ox + (s.at[0] - t.x_m) * v.scale, oy: v.oy - (s.at[1] - t.z_m) * v.scale }
      : v;
  };
  return { held, frozen, shift, down, key, blur: settle };
}

const round = (x: number): number => Math.round(x * 1000) / 1000;

function moveRing(drop: Drop, by: number): Drop {
  const out = ringReach(drop);
  return out === null ? drop : setGain(drop, out + by);
}

function HandleMark({ h, at, held, drag }: { h: Handle; at: Point; held: boolean; drag: Drag }) {
  return (
    <g
      className={`handle ${held ? "held" : ""}`}
      tabIndex={0}
      role="button"
      aria-label={`${h.label}: drag, or move with the arrow keys`}
      data-handle={h.id}
      transform={`translate(${(at[0] + (h.nudge ?? 0)).toFixed(2)} ${at[1].toFixed(2)})`}
      onPointerDown={(e) => drag.down(h, e)}
      onKeyDown={(e) => drag.key(h, e)}
      onBlur={drag.blur}
    >
      <circle r={12} fill="transparent" />
      <circle
        className="dot"
        r={8}
        fill="var(--color-accent)"
        fillOpacity={0.35}
        stroke="var(--color-accent)"
        strokeWidth={2}
      />
    </g>
  );
}

function usePan(v: View, set: (v: View) => void) {
  const from = useRef<{ at: Point; view: View } | null>(null);
  return {
    onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      from.current = { at: [e.clientX, e.clientY], view: v };
    },
    onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
      const f = from.current;
      if (f && Math.hypot(e.clientX - f.at[0], e.clientY - f.at[1]) > 3) {
        set({ ...f.view, ox: f.view.ox + e.clientX - f.at[0], oy: f.view.oy + e.clientY - f.at[1] });
      }
    },
    onPointerUp: () => {
      from.current = null;
    },
    onPointerCancel: () => {
      from.current = null;
    },
  };
}
