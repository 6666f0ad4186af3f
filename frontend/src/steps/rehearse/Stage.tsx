// The stage: the drop to scale with its people, what joins them to what, and how each strand hangs after one act.
import { type ReactNode, useMemo } from "react";
import { GAP, place } from "../../cutaway/labels";
import { Scene } from "../../cutaway/Scene";
import { RopeLine } from "../../cutaway/Strands";
import { offset, path } from "../../cutaway/shape";
import { useSize } from "../../cutaway/size";
import { type Bounds, bounds, MOST_SCALE, type Size, type View } from "../../cutaway/view";
import { words } from "../../say";
import type { Drop, DropAssessment, Fault, Picture, Point, Rope, Step } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Bag, Coil, End, Mark } from "./marks";
import { Near } from "./Near";
import { downLine, lengthOf, lettersOf, lineOf, MARK, onStrands, type Stood, stand } from "./people";

const ASIDE = 3.4;
const COLUMN = 232;
/** How wide a letter of a label is, at the most, on the average [px]. */
const LETTER = 6.3;

interface Label {
  id: string;
  at: Point;
  title: string;
  sub: string;
  tone?: string;
}

/** The drop as large as it goes beside its labels, with room for the people at the landing. */
function fitted(b: Bounds, size: Size): View {
  const column = columnOf(size);
  const width = Math.max(60, size.width - column - (size.width < 560 ? 90 : 190));
  const height = Math.max(60, size.height - 116);
  const scale = Math.min(MOST_SCALE, width / (b.right - b.left), height / (b.top - b.bottom));
  const slack = Math.min(210, Math.max(0, width - (b.right - b.left) * scale));
  return { scale, ox: 50 + slack - b.left * scale, oy: 58 + b.top * scale };
}

/** How wide the column of labels is. */
const columnOf = (size: Size): number => (size.width < 560 ? 172 : COLUMN);

const lines = (text: string, column: number): number => Math.max(1, Math.ceil((text.length * LETTER) / (column - 10)));

export function Stage({
  a,
  drop,
  step,
  who,
  broken,
}: {
  a: DropAssessment;
  drop: Drop;
  step: Step;
  who: string;
  broken: Fault | null;
}) {
  const { plan } = useSession();
  const { units } = usePrefs();
  const [box, size] = useSize({ width: 700, height: 400 });
  const shows = step.shows;
  const view = useMemo(() => fitted(bounds(a.geometry), size), [a.geometry, size]);
  const line = useMemo(() => lineOf(a, view), [a, view]);
  const scene = useMemo(
    () => (
      <Scene
        a={a}
        drop={drop}
        ropes={plan.shed.ropes ?? []}
        webbing={[...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? [])]}
        view={view}
        size={size}
        id="stage"
      >
        <g />
      </Scene>
    ),
    [a, drop, plan.shed, view, size],
  );
  const stood = useMemo(() => (line ? stand(shows.people, line, size.width) : []), [shows, line, size.width]);
  const party = plan.party;
  const name = (id: string) => party.find((p) => p.id === id)?.name ?? "somebody";
  const letters = lettersOf(party);
  const listed = (place: string) => shows.people.filter((p) => p.place === place).map((p) => name(p.who));
  const away: { id: string; text: string; at: "top" | "bottom" }[] = [
    { id: "above", text: listed("above").length ? `Not here yet: ${listed("above").join(", ")}` : "", at: "top" },
    { id: "gone", text: listed("gone").length ? `Gone on: ${listed("gone").join(", ")}` : "", at: "bottom" },
  ];
  if (!line) {
    return (
      <div ref={box} className="grid h-full place-items-center bg-[var(--void)]" data-testid="stage">
        <p className="max-w-sm text-center">
          The drop is not measured: there is no section to draw. Who is held by what stands beside it.
        </p>
      </div>
    );
  }
  const ring = line[0]!;
  const foot = line[line.length - 1]!;
  const ropeName = (id: string) => plan.shed.ropes?.find((r) => r.id === id)?.name ?? "rope";
  const labels = labelsOf(shows, stood, line, name, ropeName, (s) => words(s, units));
  const column = columnOf(size);
  const columnX = Math.min(size.width - column, Math.max(foot[0] + 190, ring[0] + 60));
  const tall = (l: Label) => 1.5 + 15.5 * (lines(l.title, column) + (l.sub ? lines(l.sub, column) : 0));
  if (labels.reduce((sum, l) => sum + tall(l) + GAP, 0) > size.height - 60) {
    // Too low for all of it: names stay, and what is said in red or of the person in view.
    for (const l of labels) if (!l.tone && l.id !== `p-${who}`) l.sub = "";
  }
  const placed = place(
    labels.map((l) => ({ id: l.id, x: l.at[0], y: l.at[1], height: tall(l) })),
    30,
    size.height - 30,
  );
  return (
    <div ref={box} className="relative h-full w-full overflow-hidden bg-[var(--void)]" data-testid="stage">
      <svg
        width={size.width}
        height={size.height}
        className="absolute inset-0 select-none"
        role="img"
        aria-label={`${drop.name} after act ${step.number}`}
      >
        {scene}
        <Hanging shows={shows} line={line} ropes={plan.shed.ropes ?? []} />
        {placed.map((p) => {
          const l = labels.find((x) => x.id === p.id)!;
          const from = p.id.startsWith("p-") ? MARK + 3 : 8;
          return (
            <path
              key={p.id}
              d={`M${l.at[0] + from} ${l.at[1]}L${columnX - 24} ${p.y + 9}H${columnX - 5}`}
              fill="none"
              stroke="var(--leader)"
              strokeWidth={1}
            />
          );
        })}
        {stood.map((s) => (
          <Links key={s.p.who} s={s} ring={ring} foot={foot} />
        ))}
        {stood
          .filter((s) => s.p.who === who)
          .map((s) => (
            <Held key={s.p.who} s={s} ring={ring} foot={foot} line={line} />
          ))}
        {stood.map((s) => (
          <Mark
            key={s.p.who}
            s={s}
            person={party.find((p) => p.id === s.p.who)}
            letters={letters.get(s.p.who) ?? "?"}
            on={s.p.who === who}
          />
        ))}
        {broken && <Broken fault={broken} stood={stood} line={line} />}
        <Near
          shows={shows}
          size={size}
          ropes={plan.shed.ropes ?? []}
          name={name}
          left={Math.min(...[0.5, 0.6, 0.7, 0.8, 0.9, 1].map((t) => downLine(line, t * lengthOf(line))[0])) - 30}
        />
      </svg>
      {placed.map((p) => {
        const l = labels.find((x) => x.id === p.id)!;
        return (
          <div
            key={p.id}
            data-label={p.id}
            className={`mark-label absolute leading-[15.5px] ${l.tone ?? ""}`}
            style={{ left: columnX, top: p.y, maxWidth: Math.min(column - 4, size.width - columnX) }}
          >
            <div className="font-semibold">{l.title}</div>
            {l.sub && <div className={l.tone ? "" : "quiet"}>{l.sub}</div>}
          </div>
        );
      })}
      {away.map(
        (x) =>
          x.text && (
            <div
              key={x.id}
              data-label={x.id}
              className="mark-label quiet absolute right-3 whitespace-nowrap"
              style={{ [x.at]: 6 }}
            >
              {x.text}
            </div>
          ),
      )}
    </div>
  );
}

/** What the drawing says in words: the ring, everybody in view, ends that matter. People held alike are said once. */
function labelsOf(
  shows: Picture,
  stood: readonly Stood[],
  line: readonly Point[],
  name: (id: string) => string,
  ropeName: (id: string) => string,
  told: (s: Picture["ring"]) => string,
): Label[] {
  const foot = line[line.length - 1]!;
  const made: Label[] = [{ id: "ring", at: line[0]!, title: "ring", sub: told(shows.ring) }];
  const groups = new Map<string, Stood[]>();
  for (const s of stood) {
    const key = `${s.p.place}|${s.p.by}|${s.p.watches.join()}|${s.p.exposed}`;
    groups.set(key, [...(groups.get(key) ?? []), s]);
  }
  for (const group of groups.values()) {
    const last = group[group.length - 1]!;
    const p = last.p;
    const parts = [
      p.by || (p.exposed ? "held by nothing" : ""),
      p.watches.length ? `holds ${p.watches.map(name).join(", ")}` : "",
    ].filter(Boolean);
    made.push({
      id: `p-${last.p.who}`,
      at: (group[0] as Stood).at,
      title: group.map((s) => name(s.p.who)).join(", "),
      sub: parts.join("; "),
      ...(p.exposed && !p.by ? { tone: "sev-Shortfall" } : {}),
    });
  }
  const down = shows.strands.filter((s) => s.hangs === "down");
  const say = (s: Picture["strands"][number]) =>
    s.stopper ? "stopper in" : s.planned ? "its stopper is out" : "no stopper";
  const alike = down.length === 2 && say(down[0]!) === say(down[1]!);
  for (const [i, s] of (alike ? down.slice(0, 1) : down).entries()) {
    made.push({
      id: `end-${s.key}`,
      at: [foot[0] + (i === 0 ? -ASIDE : ASIDE), foot[1] + 4],
      title: alike ? "both ends" : `end ${s.end.toUpperCase()} of ${ropeName(s.rope)}${s.pulled ? ", pulled" : ""}`,
      sub: say(s) + (s.hand ? `, in ${name(s.hand)}’s hand` : ""),
      ...(!s.stopper && s.planned && !shows.tied.some((t) => t.includes("overhand")) ? { tone: "sev-Caution" } : {}),
    });
  }
  if (shows.below)
    made.push({ id: "below", at: [foot[0] + 20, foot[1] + 6], title: "at the landing", sub: told(shows.below) });
  return made;
}

/** The strands as they hang now: in the bag, gathered at the station, down, or on the landing. */
function Hanging({ shows, line, ropes }: { shows: Picture; line: readonly Point[]; ropes: readonly Rope[] }) {
  const ring = line[0]!;
  const foot = line[line.length - 1]!;
  return (
    <g role="img" aria-label="strands">
      {shows.strands.map((s, i) => {
        const rope = ropes.find((r) => r.id === s.rope);
        const aside = shows.strands.length === 1 ? 0 : i === 0 ? -ASIDE : ASIDE;
        if (s.hangs === "down") {
          const points = offset(line, aside);
          const end = points[points.length - 1]!;
          return (
            <g key={`${s.key} down`} className="hanging">
              <RopeLine points={points} rope={rope} id={s.key} />
              <End at={end} stopper={s.stopper} planned={s.planned} colour={rope?.colour ?? "#777777"} />
            </g>
          );
        }
        if (s.hangs === "station") {
          const at = downLine(line, 4);
          const loop: Point[] = [ring, [at[0] + aside * 2, at[1] + 9], [ring[0] - 12 + aside, ring[1] + 4]];
          return <RopeLine key={s.key} points={loop} rope={rope} id={s.key} />;
        }
        if (s.hangs === "landing" && (i === 0 || shows.strands[0]!.rope !== s.rope)) {
          const x = foot[0] + 16 + 16 * i;
          return <Coil key={s.key} at={[x, foot[1] - 6]} colour={rope?.colour ?? "#777777"} />;
        }
        if (s.hangs === "bag" && (i === 0 || shows.strands[0]!.rope !== s.rope))
          return <Bag key={s.key} at={[ring[0] - 22 - 20 * i, ring[1] + 2]} colour={rope?.colour ?? "#777777"} />;
        return null;
      })}
    </g>
  );
}

/** Whether a link is at the station in view, and not at its landing. */
const upHere = (link: Stood["p"]["links"][number]): boolean => link.here && link.to !== "landing";

const DASH = ["", "7 4", "1.5 4.5"];

/** What joins one person to rock and rope. What holds them is lit path by path, each in a stroke of its own. */
function Links({ s, ring, foot }: { s: Stood; ring: Point; foot: Point }) {
  const [x, y] = s.at;
  const made: ReactNode[] = [];
  for (const link of s.p.links) {
    const here = upHere(link);
    const from: Point = here ? [ring[0] - 3, ring[1] + 2] : [foot[0] + 30, foot[1] - 46];
    if (link.kind === "tether") {
      const to: Point = here || s.p.place === "landing" ? from : ring;
      made.push(
        <path
          key="tether"
          d={`M${to[0]} ${to[1]}Q${(to[0] + x) / 2} ${Math.max(to[1], y) + 7} ${x} ${y}`}
          fill="none"
          stroke="var(--tether)"
          strokeWidth={3}
          strokeDasharray={link.tested ? undefined : "5 3"}
          role="img"
          aria-label="tether"
        />,
      );
      if (!here)
        made.push(
          <path key="master" d={`M${from[0] - 6} ${from[1]}h12`} stroke="var(--color-base-content)" strokeWidth={3} />,
        );
    } else if (onStrands(link.kind) && here && s.on) {
      const [dx, dy] = s.on;
      if (link.kind === "third hand")
        made.push(
          <g key="hitch" stroke="var(--hitch)" strokeWidth={2.2} fill="none" role="img" aria-label="third hand">
            {[0, 3.6, 7.2].map((d) => (
              <path key={d} d={`M${dx - 7} ${dy + 13 + d}q7 4 14 0`} />
            ))}
            <path d={`M${dx + 6} ${dy + 17}L${x - 4} ${y + 4}`} strokeWidth={1.6} />
          </g>,
        );
      else if (link.kind === "device")
        made.push(
          <g key="device" role="img" aria-label="device">
            <path d={`M${dx + 5} ${dy}L${x} ${y}`} stroke="var(--tether)" strokeWidth={2.6} />
            <rect
              x={dx - 7}
              y={dy - 6}
              width={14}
              height={12}
              rx={2.5}
              fill={link.tested ? "var(--color-base-content)" : "var(--color-base-100)"}
              stroke="var(--color-base-content)"
              strokeWidth={2}
            />
            {link.hand && (
              <path
                d={`M${dx - 9} ${dy + 26}l18 0`}
                stroke="var(--color-base-content)"
                strokeWidth={3.4}
                role="img"
                aria-label="hand on the brake"
              />
            )}
          </g>,
        );
      else
        made.push(
          <path
            key={link.kind}
            d={`M${dx} ${dy}L${x} ${y}`}
            stroke="var(--color-base-content)"
            strokeWidth={2.4}
            role="img"
            aria-label={link.kind}
          />,
        );
    } else if (link.kind === "top line" && here) {
      made.push(
        <path
          key="line"
          d={`M${ring[0] - 8} ${ring[1]}Q${ring[0] - 20} ${(ring[1] + y) / 2} ${x} ${y}`}
          fill="none"
          stroke="var(--wood)"
          strokeWidth={2.6}
          role="img"
          aria-label="top line"
        />,
      );
    } else if (link.kind === "passenger") {
      made.push(
        <path
          key="passenger"
          d={`M${x} ${y}l-30 -20`}
          stroke="var(--tether)"
          strokeWidth={2.4}
          role="img"
          aria-label="longer tether"
        />,
      );
    }
  }
  return <g>{made}</g>;
}

/** What holds the person in view, from rock to harness: each independent path in a stroke and a place of its own. */
function Held({ s, ring, foot, line }: { s: Stood; ring: Point; foot: Point; line: readonly Point[] }) {
  const [x, y] = s.at;
  let beside = 0;
  return (
    <g role="img" aria-label="what holds" fill="none" strokeLinecap="round" strokeLinejoin="round">
      {s.p.lit.map((parts, i) => {
        const tether = parts.some((p) => p.startsWith("tether."));
        const top = parts.some((p) => p.startsWith("line."));
        const tied = s.p.links.find((k) => k.kind === "tether");
        const from: Point = tether && tied && !upHere(tied) ? [foot[0] + 30, foot[1] - 46] : [ring[0] - 3, ring[1] + 2];
        let d = `M${from[0]} ${from[1]}Q${(from[0] + x) / 2} ${Math.max(from[1], y) + (top ? -12 : 7)} ${x} ${y}`;
        if (!tether && !top && s.on) {
          const shift = beside++ % 2 === 0 ? 11 : -11;
          d = `${path(offset([...upTo(line, s.on)], -shift))}L${x} ${y}`;
        }
        return (
          <g key={parts.join()} data-path={i + 1}>
            <path d={d} stroke="var(--void)" strokeWidth={6.5} strokeOpacity={0.7} />
            <path d={d} stroke="var(--color-accent)" strokeWidth={3.4} strokeDasharray={DASH[i % 3]} />
          </g>
        );
      })}
    </g>
  );
}

function upTo(line: readonly Point[], at: Point): Point[] {
  const made: Point[] = [];
  for (const p of line) {
    if (p[1] >= at[1] && made.length > 0) break;
    made.push(p);
  }
  return [...made, at];
}

/** What one broken thing does: where whoever falls comes to, what does not come down, who hangs. */
function Broken({ fault, stood, line }: { fault: Fault; stood: readonly Stood[]; line: readonly Point[] }) {
  const foot = line[line.length - 1]!;
  return (
    <g role="img" aria-label="what happens" data-testid="broken">
      {fault.outcomes.map((o, i) => {
        const s = stood.find((x) => x.p.who === o.who);
        const tone = o.accepted ? "var(--color-warning)" : "var(--color-error)";
        if (o.happens === "falls" || o.happens === "slides to a stopper") {
          const from = s?.at ?? line[0]!;
          const to: Point = [Math.max(from[0], foot[0]) + 6, foot[1] - (o.happens === "falls" ? 4 : 26)];
          return (
            <g key={o.who + String(i)} stroke={tone} fill="none" strokeWidth={2.6}>
              <path
                d={`M${from[0]} ${from[1] + MARK}Q${to[0] + 16} ${(from[1] + to[1]) / 2} ${to[0]} ${to[1]}`}
                strokeDasharray="9 5"
              />
              <path d={`M${to[0] - 8} ${to[1] - 11}l8 11l8 -11`} />
              {o.happens === "slides to a stopper" && <path d={`M${to[0] - 10} ${to[1] + 5}h20`} />}
            </g>
          );
        }
        if (o.happens === "held") {
          const from = s?.at;
          return (
            from && (
              <path
                key={o.who + String(i)}
                d={`M${from[0] - MARK - 4} ${from[1] + MARK + 4}h${2 * MARK + 8}`}
                stroke="var(--color-base-content)"
                strokeWidth={3}
              />
            )
          );
        }
        const at = o.happens === "cannot be pulled" ? line[0]! : o.happens === "stranded" ? (s?.at ?? line[0]!) : foot;
        return (
          <path
            key={o.happens + String(i)}
            d={`M${at[0] - 11} ${at[1] - 11}l22 22m0 -22l-22 22`}
            stroke={tone}
            strokeWidth={3}
            fill="none"
          />
        );
      })}
    </g>
  );
}
