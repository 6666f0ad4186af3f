// The cutaway: the drop to scale, its labels, its handles. What it paints always comes from one answer of the core.
import { Maximize2, Minus, Plus } from "lucide-react";
import {
  type CSSProperties,
  type ReactNode,
  type RefObject,
  useCallback,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from "react";
import type { Drop, DropAssessment, Point } from "../state/model";
import { useSession } from "../state/plan";
import { usePrefs } from "../state/prefs";
import { Num } from "../ui/Num";
import { Dimension, dimensionLabel, UpperBound } from "./Dimension";
import { HandleMark, useDrag } from "./drag";
import { handles } from "./handles";
import { Insets } from "./Insets";
import { GAP, place } from "./labels";
import { useLabels } from "./marks";
import { usePan } from "./pan";
import { Scene } from "./Scene";
import { LitContext, PulledContext } from "./Strands";
import {
  beside,
  bounds,
  fit,
  INSET_BELOW,
  isSmall,
  type Size,
  scaleBar,
  sx,
  sy,
  toScreen,
  type View,
  zoomAt,
} from "./view";

/**
 * ``corner``: what lies over the rock at the lower left; where the enlarged views stand there, only while a part is
 * lit or it is pinned.
 */
/** How far down labels may stand: above the ground or water beside the rope, where they fit there. */
function footOf(boxes: readonly { height: number }[], g: DropAssessment["geometry"], v: View, most: number): number {
  const last = g.terrain[g.terrain.length - 1];
  if (!last || g.terrain.length < 2 || g.missing.length > 0) return most;
  const ground = sy(v, last.z_m) - SHORE_PX;
  const needed = boxes.reduce((sum, b) => sum + b.height + GAP, 8);
  return ground >= needed ? Math.min(most, ground) : most;
}
/** The far shore is drawn this much above the landing. */
const SHORE_PX = 12;

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
  const { plan, refused } = useSession();
  const box = useRef<HTMLDivElement>(null);
  const size = useMeasured(box);
  const g = a.geometry;
  const { v, drag, zoom, refit, pan } = useEye({ a, drop, index }, box, size);
  const small = isSmall(size);
  // Where it would lie over ropes and handles, the view from above is shown when it is asked for.
  const tight = small || size.height < 330;
  const [asked, setAsked] = useState(false);
  const tall = !small && v.scale < INSET_BELOW && g.missing.length === 0;
  return (
    <div
      ref={box}
      className="cutaway relative h-full w-full overflow-hidden bg-[var(--void)]"
      // On paper it keeps the size that it was drawn in.
      style={{ "--tall": `${size.height}px` } as CSSProperties}
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
          ropes={plan.shed.ropes ?? []}
          webbing={[...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])]}
          view={v}
          size={size}
          id="main"
        />
        <UpperBound a={a} view={v} />
        {!small && <Dimension a={a} view={v} size={size} />}
        <ScaleBar view={v} size={size} />
        {tall && <Insets a={a} drop={drop} size={size} />}
        <g>
          {handles(g, drop).map((h) => (
            <HandleMark key={h.id} h={h} at={toScreen(v, h.at)} held={drag.held === h.id} drag={drag} />
          ))}
        </g>
      </svg>
      <Named a={a} drop={drop} v={v} size={size} />
      {!small && g.height && g.edge_z_m !== null && (
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
        <div className="absolute top-1/3 right-10 w-80 max-w-[80%]">
          <p className="sev-Not-checked text-lg font-bold">Not measured yet</p>
          <p>{g.missing.join(", ")}</p>
          <p className="quiet mt-1">Enter the figures below. The drawing and the checks follow.</p>
        </div>
      )}
      <div className="absolute top-2 left-2 flex gap-1">
        <Zooms refit={refit} zoom={(by) => zoom([size.width / 2, size.height / 2], by)} />
        {corner && tight && (
          <button type="button" className="act plain px-1" aria-pressed={asked} onClick={() => setAsked(!asked)}>
            From above
          </button>
        )}
      </div>
      {corner && (tight ? asked : !tall || lit || pinned) && (
        <div className={`absolute left-3 rounded bg-base-100/90 p-1.5 ${tight ? "top-11" : "bottom-10"}`}>{corner}</div>
      )}
      {drag.held && refused && (
        <p role="alert" className="sev-Shortfall absolute inset-x-0 bottom-2 text-center font-semibold">
          {refused.detail}
        </p>
      )}
    </div>
  );
}

/** The size of the drawing's box. */
function useMeasured(box: RefObject<HTMLDivElement | null>): Size {
  const [size, setSize] = useState<Size>({ width: 700, height: 500 });
  useLayoutEffect(() => {
    const el = box.current;
    if (!el) return;
    const measure = () => setSize({ width: el.clientWidth, height: el.clientHeight });
    measure();
    const watch = new ResizeObserver(measure);
    watch.observe(el);
    return () => watch.disconnect();
  }, [box]);
  return size;
}

/** What is in view, and how it is moved: fitted, zoomed, panned, still under a drag. */
function useEye(
  { a, drop, index }: { a: DropAssessment; drop: Drop; index: number },
  box: RefObject<HTMLDivElement | null>,
  size: Size,
) {
  const [view, setView] = useState<View | null>(null);
  const [byHand, setByHand] = useState(false);
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
  }, [box, refit, zoom]);
  const pan = usePan(v, (next) => {
    setByHand(true);
    setView(next);
  });
  return { v, drag, zoom, refit, pan };
}

/** What is told beside the drawing, in a column, none over another. */
function Named({ a, drop, v, size }: { a: DropAssessment; drop: Drop; v: View; size: Size }) {
  const { units } = usePrefs();
  const pulled = useContext(PulledContext);
  const labels = [...useLabels(a, drop, v, units === "us", pulled)];
  const small = isSmall(size);
  const past = sx(v, bounds(a.geometry).right) + (small ? 24 : 46);
  const boxOf = (l: (typeof labels)[number]) => ({ id: l.id, x: l.at[0], y: l.at[1], height: l.sub ? 32 : 17 });
  // Where there is no room for all, contacts of which nothing is open go without words; the pull lists them.
  while (labels.length > 3 && labels.reduce((sum, l) => sum + boxOf(l).height + GAP, 8) > size.height - 60) {
    const spare = labels.findLastIndex((l) => l.minor);
    if (spare < 0) break;
    labels.splice(spare, 1);
  }
  const boxes = labels.map(boxOf);
  const placed = place(boxes, 8, footOf(boxes, a.geometry, v, size.height - 30));
  const x = Math.min(size.width - beside(size), Math.max(past, small ? 120 : 200));
  const all = placed.map((p) => ({ l: labels.find((l) => l.id === p.id)!, y: p.y }));
  return (
    <>
      <svg width={size.width} height={size.height} className="pointer-events-none absolute inset-0" aria-hidden="true">
        {all.map(({ l: { id, at }, y }) => (
          <path
            key={id}
            d={`M${at[0] + 7} ${at[1]}L${x - 26} ${y + 9}H${x - 5}`}
            fill="none"
            stroke="var(--leader)"
            strokeWidth={1}
          />
        ))}
      </svg>
      {all.map(({ l, y }) => (
        <div
          key={l.id}
          data-label={l.id}
          className={`mark-label absolute leading-[15.5px] whitespace-nowrap ${l.tone ?? ""}`}
          style={{ left: x, top: y }}
        >
          <div className="font-semibold">{l.title}</div>
          {l.sub && <div className={l.tone ? "" : "quiet"}>{l.sub}</div>}
        </div>
      ))}
    </>
  );
}

function ScaleBar({ view, size }: { view: View; size: Size }) {
  const { units } = usePrefs();
  const bar = scaleBar(view, units === "us");
  const long = bar.metres * view.scale;
  return (
    <g transform={`translate(14 ${size.height - 16})`} role="img" aria-label="scale bar">
      <path d={`M0 -5V0H${long}V-5`} fill="none" stroke="var(--color-base-content)" strokeWidth={1.4} />
      <text x={long + 6} y={1} fontSize={11.5} fill="var(--color-base-content)">
        {bar.text}
      </text>
    </g>
  );
}

function Zooms({ refit, zoom }: { refit: () => void; zoom: (by: number) => void }) {
  return (
    <>
      <button type="button" className="act plain px-1" title="Fit (F)" aria-label="fit the drawing" onClick={refit}>
        <Maximize2 size={15} />
      </button>
      <button
        type="button"
        className="act plain px-1"
        title="Zoom in (+)"
        aria-label="zoom in"
        onClick={() => zoom(1.25)}
      >
        <Plus size={15} />
      </button>
      <button
        type="button"
        className="act plain px-1"
        title="Zoom out (−)"
        aria-label="zoom out"
        onClick={() => zoom(0.8)}
      >
        <Minus size={15} />
      </button>
    </>
  );
}
