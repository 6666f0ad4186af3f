// Ropes, times and events side by side, each row at its stop of the strip; points of no return drawn across.
import { useEffect, useLayoutEffect, useRef, useState } from "react";
import type { Hung, Return, StationTime } from "../../api/types.gen";
import { STRIPES } from "../../cutaway/Swatch";
import { figure } from "../../say";
import { useAhead } from "../../state/descent";
import type { Cell, Entry, Rope } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { duration, EVENT_HEADS, MARK_CLASS, MARK_PATHS } from "./marks";

const HEAD = 66;
const LEFT = 10;
const TIME = 88;
const CELL = 45;

interface Stop {
  id: string;
  y: number;
}

/** Where the strip's stops are, measured from the top of the figure. */
function useStops(inside: React.RefObject<HTMLDivElement | null>, stamp: string): { stops: Stop[]; bottom: number } {
  const [found, setFound] = useState<{ stops: Stop[]; bottom: number }>({ stops: [], bottom: 600 });
  // biome-ignore lint/correctness/useExhaustiveDependencies: another plan lays the strip out anew
  useLayoutEffect(() => {
    const el = inside.current;
    const first = document.querySelector<HTMLElement>("[data-stop]");
    const scroller = first?.closest<HTMLElement>(".overflow-y-auto");
    if (!el) return;
    const measure = () => {
      const top = el.getBoundingClientRect().top;
      const stops = [...document.querySelectorAll<HTMLElement>("[data-stop]")].map((s) => ({
        id: s.dataset.stop ?? "",
        y: s.getBoundingClientRect().top - top,
      }));
      setFound({ stops, bottom: el.clientHeight });
    };
    measure();
    const later = requestAnimationFrame(measure);
    const watch = new ResizeObserver(measure);
    watch.observe(el);
    if (scroller) watch.observe(scroller);
    scroller?.addEventListener("scroll", measure);
    return () => {
      cancelAnimationFrame(later);
      watch.disconnect();
      scroller?.removeEventListener("scroll", measure);
    };
  }, [inside, stamp]);
  return found;
}

export function Flow({ dropId }: { dropId: string }) {
  const { view, plan } = useSession();
  const { prospect, fresh, lit, light, opened, open } = useAhead();
  const box = useRef<HTMLDivElement>(null);
  const { descent } = view.assessment;
  const { stops, bottom } = useStops(box, `${view.revision} ${view.assessment.drops.length}`);
  const ropes = descent.ledger.ropes.map((id) => (plan.shed.ropes ?? []).find((r) => r.id === id) ?? null);
  const [wide, setWide] = useState(680);
  useEffect(() => {
    const el = box.current;
    if (!el) return;
    const watch = new ResizeObserver(() => setWide(el.clientWidth));
    watch.observe(el);
    return () => watch.disconnect();
  }, []);
  const events = EVENT_HEADS.length;
  const rope = Math.min(72, Math.max(42, (wide - LEFT - TIME - events * CELL - 8) / Math.max(1, ropes.length)));
  const timeX = LEFT + rope * ropes.length + 8;
  const cell = Math.max(CELL, (wide - timeX - TIME - 6) / events);
  const eventX = timeX + TIME;
  const width = Math.max(wide, eventX + cell * events + 4);
  const isOpen = (drop: string, c: Cell) => opened?.drop === drop && opened.event === c.event;
  const rowY = (i: number) => stops[i]?.y ?? HEAD + 10 + i * 40;
  const rowEnd = (i: number) =>
    i + 1 < descent.ledger.entries.length ? rowY(i + 1) - 3 : Math.min(bottom - 8, rowY(i) + 150);
  return (
    <div ref={box} className="relative h-full overflow-x-auto overflow-y-hidden" data-testid="flow">
      <svg
        width={width}
        height={bottom}
        className="absolute top-0 left-0"
        role="group"
        aria-label="ropes down the descent"
      >
        <defs>
          <clipPath id="under-heads">
            <rect x={0} y={HEAD} width={width} height={Math.max(0, bottom - HEAD)} />
          </clipPath>
        </defs>
        <g clipPath="url(#under-heads)">
          {descent.ledger.entries.map((e, i) => (
            <g key={e.drop}>
              {e.drop === dropId && (
                <rect x={0} y={rowY(i) - 1} width={width} height={rowEnd(i) - rowY(i) + 2} fill="var(--strip)" />
              )}
              <path d={`M0 ${rowY(i) - 1}H${width}`} stroke="var(--rule)" />
              {ropes.map((r, n) => (
                <Ribbon
                  key={descent.ledger.ropes[n]}
                  id={descent.ledger.ropes[n]!}
                  rope={r}
                  entry={e}
                  x={LEFT + rope * n + rope / 2}
                  top={rowY(i)}
                  foot={rowEnd(i)}
                  room={rope}
                  lit={lit}
                />
              ))}
              <Joins entry={e} ropes={descent.ledger.ropes} at={(n) => LEFT + rope * n + rope / 2} y={rowY(i) + 9} />
            </g>
          ))}
          {prospect?.returns.map((r) => {
            const i = descent.ledger.entries.findIndex((e) => e.drop === r.drop);
            return i < 0 ? null : <NoReturn key={r.drop} r={r} y={rowEnd(i) + 1} width={width} />;
          })}
        </g>
      </svg>
      <div className="absolute top-0 left-0 overflow-hidden" style={{ width, height: bottom }}>
        {descent.times.stations.map((t, i) =>
          rowY(i) < HEAD - 10 ? null : (
            <When
              key={t.drop}
              t={t}
              left={timeX}
              top={rowY(i) + 3}
              pulls={prospect?.returns.some((r) => r.drop === t.drop) ?? false}
            />
          ),
        )}
        {descent.times.out_at && (
          <div
            className="absolute text-[12.5px] font-bold"
            style={{ left: timeX, top: rowEnd(descent.ledger.entries.length - 1) - 16 }}
          >
            out {descent.times.out_at.join("–")}
          </div>
        )}
        {prospect?.rows.map((row, i) =>
          rowY(i) < HEAD - 10 || descent.ledger.entries[i]?.drop !== row.drop
            ? null
            : row.cells.map((c, n) => (
                <button
                  key={c.event}
                  type="button"
                  className={`event-cell ${isOpen(row.drop, c) ? "on" : ""} ${fresh ? "" : "opacity-50"}`}
                  style={{ left: eventX + cell * n, top: rowY(i) + 1, width: cell - 2, height: 36 }}
                  aria-pressed={isOpen(row.drop, c)}
                  onClick={() => open({ drop: row.drop, event: c.event })}
                >
                  <span className="sr-only">
                    {EVENT_HEADS[n]!.join(" ")} at {row.number}:{" "}
                  </span>
                  <CellMark c={c} />
                </button>
              )),
        )}
      </div>
      <Heads
        ropes={ropes}
        ids={descent.ledger.ropes}
        rope={rope}
        timeX={timeX}
        eventX={eventX}
        cell={cell}
        width={width}
        lit={lit}
        light={light}
      />
    </div>
  );
}

/** After which pull there is no way back, and until where none off. */
function NoReturn({ r, y, width }: { r: Return; y: number; width: number }) {
  const said = `after this pull: no way up, no way out before ${r.ends ? "the end" : `the foot of ${r.until}`}`;
  const long = said.length * 5.5 + 10;
  return (
    <g data-testid="no-return">
      <title>After this pull there is no way up; the next way out is said in the panel.</title>
      <path d={`M0 ${y}H${width}`} stroke="var(--color-accent)" strokeWidth={2} strokeDasharray="10 3 2 3" />
      <rect x={2} y={y - 7} width={long} height={14} rx={3} fill="var(--void)" stroke="var(--color-accent)" />
      <text
        x={2 + long / 2}
        y={y + 3.6}
        textAnchor="middle"
        className="sev-Caution"
        fontSize={10.5}
        fontWeight={700}
        fill="currentColor"
      >
        {said}
      </text>
    </g>
  );
}

/** When to be at a station, early and late, and by when its pull is to be made where there is no way back after it. */
function When({ t, left, top, pulls }: { t: StationTime; left: number; top: number; pulls: boolean }) {
  return (
    <div className="absolute text-[12.5px] leading-tight tabular-nums" style={{ left, top, width: TIME }}>
      {t.arrive_at ? (
        t.arrive_at[0] === t.arrive_at[1] ? (
          t.arrive_at[0]
        ) : (
          `${t.arrive_at[0]}–${t.arrive_at[1]}`
        )
      ) : t.arrive ? (
        <span className="quiet">
          +{duration(t.arrive[0].value)}–{duration(t.arrive[1].value)}
        </span>
      ) : (
        <span className="sev-Not-checked text-[11px] font-semibold">not checked</span>
      )}
      {t.turn_round_at && pulls && (
        <span className="sev-Caution block text-[11px] font-bold">pull by {t.turn_round_at}</span>
      )}
    </div>
  );
}

/** A mark and a word, or the number that says it better. */
export function CellMark({ c }: { c: Cell }) {
  const { units } = usePrefs();
  const tone = MARK_CLASS[c.mark];
  if (c.number && (c.mark === "figure" || c.event === "longer")) {
    const said = c.event === "dark" ? duration(c.number.value) : figure(c.number, units).join(" ");
    return (
      <>
        <span className={`text-[12px] font-semibold tabular-nums ${tone}`}>{said}</span>{" "}
        {c.word && <span className={`text-[10px] leading-[10px] ${tone}`}>{c.word}</span>}
      </>
    );
  }
  const path = MARK_PATHS[c.mark];
  return (
    <>
      <svg width={16} height={15} viewBox="-8 -7.5 16 15" aria-hidden="true" className={tone}>
        {path ? (
          <path d={path} fill={c.mark === "works" ? "currentColor" : "none"} stroke="currentColor" strokeWidth={2} />
        ) : (
          <text x={0} y={5} textAnchor="middle" fontSize={14} fontWeight={700} fill="currentColor">
            ?
          </text>
        )}
      </svg>
      <span className={`text-[10px] leading-[10px] ${tone}`}>{c.word}</span>
    </>
  );
}

function Heads({
  ropes,
  ids,
  rope,
  timeX,
  eventX,
  cell,
  width,
  lit,
  light,
}: {
  ropes: (Rope | null)[];
  ids: readonly string[];
  rope: number;
  timeX: number;
  eventX: number;
  cell: number;
  width: number;
  lit: string;
  light: (rope: string) => void;
}) {
  return (
    <div className="absolute top-0 left-0 bg-[var(--void)] text-[11px] leading-tight" style={{ width, height: HEAD }}>
      {ropes.map((r, n) => (
        <button
          key={ids[n]}
          type="button"
          aria-pressed={lit === ids[n]}
          title="light this rope everywhere"
          className={`rope-head ${lit === ids[n] ? "on" : ""}`}
          style={{ left: LEFT + rope * n, width: rope - 2 }}
          onClick={() => light(lit === ids[n] ? "" : ids[n]!)}
        >
          <span className="line-clamp-3 break-words">{r?.name ?? "gone"}</span>
          <svg width={24} height={8} aria-hidden="true">
            <Line d="M0 4H24" rope={r} width={5.6} />
          </svg>
        </button>
      ))}
      <div className="absolute bottom-1 font-bold" style={{ left: timeX, width: TIME }}>
        to be there
        <div className="quiet font-normal">early–late</div>
      </div>
      {EVENT_HEADS.map((h, n) => (
        <div
          key={h.join()}
          className="absolute bottom-1 text-center font-bold"
          style={{ left: eventX + cell * n, width: cell - 2 }}
        >
          {h[0]}
          <div className="quiet font-normal">{h[1]}</div>
        </div>
      ))}
    </div>
  );
}

function Line({ d, rope, width }: { d: string; rope: Rope | null; width: number }) {
  const stripe = STRIPES[rope?.stripe ?? "plain"];
  return (
    <>
      <path d={d} stroke="#1b1b1b" strokeOpacity={0.55} strokeWidth={width + 1.4} fill="none" />
      <path d={d} stroke={rope?.colour ?? "#777777"} strokeWidth={width} fill="none" />
      {stripe.width > 0 && (
        <path
          d={d}
          stroke="#fffdf6"
          strokeWidth={stripe.width}
          strokeDasharray={stripe.dash}
          strokeLinecap={stripe.cap}
          fill="none"
        />
      )}
    </>
  );
}

const ROLE: Record<string, string> = { "ride and pull": "ride" };
const told = (h: Hung) => `end ${h.end.toUpperCase()} ${h.role}${h.knotted ? ", knotted" : ""}`;

/** One rope at one station: its strands from the ring down, the end that is threaded, the end that comes first. */
function Ribbon({
  id,
  rope,
  entry,
  x,
  top,
  foot,
  room,
  lit,
}: {
  id: string;
  rope: Rope | null;
  entry: Entry;
  x: number;
  top: number;
  foot: number;
  room: number;
  lit: string;
}) {
  const dim = lit !== "" && lit !== id ? 0.22 : 1;
  if (entry.places[id] !== "in use") {
    return (
      <path
        d={`M${x} ${top + 2}V${foot}`}
        stroke="var(--quiet)"
        strokeWidth={lit === id ? 2.4 : 1.3}
        strokeDasharray="1.5 4"
        opacity={dim}
      />
    );
  }
  const hung = entry.states.flatMap((s) =>
    s.strands.filter((h) => h.rope === id || h.top === id).map((h) => ({ ...h, serves: s.serves })),
  );
  const ends = [...new Map(hung.map((h) => [`${h.rope}${h.end}${h.role === "reserve" ? "r" : ""}`, h])).values()];
  const last = entry.states[entry.states.length - 1]!;
  const threaded = entry.states[0]!.threaded;
  const words = [...new Set(ends.map((h) => (h.top && h.rope === id ? "tied on" : (ROLE[h.role] ?? h.role))))];
  const mid = top + (foot - top) * 0.45;
  const gap = 9;
  return (
    <g opacity={dim} className={lit === id ? "lit" : ""} data-ribbon={id}>
      <title>{`${rope?.name ?? "gone"}: ${ends.map(told).join("; ")}`}</title>
      {ends.map((h, k) => {
        const at = x - (words.length > 1 || room > 60 ? 6 : 0) + (k - (ends.length - 1) / 2) * gap;
        // What is tied on begins where the rope at the ring ends.
        const upper = h.top !== "" && h.rope !== id;
        const start = h.top && !upper ? mid : top + 9;
        const end = upper || h.role === "reserve" ? mid : foot - 7;
        const first = !upper && last.first?.rope === id && last.first.end === h.end && h.role !== "reserve";
        return (
          <g key={`${h.rope}${h.end}${h.role}`}>
            <Line d={`M${at} ${start}V${end}`} rope={rope} width={4.6} />
            {h.knotted && !upper && <circle cx={at} cy={end - 4} r={3.2} fill="var(--color-base-content)" />}
            {first && (
              <path
                d={`M${at - 5} ${end - 1}l5 7l5 -7`}
                fill="none"
                stroke="var(--color-base-content)"
                strokeWidth={1.8}
              />
            )}
            {h.role === "reserve" && (
              <path
                d={`M${at - 4} ${end}h8v6h-8z`}
                fill="var(--void)"
                stroke="var(--color-base-content)"
                strokeWidth={1.3}
              />
            )}
          </g>
        );
      })}
      {ends.some((h) => !h.top || h.rope !== id) && (
        <circle
          cx={x - (words.length > 1 || room > 60 ? 6 : 0)}
          cy={top + 9}
          r={5.6}
          fill="var(--void)"
          stroke="var(--color-base-content)"
          strokeWidth={2}
        />
      )}
      {threaded?.rope === id && (
        <text
          x={x - (words.length > 1 || room > 60 ? 6 : 0)}
          y={top + 12.4}
          textAnchor="middle"
          fontSize={9}
          fontWeight={700}
          fill="var(--color-base-content)"
        >
          {threaded.end.toUpperCase()}
        </text>
      )}
      {words.slice(0, 2).map((w, k) => (
        <text
          key={w}
          x={x + (words.length > 1 || room > 60 ? 4 : 8)}
          y={top + 22 + k * 11}
          fontSize={10}
          fill="var(--quiet)"
        >
          {w}
        </text>
      ))}
      {entry.states[0]!.run_through && threaded?.rope === id && (
        <text x={x + 8} y={top + 10} fontSize={10} className="sev-Caution" fill="currentColor">
          run through
        </text>
      )}
    </g>
  );
}

/** What ties two ropes together at a station, and where a block bears. */
function Joins({
  entry,
  ropes,
  at,
  y,
}: {
  entry: Entry;
  ropes: readonly string[];
  at: (n: number) => number;
  y: number;
}) {
  const last = entry.states[entry.states.length - 1]!;
  const two = [...new Set(last.strands.map((s) => s.top || s.rope))].map((r) => ropes.indexOf(r)).filter((n) => n >= 0);
  return (
    <>
      {last.join && two.length === 2 && (
        <g>
          <title>{`joined: ${last.join}`}</title>
          <path
            d={`M${at(Math.min(...two)) + 6} ${y}H${at(Math.max(...two)) - 6}`}
            stroke="var(--color-base-content)"
            strokeWidth={1.6}
            strokeDasharray="5 3"
          />
          <text x={(at(two[0]!) + at(two[1]!)) / 2} y={y - 2} textAnchor="middle" fontSize={9.5} fill="var(--quiet)">
            join
          </text>
        </g>
      )}
      {last.block && two[0] !== undefined && (
        <g>
          <title>{`block: ${last.block}`}</title>
          <rect x={at(two[0]) + 3} y={y - 3.5} width={7} height={7} fill="var(--color-base-content)" />
          {two.length === 1 && (
            <text x={at(two[0]) + 12} y={y + 3} fontSize={9.5} fill="var(--quiet)">
              block
            </text>
          )}
        </g>
      )}
    </>
  );
}
