// The time line: one lane a person, a bead for each act, who is held by how many paths, hazards as spans.
import { memo, type PointerEvent, useMemo, useRef, useState } from "react";
import { useSize } from "../../cutaway/size";
import { words } from "../../say";
import type { Person, Span, Step } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { type StationAt, useGoing } from "../../state/rehearsal";
import { RoleMark } from "./marks";
import { moved } from "./through";

const GUTTER = 118;
const BRACKET = 17;
const LETTER = 5.9;
/** How many rows of hazards there are at the most; those with the worst falls come first. */
const ROWS = 5;
export const ZOOMS = ["station", "act", "whole descent"] as const;
export type Zoom = (typeof ZOOMS)[number];

type Hold = "many" | "one" | "none" | "ground";
interface Run {
  hold: Hold;
  from: number;
  to: number;
  /** What is said under it, where there is room. */
  said: string;
}
const PATHS: Record<number, string> = { 1: "one path", 2: "two paths", 3: "three paths" };

function holdOf(step: Step, who: string): [Hold, string] {
  const held = step.held.find((h) => h.who === who);
  if (!held) return ["ground", ""];
  if (held.paths > 1) return ["many", PATHS[held.paths] ?? `${held.paths} paths`];
  if (held.paths === 1) return ["one", "one path"];
  if (held.exposed) return ["none", "held by nothing"];
  return ["ground", held.place.startsWith("at the landing") ? "at the landing" : "stands"];
}

interface Act {
  step: Step;
  /** Place of its station, and its own place in it. */
  k: number;
  n: number;
}

function runsOf(acts: readonly Act[], who: string): Run[] {
  const made: Run[] = [];
  for (const [i, a] of acts.entries()) {
    const [hold, said] = holdOf(a.step, who);
    const last = made[made.length - 1];
    if (last && last.hold === hold && last.said === said) last.to = i + 1;
    else made.push({ hold, from: i, to: i + 1, said });
  }
  return made;
}

interface Bracket {
  span: Span;
  k: number;
  from: number;
  to: number;
  row: number;
  /** Its place among what is said aloud first, 0 for none. */
  first: number;
  /** Where its words begin, from the first act [px]. */
  left: number;
  right: number;
}

/** Hazards as brackets in rows, none over another's words. */
function bracketsOf(
  stations: readonly StationAt[],
  starts: readonly number[],
  scale: number,
  room: number,
  ranks: ReadonlyMap<string, number>,
  text: (s: Span) => string,
  shown: readonly number[],
  replaced: { k: number; spans: readonly Span[]; acts: number } | null,
): Bracket[] {
  const made: Bracket[] = [];
  for (const k of shown) {
    const run = stations[k]?.run;
    if (!run) continue;
    const mine = replaced?.k === k ? replaced : null;
    const spans = mine ? mine.spans : run.spans;
    const acts = mine ? mine.acts : run.steps.length;
    const start = starts[k] ?? 0;
    for (const span of spans) {
      const from = start + span.begin - 1;
      const to = span.end === 0 ? start + acts : start + span.end - 1;
      const first = ranks.get(span.key) ?? 0;
      const wide = Math.max((to - from) * scale, text(span).length * LETTER + (first ? 26 : 8));
      // Its words begin at the bracket, or so far before it that they end inside.
      const left = Math.max(0, Math.min(from * scale, room - wide));
      made.push({ span, k, from, to, row: 0, first, left, right: Math.max(left + wide, to * scale) + 8 });
    }
  }
  // What is said aloud first has its row first.
  made.sort((a, b) => (a.first || 99) - (b.first || 99) || a.from - b.from);
  const taken: [number, number][][] = [];
  for (const b of made) {
    let row = taken.findIndex((some) => some.every(([l, r]) => b.right <= l || b.left >= r));
    if (row < 0) row = taken.push([]) - 1;
    taken[row]!.push([Math.min(b.left, b.from * scale), b.right]);
    b.row = row;
  }
  return made;
}

export function TimeLine({ zoom }: { zoom: Zoom }) {
  const { plan, edit } = useSession();
  const { units } = usePrefs();
  const going = useGoing();
  const { stations, k, run, n, go, who, chosen, setWho, whole, tried } = going;
  const [box, { width }, element] = useSize({ width: 700, height: 300 });

  const shown = useMemo(() => (zoom === "whole descent" ? stations.map((_, i) => i) : [k]), [zoom, stations, k]);
  const acts = useMemo(() => {
    const made: Act[] = [];
    for (const i of shown) {
      const steps = (i === k ? run : stations[i]?.run)?.steps ?? [];
      for (const [m, step] of steps.entries()) made.push({ step, k: i, n: m });
    }
    return made;
  }, [shown, stations, k, run]);
  const starts = useMemo(() => {
    const made: number[] = [];
    for (const [i, a] of acts.entries()) if (made[a.k] === undefined) made[a.k] = i;
    return made;
  }, [acts]);
  const now = (starts[k] ?? 0) + n;
  const room = Math.max(200, width - GUTTER - 22);
  const scale = zoom === "act" ? Math.max(124, room / 6) : room / Math.max(1, acts.length);
  const offset = zoom === "act" ? Math.max(0, Math.min(acts.length * scale - room, (now + 0.5) * scale - room / 2)) : 0;
  const x = (act: number) => GUTTER + act * scale - offset;

  const people = useMemo(() => {
    const order = run?.order ?? [];
    const of = (id: string) => plan.party.find((p) => p.id === id);
    return order.map(of).filter((p): p is Person => p !== undefined);
  }, [run, plan.party]);
  const ranks = useMemo(
    () => new Map((whole?.first ?? []).map((i, at) => [whole?.hazards[i]?.key ?? "", at + 1] as const)),
    [whole],
  );
  const brackets = useMemo(
    () =>
      bracketsOf(
        stations,
        starts,
        scale,
        zoom === "act" ? Infinity : room,
        ranks,
        (s) => words(s.title, units),
        shown,
        tried?.run ? { k, spans: tried.run.spans, acts: tried.run.steps.length } : null,
      ),
    [stations, starts, scale, room, zoom, ranks, units, shown, tried, k],
  );
  const TOP = zoom === "act" ? 82 : 44;
  const rowAt = (b: Bracket) => TOP + Math.min(b.row, ROWS - 1) * BRACKET;
  const rows = Math.min(ROWS, 1 + Math.max(-1, ...brackets.map((b) => b.row)));
  const top = TOP + rows * BRACKET;
  const lane = people.length > 5 ? 30 : 42;
  const height = top + lane * people.length + 6;
  const runs = useMemo(() => people.map((p) => runsOf(acts, p.id)), [people, acts]);
  const first = Math.max(0, Math.floor(offset / scale) - 1);
  const last = Math.min(acts.length, Math.ceil((offset + room) / scale) + 1);
  const every = scale >= 17 ? 1 : scale >= 8 ? 5 : 10;

  // Scrubbing by pointer; a bead that is dragged along is moved in the order.
  const held = useRef<{ bead: number; from: number } | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const at = (e: PointerEvent) => {
    const left = element.current?.getBoundingClientRect().left ?? 0;
    return Math.max(0, Math.min(acts.length - 1, Math.floor((e.clientX - left - GUTTER + offset) / scale)));
  };
  const show = (i: number) => {
    const a = acts[i];
    if (a) go(a.n, stations[a.k]?.drop);
  };
  const move = (e: PointerEvent) => {
    if (!held.current) return;
    const i = at(e);
    if (held.current.bead >= 0) setOver(i === held.current.from ? null : i);
    else if (acts[i]?.k === k) show(i);
  };
  const up = (e: PointerEvent) => {
    const h = held.current;
    held.current = null;
    setOver(null);
    if (!h || h.bead < 0) return;
    const to = at(e);
    const a = acts[h.bead];
    const b = acts[to];
    if (!a || !b || a.k !== k || b.k !== k || to === h.from || tried) return;
    const before = to > h.from ? b : acts[to - 1];
    edit(moved(stations[k]!.drop, a.step.key, before?.k === k ? before.step.key : ""));
  };
  if (!run) return null;
  return (
    <div ref={box} className="relative overflow-hidden" data-testid="timeline">
      <svg
        width={width}
        height={height}
        className="block touch-none select-none"
        role="group"
        aria-label="acts on a time line"
        onPointerDown={(e) => {
          if (e.button !== 0 || e.clientX - (element.current?.getBoundingClientRect().left ?? 0) < GUTTER) return;
          e.currentTarget.setPointerCapture(e.pointerId);
          const bead = (e.target as Element).closest("[data-bead]");
          held.current = { bead: bead ? Number(bead.getAttribute("data-bead")) : -1, from: at(e) };
          show(at(e));
        }}
        onPointerMove={move}
        onPointerUp={up}
        onPointerCancel={() => {
          held.current = null;
          setOver(null);
        }}
      >
        <defs>
          <clipPath id="lanes">
            <rect x={GUTTER - 8} y={0} width={room + 16} height={height} />
          </clipPath>
        </defs>
        <g clipPath="url(#lanes)">
          {brackets.map((b) => (
            <g key={`${b.k}-${b.span.key}`} data-hazard={b.span.code} data-act={b.span.begin}>
              <rect
                x={x(b.from)}
                y={rowAt(b)}
                width={Math.max(3, (b.to - b.from) * scale)}
                height={height - rowAt(b)}
                fill={`var(--${TONE[b.span.severity] ?? "quiet"})`}
                // One that only goes on through this station hides none of its own moments.
                fillOpacity={b.span.earlier && b.span.end === 0 ? 0 : b.span.said ? 0.05 : 0.09}
              />
              <path
                d={`M${x(b.from) + 1} ${rowAt(b) + 5}v-5h${Math.max(3, (b.to - b.from) * scale - 2)}v5`}
                fill="none"
                stroke={`var(--${TONE[b.span.severity] ?? "quiet"})`}
                strokeWidth={1.8}
                strokeDasharray={b.span.said ? "4 3" : undefined}
              />
            </g>
          ))}
          {acts.slice(first, last).map((a, j) => {
            const i = first + j;
            const on = i === now;
            const label =
              zoom === "whole descent" ? "" : on || a.step.number % every === 0 ? String(a.step.number) : "";
            return (
              <g key={`${a.k}-${a.step.key}`}>
                {zoom === "whole descent" && a.n === 0 && (
                  <>
                    <path d={`M${x(i)} ${top - 8}V${height}`} stroke="var(--rule)" />
                    <text
                      x={x(i) + 3}
                      y={22}
                      fontSize={11.5}
                      fontWeight={a.k === k ? 700 : 500}
                      fill="var(--color-base-content)"
                    >
                      {a.k + 1}
                      {stations[a.k]?.stale && <tspan fontWeight={400}> being redone</tspan>}
                    </text>
                  </>
                )}
                {label && (on || Math.abs(i - now) * scale > 15) && (
                  <text
                    x={x(i + 0.5)}
                    y={22}
                    fontSize={11.5}
                    fontWeight={on ? 700 : 400}
                    textAnchor="middle"
                    fill={on ? "var(--color-base-content)" : "var(--quiet)"}
                  >
                    {label}
                  </text>
                )}
                {a.step.pause && <Pause x={x(i + 0.5)} y={1} />}
              </g>
            );
          })}
          {runs.map((some, i) => (
            <Lane
              key={people[i]!.id}
              runs={some}
              y={top + lane * i + lane / 2 - 4}
              from={GUTTER - offset}
              scale={scale}
              said={lane > 32}
            />
          ))}
          <path
            d={`M${x(now + 0.5)} ${TOP - 16}V${height}`}
            stroke="var(--color-accent)"
            strokeWidth={2}
            data-testid="cursor"
          />
          {over !== null && (
            <path d={`M${x(over + 0.5)} ${TOP - 16}V${height}`} stroke="var(--color-accent)" strokeDasharray="4 4" />
          )}
          {scale >= 3 &&
            acts.slice(first, last).map((a, j) => {
              const i = first + j;
              const row = people.findIndex((p) => p.id === a.step.who);
              if (row < 0) return null;
              return (
                <Bead
                  key={`${a.k}-${a.step.key}`}
                  i={i}
                  cx={x(i + 0.5)}
                  cy={top + lane * row + lane / 2 - 4}
                  r={i === now ? 6.5 : Math.min(4.6, Math.max(1.7, scale / 2.6))}
                  on={i === now}
                  refused={a.step.refused !== null}
                />
              );
            })}
        </g>
        {people.map((p, i) => (
          <g key={p.id} transform={`translate(22 ${top + lane * i + lane / 2 - 4}) scale(0.78)`} opacity={1}>
            {p.id === who && <circle r={18} fill="none" stroke="var(--color-accent)" strokeWidth={2.6} />}
            <RoleMark role={p.role} letters={p.name.slice(0, 1)} />
          </g>
        ))}
      </svg>
      {brackets
        .filter((b) => b.row < ROWS && x(b.from) < width - 30 && x(b.to) > GUTTER)
        .map((b) => (
          <button
            key={`${b.k}-${b.span.key}`}
            type="button"
            data-label={`span-${b.span.key}`}
            className={`span-label sev-${b.span.severity.replace(" ", "-")}`}
            style={{
              left: Math.max(GUTTER, GUTTER + b.left - offset) + 2,
              top: TOP - 13.5 + b.row * BRACKET,
              maxWidth: width - Math.max(GUTTER, GUTTER + b.left - offset) - 4,
            }}
            title={`${words(b.span.title, units)}: acts ${b.span.begin} to ${b.span.end || "the end"}`}
            onClick={() => go(b.span.begin - 1, stations[b.k]?.drop)}
          >
            {b.first > 0 && (
              <span className="mr-1 rounded-sm bg-base-content px-1 font-bold text-base-100">{b.first}</span>
            )}
            {words(b.span.title, units)}
          </button>
        ))}
      {people.map((p, i) => (
        <button
          key={p.id}
          type="button"
          aria-pressed={chosen && p.id === who}
          className="absolute left-9 w-20 cursor-pointer text-left leading-[13px]"
          style={{ top: top + lane * i + lane / 2 - 17, height: 26 }}
          title={chosen && p.id === who ? "Let it follow whoever acts" : "Keep this person in view"}
          onClick={() => setWho(chosen && p.id === who ? "" : p.id)}
        >
          <span className="block truncate text-[13px] font-semibold">{p.name}</span>
          <span className="quiet block truncate text-[11px]">{p.role}</span>
        </button>
      ))}
      {zoom === "act" && (
        <div className="absolute right-0 h-11 overflow-hidden" style={{ left: GUTTER - 8, top: 26 }}>
          {acts.slice(first, last).map((a, j) => (
            <button
              key={`${a.k}-${a.step.key}`}
              type="button"
              tabIndex={-1}
              className={`act-label ${first + j === now ? "font-bold" : "quiet"}`}
              style={{ left: (first + j) * scale - offset + 8, width: scale }}
              onClick={() => show(first + j)}
            >
              {words(a.step.words, units)}
            </button>
          ))}
        </div>
      )}
    </div>
  );
}

export const TONE: Readonly<Record<string, string>> = {
  Shortfall: "color-error",
  "Not checked": "color-info",
  Caution: "color-warning",
  Note: "quiet",
};

function Pause({ x, y }: { x: number; y: number }) {
  return (
    <g role="img" aria-label="everybody stops here">
      <path d={`M${x - 2.5} ${y}v8m5 -8v8`} stroke="var(--color-accent)" strokeWidth={2.2} />
    </g>
  );
}

/** An act in the lane of whoever does it. */
const Bead = memo(function Bead({
  i,
  cx,
  cy,
  r,
  on,
  refused,
}: {
  i: number;
  cx: number;
  cy: number;
  r: number;
  on: boolean;
  refused: boolean;
}) {
  return (
    <circle
      data-bead={i}
      cx={cx}
      cy={cy}
      r={r}
      fill={on ? "var(--color-accent)" : refused ? "var(--color-base-300)" : "var(--color-base-100)"}
      stroke="var(--color-base-content)"
      strokeWidth={1.8}
      strokeDasharray={refused ? "2 2" : undefined}
      className="cursor-grab"
    />
  );
});

const Lane = memo(function Lane({
  runs,
  y,
  from,
  scale,
  said,
}: {
  runs: readonly Run[];
  y: number;
  /** Where the first act begins [px]. */
  from: number;
  scale: number;
  said: boolean;
}) {
  const x = (act: number) => from + act * scale;
  const line = { stroke: "var(--bar)", fill: "none" } as const;
  return (
    <g>
      {runs.map((r) => {
        const [a, b] = [x(r.from), x(r.to)];
        const wide = (r.to - r.from) * scale;
        return (
          <g key={r.from} data-hold={r.hold}>
            {r.hold === "many" && <path d={`M${a} ${y - 5}H${b}M${a} ${y + 5}H${b}`} {...line} strokeWidth={2.6} />}
            {r.hold === "one" && <path d={`M${a} ${y}H${b}`} {...line} strokeWidth={3.4} />}
            {r.hold === "ground" && (
              <path
                d={`M${a + 2} ${y}H${b}`}
                stroke="var(--quiet)"
                strokeWidth={1.4}
                strokeDasharray="1 6"
                strokeLinecap="round"
              />
            )}
            {r.hold === "none" && (
              <path d={`M${a + 1} ${y - 7}v14M${b - 1} ${y - 7}v14`} stroke="var(--color-error)" strokeWidth={2} />
            )}
            {said && wide > r.said.length * 5.4 + 6 && (
              <text
                x={a + 3}
                y={y + 18}
                fontSize={10.5}
                fill={r.hold === "none" ? "var(--color-error)" : "var(--quiet)"}
                fontWeight={r.hold === "none" ? 700 : 400}
              >
                {r.said}
              </text>
            )}
          </g>
        );
      })}
    </g>
  );
});
