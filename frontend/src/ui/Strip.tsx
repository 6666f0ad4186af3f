// The descent down the left edge: every drop in one profile, one scale downward, stations as stops; the navigation.
import { memo, useCallback, useEffect, useLayoutEffect, useMemo, useRef, useState } from "react";
import { place } from "../cutaway/labels";
import { path } from "../cutaway/shape";
import { alike } from "../state/changes";
import { NOBODY, useCount, useTally } from "../state/check";
import { useNoReturn } from "../state/descent";
import type { Assessment, Count, DropAssessment, Point } from "../state/model";
import { useDragged, useSession } from "../state/plan";
import { Standing } from "./Findings";
import { Num } from "./Num";

const WIDTH = 264;
const WALK = 5;
const LABEL = 34;
const PROFILE = 84;
const TOP = 18;
const UNKNOWN_M = 6;

interface StopAt {
  d: DropAssessment;
  x: number;
  y: number;
}

/** One continuous profile in pixels. A drop without a section keeps a dashed place of its own. */
function profile(
  drops: readonly DropAssessment[],
  room: number,
): { points: Point[]; dashed: Point[][]; stops: StopAt[]; height: number } {
  const sizes = drops.map((d) => {
    const t = d.geometry.terrain;
    const whole = d.geometry.missing.length === 0 && t.length > 1;
    const last = t[t.length - 1];
    return { whole, out: whole && last ? Math.max(0, last.x_m) : 1, down: whole && last ? -last.z_m : UNKNOWN_M };
  });
  const down = sizes.reduce((s, x) => s + x.down, 0) || 1;
  const out = sizes.reduce((s, x) => s + x.out, 0) || 1;
  const wanted = Math.max(room - TOP - 44, drops.length * (LABEL + 4));
  // Downward it fills what room there is, to one scale; outward it is drawn narrower where it would take the labels'.
  const scale = wanted / down;
  const wide = Math.min(PROFILE, 30 + drops.length * 8);
  const across = Math.min(scale, Math.max(0.6, (wide - drops.length * 2) / out));
  let x = 14;
  let y = TOP;
  const points: Point[] = [
    [0, y],
    [x, y],
  ];
  const dashed: Point[][] = [];
  const stops: StopAt[] = [];
  const walk = Math.min(WALK, (wide - out * across) / Math.max(1, drops.length));
  drops.forEach((d, i) => {
    stops.push({ d, x, y });
    const s = sizes[i]!;
    const from: Point = [x, y];
    if (s.whole) for (const t of d.geometry.terrain) points.push([from[0] + t.x_m * across, from[1] - t.z_m * scale]);
    else {
      dashed.push([from, [from[0] + s.out * across, from[1] + s.down * scale]]);
      points.push([from[0] + s.out * across, from[1] + s.down * scale]);
    }
    const end = points[points.length - 1]!;
    x = end[0] + Math.max(1, walk);
    y = end[1];
    points.push([x, y]);
  });
  return { points, dashed, stops, height: y + 40 };
}

export function Strip({
  selected,
  onSelect,
  onAdd,
}: {
  selected: string;
  onSelect: (id: string) => void;
  onAdd: () => void;
}) {
  const { view } = useSession();
  const draft = useDragged();
  const noReturn = useNoReturn();
  const count = useCount();
  const scroller = useRef<HTMLDivElement>(null);
  const [room, setRoom] = useState(600);
  useLayoutEffect(() => {
    const el = scroller.current;
    if (!el) return;
    const watch = new ResizeObserver(() => setRoom(el.clientHeight));
    watch.observe(el);
    return () => watch.disconnect();
  }, []);
  const drops = useMemo(
    () => view.assessment.drops.map((d) => (draft?.drop.id === d.id ? draft.answer : d)),
    [view, draft],
  );
  const p = useMemo(() => profile(drops, room), [drops, room]);
  const { placed, height } = useMemo(() => {
    const boxes = p.stops.map((s) => ({ id: s.d.id, x: s.x, y: s.y + LABEL / 2 - 9, height: LABEL }));
    const placed = place(boxes, 4, Math.max(p.height, drops.length * (LABEL + 4) + 8));
    return { placed, height: Math.max(p.height, ...placed.map((l) => l.y + LABEL + 10), room) };
  }, [p, drops.length, room]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: more or less room may have moved the stop out of sight
  useEffect(() => {
    scroller.current?.querySelector(`[data-stop="${selected}"]`)?.scrollIntoView({ block: "nearest" });
  }, [selected, room]);
  // Labels that did not change are not drawn again: what a press does is looked up when it comes.
  const go = useRef(onSelect);
  go.current = onSelect;
  const select = useCallback((id: string) => go.current(id), []);
  const a = view.assessment;
  return (
    <nav className="flex h-full w-[264px] shrink-0 flex-col bg-[var(--strip)]" aria-label="drops">
      <Total a={a} />
      <div ref={scroller} className="relative min-h-0 grow overflow-x-hidden overflow-y-auto">
        <div className="relative" style={{ height, width: WIDTH }}>
          <Profile p={p} placed={placed} height={height} selected={selected} noReturn={noReturn} />
          {placed.map((l) => {
            const s = p.stops.find((x) => x.d.id === l.id)!;
            return (
              <Stop
                key={l.id}
                d={s.d}
                x={s.x}
                y={l.y}
                on={s.d.id === selected}
                stands={draft?.drop.id === s.d.id ? NOBODY(s.d.tally) : count(s.d.id, s.d.tally)}
                select={select}
              />
            );
          })}
          {p.stops.length === 0 && (
            <p className="quiet px-4 pt-4">No drops yet. Add the first one, top of the descent first.</p>
          )}
        </div>
      </div>
      <div className="rule-t p-2.5">
        <button type="button" className="act w-full" data-path="drops" onClick={onAdd}>
          Add a drop{a.drops.length ? " after this one" : ""}
        </button>
      </div>
    </nav>
  );
}

/** The whole descent in figures. */
function Total({ a }: { a: Assessment }) {
  const tally = useTally();
  return (
    <div className="px-3 pt-3 pb-2">
      <div className="text-[15px] font-bold">
        {a.heights_unknown < a.drops.length && (
          <>
            <Num n={a.total_height} /> in{" "}
          </>
        )}
        {a.drops.length} drop{a.drops.length === 1 ? "" : "s"}
      </div>
      <Standing tally={tally} bare />
      {a.heights_unknown > 0 && (
        <div className="quiet text-xs">
          {a.heights_unknown} drop{a.heights_unknown === 1 ? "" : "s"} without a height
        </div>
      )}
    </div>
  );
}

/** The rock of all drops, a stroke at each station, and where there is no way back. */
const Profile = memo(function Profile({
  p,
  placed,
  height,
  selected,
  noReturn,
}: {
  p: ReturnType<typeof profile>;
  placed: readonly { id: string; y: number }[];
  height: number;
  selected: string;
  noReturn: readonly string[];
}) {
  return (
    <svg width={WIDTH} height={height} className="absolute inset-0" aria-hidden="true">
      {p.points.length > 2 && (
        <>
          <path
            d={path([...p.points, [p.points[p.points.length - 1]![0], height], [0, height]], true)}
            fill="var(--rock)"
          />
          <path
            d={path(p.points)}
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={1.6}
            strokeLinejoin="round"
          />
        </>
      )}
      {p.dashed.map((d, i) => (
        <path key={i} d={path(d)} stroke="var(--strip)" strokeWidth={2} strokeDasharray="3 4" />
      ))}
      {p.stops.map((s) => (
        <path
          key={s.d.id}
          d={`M${s.x - 9} ${s.y}h14`}
          stroke="var(--color-base-content)"
          strokeWidth={s.d.id === selected ? 4 : 2.6}
        />
      ))}
      {p.stops.map((s, i) => {
        const next = placed.find((l) => l.id === p.stops[i + 1]?.d.id);
        const y = (next?.y ?? p.height - 30) - 2;
        return noReturn.includes(s.d.id) ? (
          <path
            key={s.d.id}
            d={`M0 ${y}H${WIDTH}`}
            stroke="var(--color-accent)"
            strokeWidth={2}
            strokeDasharray="10 3 2 3"
          />
        ) : null;
      })}
      {placed.map((l) => {
        const s = p.stops.find((x) => x.d.id === l.id)!;
        const far = Math.abs(l.y + 9 - s.y) > 7;
        return far ? (
          <path key={l.id} d={`M${s.x + 6} ${s.y}L${s.x + 14} ${l.y + 9}`} stroke="var(--leader)" fill="none" />
        ) : null;
      })}
    </svg>
  );
});

const many = (n: number, what: string) => `${n} ${what}${n > 1 ? "s" : ""}`;

/** A station: its number, height and name, and how it stands. */
const Stop = memo(
  function Stop({
    d,
    x,
    y,
    on,
    stands,
    select,
  }: {
    d: DropAssessment;
    x: number;
    y: number;
    on: boolean;
    stands: Count;
    select: (id: string) => void;
  }) {
    const short = stands.open.Shortfall ?? 0;
    const open = stands.open["Not checked"] ?? 0;
    const caution = stands.open.Caution ?? 0;
    const accepted = Object.values(stands.accepted).reduce((m, n) => m + n, 0);
    return (
      <button
        type="button"
        data-stop={d.id}
        aria-current={on ? "step" : undefined}
        onClick={() => select(d.id)}
        className={`stop-label ${on ? "on" : ""}`}
        style={{ left: x + 12, top: y, height: LABEL, width: WIDTH - x - 16 }}
      >
        <div className="flex items-baseline gap-1.5 whitespace-nowrap">
          <span className="font-bold">{d.number}</span>
          <span className={on ? "font-semibold" : "quiet"}>
            {d.height ? <Num n={{ ...d.height, working: "" }} className={on ? "" : "font-normal"} /> : "? m"}
          </span>
          <span className="quiet truncate text-xs">{d.name}</span>
        </div>
        <div className="truncate text-[11.5px] font-semibold">
          {short > 0 && <span className="sev-Shortfall">{many(short, "shortfall")}</span>}
          {short > 0 && open > 0 && <span className="quiet"> · </span>}
          {open > 0 && <span className="sev-Not-checked">{open} not checked</span>}
          {short + open === 0 && caution > 0 && <span className="sev-Caution">{many(caution, "caution")}</span>}
          {stands.objections > 0 && <span className="sev-Shortfall"> · {stands.objections} objected</span>}
          {accepted > 0 && <span className="quiet font-normal"> · {accepted} accepted</span>}
        </div>
      </button>
    );
  },
  // How it stands is counted anew each time.
  (was, now) =>
    was.d === now.d &&
    was.x === now.x &&
    was.y === now.y &&
    was.on === now.on &&
    was.select === now.select &&
    alike(was.stands, now.stands),
);
