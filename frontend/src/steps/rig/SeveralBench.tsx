// The bench of an anchor of several points: from above and from the side, as computed. Points and focal point are
// dragged; each point can be taken away to see where the ring falls and what the others then carry.
import { useState } from "react";
import { spoken } from "../../say";
import { known } from "../../state/edits";
import type { Drop, DropAssessment, Figure, Rig, SeveralView } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Num } from "../../ui/Num";
import { BenchFrame, BenchMissing, Grip, KnotMark, RingMark, Seen, Share, Without } from "./BenchFrame";
import { type Hold, type Move, useHold } from "./hold";

const W = 250;
const ALL = 232;
type Places = "out_m" | "aside_m" | "up_m";

const value = (f: Figure): number => (f.kind === "known" ? f.value : 0);
const cm = (x: number): number => Math.round(x * 100) / 100;

/** A point ("" for the focal point) moved by so much, as an estimate by eye; the focal point as decided. */
function moved(drop: Drop, leg: string, by: Partial<Record<Places, number>>): Drop {
  const [state] = drop.station.states;
  if (state?.rig.kind !== "several") return drop;
  const put = <T extends Record<Places, Figure>>(x: T, method: "eye" | "given"): T => ({
    ...x,
    ...Object.fromEntries(Object.entries(by).map(([k, d]) => [k, known(cm(value(x[k as Places]) + d), method)])),
  });
  const rig: Rig = leg
    ? { ...state.rig, legs: state.rig.legs.map((l) => (l.id === leg ? put(l, "eye") : l)) }
    : put(state.rig, "given");
  return { ...drop, station: { ...drop.station, states: [{ ...state, rig }] } };
}

type Several = Extract<Rig, { kind: "several" }>;
type Up = "aside_m" | "up_m";
/** Where places lie in one of the two views [px]. */
interface Half {
  from: "from above" | "from the side";
  up: Up;
  /** Where its heading stands. */
  head: number;
  at: (p: readonly number[]) => readonly [number, number];
}

/** Both views below each other, to one scale; each is as high as it needs. */
function useViews(v: SeveralView | null, gone: string, drop: Drop, index: number) {
  const all: (readonly number[])[] = v
    ? [...v.legs.map((l) => l.at), v.focal, v.rest, v.removals.find((r) => r.id === gone)?.at ?? v.rest, [0, 0, 0]]
    : [[0, 0, 0]];
  const span = (i: 0 | 1 | 2) => [Math.min(...all.map((p) => p[i]!)), Math.max(...all.map((p) => p[i]!))] as const;
  const [[x0, x1], [y0, y1], [z0, z1]] = [span(0), span(1), span(2)];
  const tall = y1 - y0 + z1 - z0;
  const ideal = Math.min((W - 106) / Math.max(0.2, x1 - x0), (ALL - 106) / Math.max(0.3, tall), 220);
  const hold = useHold(drop, index, ideal);
  const { scale } = hold;
  const spare = Math.max(0, ALL - 106 - tall * scale);
  const upper = Math.round(58 + (y1 - y0) * scale + spare / 2);
  const px = (x: number) => 52 + (x - x0) * scale;
  const py = (y: number) => upper / 2 + 8 - (y - (y0 + y1) / 2) * scale;
  const pz = (z: number) => upper + (ALL - upper) / 2 + 8 - (z - (z0 + z1) / 2) * scale;
  const halves: readonly Half[] = [
    { from: "from above", up: "aside_m", head: 15, at: (p) => [px(p[0]!), py(p[1]!)] },
    { from: "from the side", up: "up_m", head: upper + 15, at: (p) => [px(p[0]!), pz(p[2]!)] },
  ];
  return { hold, upper, halves };
}

export function SeveralBench({
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
  const [gone, setGone] = useState("");
  const v = a.several;
  const rig = drop.station.states[0]?.rig;
  const { hold, upper, halves } = useViews(v, gone, drop, index);
  if (!v || rig?.kind !== "several")
    return (
      <BenchMissing width={W}>
        Once every place is entered and the load's direction is known, the anchor is drawn from above and from the side.
      </BenchMissing>
    );
  const removal = v.removals.find((r) => r.id === gone);
  return (
    <BenchFrame
      label="the anchor from above and from the side"
      width={W}
      height={ALL}
      said={
        <>
          <Without points={v.legs} gone={gone} take={setGone} />
          {removal ? (
            <Gone r={removal} v={v} />
          ) : (
            <span className="quiet">
              Shares at worst over the swing (dots); legs at most <Num n={v.angle} className="font-normal" /> apart; the
              ring moves up to <Num n={v.moves} className="font-normal" />.
            </span>
          )}
        </>
      }
    >
      <defs>
        <marker id="pull" viewBox="0 0 8 8" refX={6} refY={4} markerWidth={6} markerHeight={6} orient="auto">
          <path d="M0 0L8 4L0 8Z" fill="var(--color-base-content)" />
        </marker>
      </defs>
      <path d={`M0 ${upper}H${W}`} stroke="var(--rule)" />
      {halves.map((half) => (
        <g key={half.up}>
          <Points half={half} v={v} rig={rig} removal={removal} lit={lit} />
          {!removal && <Grips half={half} v={v} rig={rig} drop={drop} hold={hold} />}
        </g>
      ))}
    </BenchFrame>
  );
}

/** Points, what joins them to the ring, and the ring with the way it is pulled. */
function Points({
  half: { from, up, head, at },
  v,
  rig,
  removal,
  lit,
}: {
  half: Half;
  v: SeveralView;
  rig: Several;
  removal: SeveralView["removals"][number] | undefined;
  lit: string;
}) {
  const { plan } = useSession();
  const ring = at(removal ? removal.at : v.rest);
  // Shares stand beside their points, pushed apart.
  const labels: number[] = [];
  v.legs
    .map((l, i) => [at(l.at)[1], i] as const)
    .sort((p, q) => p[0] - q[0])
    .reduce((above, [y, i]) => (labels[i] = Math.max(y + 4, above + 13)), -Infinity);
  return (
    <>
      <Seen y={head} from={from} />
      {v.legs.map((l, i) => {
        const [x, y] = at(l.at);
        const off = l.id === removal?.id;
        const share = (removal ? removal.shares[i]! : l.worst).value;
        const bright = lit === `point.${l.id}` || lit === `leg.${l.id}` || lit === "loop";
        return (
          <g key={l.id} className={bright ? "lit" : undefined} opacity={off ? 0.35 : 1}>
            {!off && (
              <path
                d={`M${x} ${y}L${ring[0]} ${ring[1]}`}
                stroke={tint(plan, rig, l.id)}
                strokeWidth={share > 0.001 ? 3.6 : 1.4}
                strokeDasharray={share > 0.001 ? undefined : "3 4"}
              />
            )}
            <KnotMark x={x} y={y} />
            {off && <path d={`M${x - 6} ${y - 6}l12 12m0 -12l-12 12`} stroke="var(--color-error)" strokeWidth={2} />}
            {up === "aside_m" && !off && <Share x={x - 9} y={labels[i]!} of={share} />}
          </g>
        );
      })}
      {!removal &&
        up === "aside_m" &&
        v.swung.map((s, i) => {
          const p = at(s);
          return <circle key={i} cx={p[0]} cy={p[1]} r={2.2} fill="var(--quiet)" />;
        })}
      <path
        d={`M${ring[0]} ${ring[1]}l${26 * v.direction[0]!} ${-26 * v.direction[up === "up_m" ? 2 : 1]!}`}
        stroke="var(--color-base-content)"
        strokeWidth={1.6}
        markerEnd="url(#pull)"
      />
      <RingMark x={ring[0]} y={ring[1]} lit={lit === "ring"} />
    </>
  );
}

/** What of it can be dragged: every point, and the focal point. */
function Grips({
  half: { from, up, at },
  v,
  rig,
  drop,
  hold,
}: {
  half: Half;
  v: SeveralView;
  rig: Several;
  drop: Drop;
  hold: Hold;
}) {
  const { units } = usePrefs();
  const move =
    (leg: string): Move =>
    (dx, dy) =>
    (d) =>
      moved(d, leg, { ...(dx && { out_m: dx }), ...(dy && { [up]: dy }) });
  const length = (m: number) =>
    spoken({ value: Math.abs(m), quantity: "fine length", toward: "near", working: "" }, units);
  const side = (m: number, more: string, less: string) => `${length(m)} ${m < 0 ? less : more}`;
  const places = [
    ...v.legs.map((l, i) => {
      const name = `${rigName(drop, rig, i)}, point ${i + 1} of ${v.legs.length}`;
      return { id: l.id, name, at: l.at as readonly number[] };
    }),
    { id: "", name: "focal point", at: v.focal as readonly number[] },
  ];
  return places.map((p) => {
    const [out, left, high] = p.at as readonly [number, number, number];
    const said = [side(out, "out", "back"), side(left, "left", "right"), side(high, "up", "down")].join(", ");
    const [x, y] = at(p.at);
    return (
      <Grip
        key={p.id}
        id={`${p.id || "focal"}-${up === "up_m" ? "side" : "plan"}`}
        label={`${p.name}, ${said}, ${from}`}
        x={x}
        y={y}
        hold={hold}
        move={move(p.id)}
      />
    );
  });
}

function Gone({ r, v }: { r: SeveralView["removals"][number]; v: SeveralView }) {
  return (
    <span className="block" data-testid="removal">
      The ring falls <Num n={r.drop} />
      {r.peak ? (
        <>
          ; it peaks at <Num n={r.peak} />:{" "}
          {v.legs.map((l, i) =>
            l.id === r.id ? null : (
              <span key={l.id} className="mr-2 whitespace-nowrap">
                {l.name} <Num n={r.pulls[i]!} />
              </span>
            ),
          )}
        </>
      ) : (
        <span className="sev-Not-checked">. Peak not checked: {r.why}.</span>
      )}
    </span>
  );
}

function rigName(drop: Drop, rig: Several, i: number): string {
  return drop.station.features?.find((f) => f.id === rig.legs[i]?.anchor)?.name ?? "point";
}

function tint(plan: ReturnType<typeof useSession>["plan"], rig: Several, leg: string): string {
  const of = rig.legs.find((l) => l.id === leg)?.of;
  const thing = [...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? []), ...(plan.shed.ropes ?? [])].find(
    (x) => x.id === of,
  );
  return thing?.colour ?? "#6b7280";
}
