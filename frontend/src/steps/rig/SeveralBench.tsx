// The bench of an anchor of several points: from above and from the side, as computed. Points and focal point are
// dragged; each point can be taken away to see where the ring falls and what the others then carry.
import { useState } from "react";
import { spoken } from "../../say";
import { known } from "../../state/edits";
import type { Drop, DropAssessment, Figure, Rig, SeveralView } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Num } from "../../ui/Num";
import { type Move, useHold } from "./hold";

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
  const { plan } = useSession();
  const { units } = usePrefs();
  const [gone, setGone] = useState("");
  const v = a.several;
  const rig = drop.station.states[0]?.rig;
  const all = v
    ? [
        ...v.legs.map((l) => l.at),
        v.focal,
        v.rest,
        v.removals.find((r) => r.id === gone)?.at ?? v.rest,
        [0, 0, 0] as const,
      ]
    : [[0, 0, 0] as const];
  const span = (i: 0 | 1 | 2) => [Math.min(...all.map((p) => p[i]!)), Math.max(...all.map((p) => p[i]!))] as const;
  const [x0, x1] = span(0);
  const [y0, y1] = span(1);
  const [z0, z1] = span(2);
  // One scale for both views; each is as high as it needs.
  const { held, scale, grab, keyed } = useHold(
    drop,
    index,
    Math.min((W - 106) / Math.max(0.2, x1 - x0), (ALL - 106) / Math.max(0.3, y1 - y0 + z1 - z0), 220),
  );
  if (!v || rig?.kind !== "several")
    return (
      <p className="quiet w-[250px] shrink-0 text-xs">
        Once every place is entered and the load's direction is known, the anchor is drawn from above and from the side.
      </p>
    );
  const removal = v.removals.find((r) => r.id === gone);
  const rest = removal ? removal.at : v.rest;
  const spare = Math.max(0, ALL - 106 - (y1 - y0 + z1 - z0) * scale);
  const plan_ = Math.round(58 + (y1 - y0) * scale + spare / 2);
  const side = ALL - plan_;
  const px = (x: number) => 52 + (x - x0) * scale;
  const py = (y: number) => plan_ / 2 + 8 - (y - (y0 + y1) / 2) * scale;
  const pz = (z: number) => plan_ + side / 2 + 8 - (z - (z0 + z1) / 2) * scale;
  const move =
    (leg: string, up: "aside_m" | "up_m"): Move =>
    (dx, dy) =>
    (d) =>
      moved(d, leg, { ...(dx && { out_m: dx }), ...(dy && { [up]: dy }) });
  const length = (m: number) =>
    spoken({ value: Math.abs(m), quantity: "fine length", toward: "near", working: "" }, units);
  const numbered = (id: string, name: string) =>
    id ? `${name}, point ${v.legs.findIndex((l) => l.id === id) + 1} of ${v.legs.length}` : name;
  const said = (id: string) => {
    const [out, left, up] = (v.legs.find((l) => l.id === id)?.at ?? v.focal) as readonly [number, number, number];
    const side = (m: number, more: string, less: string) => `${length(m)} ${m < 0 ? less : more}`;
    return [side(out, "out", "back"), side(left, "left", "right"), side(up, "up", "down")].join(", ");
  };
  const seen = (up: string) => (up === "up_m" ? "from the side" : "from above");
  const handle = (id: string, name: string, x: number, y: number, up: "aside_m" | "up_m") => (
    <g
      key={`${id}-${up}`}
      className={`handle ${held ? "held" : ""}`}
      tabIndex={0}
      role="button"
      aria-label={`${numbered(id, name)}, ${said(id)}, ${seen(up)}: drag, or move with the arrow keys`}
      data-handle={`${id || "focal"}-${up === "up_m" ? "side" : "plan"}`}
      onPointerDown={grab(move(id, up))}
      onKeyDown={keyed(move(id, up))}
      transform={`translate(${x.toFixed(2)} ${y.toFixed(2)})`}
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
  const half = (label: string, up: "aside_m" | "up_m", at: (p: readonly number[]) => [number, number]) => {
    const ring = at(rest);
    const focal = at(v.focal);
    // Shares stand beside their points, pushed apart.
    const labels: number[] = [];
    v.legs
      .map((l, i) => [at(l.at)[1], i] as const)
      .sort((p, q) => p[0] - q[0])
      .reduce((above, [y, i]) => (labels[i] = Math.max(y + 4, above + 13)), -Infinity);
    return (
      <g>
        <text x={8} y={up === "up_m" ? plan_ + 15 : 15} fontSize={11.5} fill="var(--color-base-content)">
          {label}
        </text>
        {v.legs.map((l, i) => {
          const p = at(l.at);
          const off = l.id === gone;
          const share = removal ? removal.shares[i]! : l.worst;
          const bright = lit === `point.${l.id}` || lit === `leg.${l.id}` || lit === "loop";
          return (
            <g key={l.id} className={bright ? "lit" : undefined} opacity={off ? 0.35 : 1}>
              {!off && (
                <path
                  d={`M${p[0]} ${p[1]}L${ring[0]} ${ring[1]}`}
                  stroke={tint(plan, rig, l.id)}
                  strokeWidth={share.value > 0.001 ? 3.6 : 1.4}
                  strokeDasharray={share.value > 0.001 ? undefined : "3 4"}
                />
              )}
              <rect
                x={p[0] - 5}
                y={p[1] - 5}
                width={10}
                height={10}
                rx={2}
                fill="var(--color-base-100)"
                stroke="var(--color-base-content)"
                strokeWidth={1.8}
              />
              {off && (
                <path d={`M${p[0] - 6} ${p[1] - 6}l12 12m0 -12l-12 12`} stroke="var(--color-error)" strokeWidth={2} />
              )}
              {up === "aside_m" && !off && (
                <text
                  x={p[0] - 9}
                  y={labels[i]}
                  textAnchor="end"
                  fontSize={11.5}
                  fontWeight={700}
                  className="num"
                  fill="var(--color-base-content)"
                >
                  {(share.value * 100).toFixed(0)} %
                </text>
              )}
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
        <circle
          cx={ring[0]}
          cy={ring[1]}
          r={6}
          fill="none"
          stroke="var(--color-base-content)"
          strokeWidth={2.6}
          role="img"
          aria-label="ring"
          className={lit === "ring" ? "lit" : undefined}
        />
        {!removal && v.legs.map((l, i) => handle(l.id, rigName(drop, rig, i), ...at(l.at), up))}
        {!removal && handle("", "focal point", ...focal, up)}
      </g>
    );
  };
  return (
    <figure className="w-[250px] shrink-0" aria-label="the anchor from above and from the side">
      <svg width={W} height={ALL} className="block rounded bg-[var(--void)]">
        <defs>
          <marker id="pull" viewBox="0 0 8 8" refX={6} refY={4} markerWidth={6} markerHeight={6} orient="auto">
            <path d="M0 0L8 4L0 8Z" fill="var(--color-base-content)" />
          </marker>
        </defs>
        <path d={`M0 ${plan_}H${W}`} stroke="var(--rule)" />
        {half("from above", "aside_m", (p) => [px(p[0]!), py(p[1]!)])}
        {half("from the side", "up_m", (p) => [px(p[0]!), pz(p[2]!)])}
      </svg>
      <figcaption className="mt-1 text-xs leading-snug">
        <span className="flex flex-wrap items-center gap-x-2 gap-y-1">
          without
          {v.legs.map((l) => (
            <button
              key={l.id}
              type="button"
              aria-pressed={gone === l.id}
              className={`lost-point ${gone === l.id ? "on" : ""}`}
              onClick={() => setGone(gone === l.id ? "" : l.id)}
            >
              {l.name}
            </button>
          ))}
        </span>
        {removal ? (
          <Gone r={removal} v={v} />
        ) : (
          <span className="quiet">
            Shares at worst over the swing (dots); legs at most <Num n={v.angle} className="!font-normal" /> apart; the
            ring moves up to <Num n={v.moves} className="!font-normal" />.
          </span>
        )}
      </figcaption>
    </figure>
  );
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

function rigName(drop: Drop, rig: Extract<Rig, { kind: "several" }>, i: number): string {
  return drop.station.features?.find((f) => f.id === rig.legs[i]?.anchor)?.name ?? "point";
}

function tint(
  plan: ReturnType<typeof useSession>["plan"],
  rig: Extract<Rig, { kind: "several" }>,
  leg: string,
): string {
  const of = rig.legs.find((l) => l.id === leg)?.of;
  const thing = [...(plan.shed.webbing ?? []), ...(plan.shed.slings ?? []), ...(plan.shed.ropes ?? [])].find(
    (x) => x.id === of,
  );
  return thing?.colour ?? "#6b7280";
}
