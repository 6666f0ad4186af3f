// The time line: one lane a person, a bead for each act, who is held by how many paths, hazards as spans.
import { memo, type PointerEvent, type RefObject, useMemo, useRef, useState } from "react";
import { useSize } from "../../cutaway/size";
import { words } from "../../say";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";
import { RoleMark } from "./marks";
import { BRACKET, type Bracket, GUTTER, ROWS, type Ruler, type Run, runsOf, useRuler, type Zoom } from "./ruler";
import { moved } from "./through";

export { ZOOMS, type Zoom } from "./ruler";

export function TimeLine({ zoom }: { zoom: Zoom }) {
  const { run, who } = useGoing();
  const [box, { width }, element] = useSize({ width: 700, height: 300 });
  const ruler = useRuler(zoom, width);
  const { acts, x, now, head, height, people, lineAt } = ruler;
  const { over, show, ...hands } = useScrub(ruler, element);
  const runs = useMemo(() => people.map((p) => runsOf(acts, p.id)), [people, acts]);
  if (!run) return null;
  return (
    <div ref={box} className="relative overflow-hidden" data-testid="timeline">
      <svg
        width={width}
        height={height}
        className="block touch-none select-none"
        role="group"
        aria-label="acts on a time line"
        {...hands}
      >
        <defs>
          <clipPath id="lanes">
            <rect x={GUTTER - 8} y={0} width={ruler.room + 16} height={height} />
          </clipPath>
        </defs>
        <g clipPath="url(#lanes)">
          <Hazards ruler={ruler} />
          <Numbers ruler={ruler} />
          {runs.map((some, i) => (
            <Lane
              key={people[i]!.id}
              runs={some}
              y={lineAt(i)}
              from={GUTTER - ruler.offset}
              scale={ruler.scale}
              said={ruler.lane > 32}
            />
          ))}
          <path
            d={`M${x(now + 0.5)} ${head - 16}V${height}`}
            stroke="var(--color-accent)"
            strokeWidth={2}
            data-testid="cursor"
          />
          {over !== null && (
            <path d={`M${x(over + 0.5)} ${head - 16}V${height}`} stroke="var(--color-accent)" strokeDasharray="4 4" />
          )}
          {ruler.scale >= 3 && <Beads ruler={ruler} />}
        </g>
        {people.map((p, i) => (
          <g key={p.id} transform={`translate(22 ${lineAt(i)}) scale(0.78)`}>
            {p.id === who && <circle r={18} fill="none" stroke="var(--color-accent)" strokeWidth={2.6} />}
            <RoleMark role={p.role} letters={p.name.slice(0, 1)} />
          </g>
        ))}
      </svg>
      <HazardNames ruler={ruler} />
      <PeopleNames ruler={ruler} />
      {zoom === "act" && <ActNames ruler={ruler} show={show} />}
    </div>
  );
}

/** Scrubbing by pointer; a bead that is dragged along is moved in the order. */
function useScrub({ acts, k, scale, offset }: Ruler, element: RefObject<Element | null>) {
  const { edit } = useSession();
  const { stations, go, tried } = useGoing();
  const held = useRef<{ bead: number; from: number } | null>(null);
  const [over, setOver] = useState<number | null>(null);
  const leftOf = () => element.current?.getBoundingClientRect().left ?? 0;
  const at = (e: PointerEvent) =>
    Math.max(0, Math.min(acts.length - 1, Math.floor((e.clientX - leftOf() - GUTTER + offset) / scale)));
  const show = (i: number) => {
    const a = acts[i];
    if (a) go(a.n, stations[a.k]?.drop);
  };
  const release = () => {
    held.current = null;
    setOver(null);
  };
  return {
    over,
    show,
    onPointerDown: (e: PointerEvent<SVGElement>) => {
      if (e.button !== 0 || e.clientX - leftOf() < GUTTER) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      const bead = (e.target as Element).closest("[data-bead]");
      held.current = { bead: bead ? Number(bead.getAttribute("data-bead")) : -1, from: at(e) };
      show(at(e));
    },
    onPointerMove: (e: PointerEvent) => {
      if (!held.current) return;
      const i = at(e);
      if (held.current.bead >= 0) setOver(i === held.current.from ? null : i);
      else if (acts[i]?.k === k) show(i);
    },
    onPointerUp: (e: PointerEvent) => {
      const h = held.current;
      release();
      if (!h || h.bead < 0) return;
      const to = at(e);
      const a = acts[h.bead];
      const b = acts[to];
      if (!a || !b || a.k !== k || b.k !== k || to === h.from || tried) return;
      const before = to > h.from ? b : acts[to - 1];
      edit(moved(stations[k]!.drop, a.step.key, before?.k === k ? before.step.key : ""));
    },
    onPointerCancel: release,
  };
}

/** What is dangerous over the acts while it stands. */
function Hazards({ ruler: { x, scale, head, height, brackets } }: { ruler: Ruler }) {
  return brackets.map((b) => {
    const y = head + Math.min(b.row, ROWS - 1) * BRACKET;
    const tone = `var(--${TONE[b.span.severity] ?? "quiet"})`;
    return (
      <g key={keyOf(b)} data-hazard={b.span.code} data-act={b.span.begin}>
        <rect
          x={x(b.from)}
          y={y}
          width={Math.max(3, (b.to - b.from) * scale)}
          height={height - y}
          fill={tone}
          // One that only goes on through this station hides none of its own moments.
          fillOpacity={b.span.earlier && b.span.end === 0 ? 0 : b.span.said ? 0.05 : 0.09}
        />
        <path
          d={`M${x(b.from) + 1} ${y + 5}v-5h${Math.max(3, (b.to - b.from) * scale - 2)}v5`}
          fill="none"
          stroke={tone}
          strokeWidth={1.8}
          strokeDasharray={b.span.said ? "4 3" : undefined}
        />
      </g>
    );
  });
}
const keyOf = (b: Bracket) => `${b.k}-${b.span.key}`;

/** Numbers of acts, or of stations where the whole descent is in view. */
function Numbers({ ruler }: { ruler: Ruler }) {
  const { stations } = useGoing();
  const { zoom, acts, first, last, now, k, x, scale, top, height, every } = ruler;
  return acts.slice(first, last).map((a, j) => {
    const i = first + j;
    const on = i === now;
    const label = zoom !== "whole descent" && (on || a.step.number % every === 0) ? String(a.step.number) : "";
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
  });
}

function Beads({ ruler: { acts, first, last, people, x, lineAt, now, scale } }: { ruler: Ruler }) {
  return acts.slice(first, last).map((a, j) => {
    const i = first + j;
    const row = people.findIndex((p) => p.id === a.step.who);
    if (row < 0) return null;
    return (
      <Bead
        key={`${a.k}-${a.step.key}`}
        i={i}
        cx={x(i + 0.5)}
        cy={lineAt(row)}
        r={i === now ? 6.5 : Math.min(4.6, Math.max(1.7, scale / 2.6))}
        on={i === now}
        refused={a.step.refused !== null}
      />
    );
  });
}

function HazardNames({ ruler: { brackets, x, width, offset, head } }: { ruler: Ruler }) {
  const { units } = usePrefs();
  const { stations, go } = useGoing();
  const inSight = brackets.filter((b) => b.row < ROWS && x(b.from) < width - 30 && x(b.to) > GUTTER);
  return inSight.map((b) => {
    const left = Math.max(GUTTER, GUTTER + b.left - offset);
    return (
      <button
        key={keyOf(b)}
        type="button"
        data-label={`span-${b.span.key}`}
        className={`span-label sev-${b.span.severity.replace(" ", "-")}`}
        style={{ left: left + 2, top: head - 13.5 + b.row * BRACKET, maxWidth: width - left - 4 }}
        title={`${words(b.span.title, units)}: acts ${b.span.begin} to ${b.span.end || "the end"}`}
        onClick={() => go(b.span.begin - 1, stations[b.k]?.drop)}
      >
        {b.first > 0 && <span className="mr-1 rounded-sm bg-base-content px-1 font-bold text-base-100">{b.first}</span>}
        {words(b.span.title, units)}
      </button>
    );
  });
}

function PeopleNames({ ruler: { people, lineAt } }: { ruler: Ruler }) {
  const { who, chosen, setWho } = useGoing();
  return people.map((p, i) => {
    const on = chosen && p.id === who;
    return (
      <button
        key={p.id}
        type="button"
        aria-pressed={on}
        className="absolute left-9 w-20 cursor-pointer text-left leading-[13px]"
        style={{ top: lineAt(i) - 13, height: 26 }}
        title={on ? "Let it follow whoever acts" : "Keep this person in view"}
        onClick={() => setWho(on ? "" : p.id)}
      >
        <span className="block truncate text-[13px] font-semibold">{p.name}</span>
        <span className="quiet block truncate text-[11px]">{p.role}</span>
      </button>
    );
  });
}

function ActNames({ ruler, show }: { ruler: Ruler; show: (i: number) => void }) {
  const { units } = usePrefs();
  const { acts, first, last, now, scale, offset } = ruler;
  return (
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
