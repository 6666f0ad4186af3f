// The drawing of one drop's section, in any view: rock, void, water, anchor, tie, ring, contacts, strands, ends.
import { type ReactNode, useContext, useMemo } from "react";
import type { Drop, DropAssessment, Point, Rope, Sling, Webbing } from "../state/model";
import { Post, rockPoints, strata, Water } from "./Rock";
import { innerOf, LitContext, Strands } from "./Strands";
import { cut, path } from "./shape";
import { type Size, sx, sy, toScreen, type View } from "./view";

export function Scene({
  a,
  drop,
  ropes,
  webbing,
  view,
  size,
  id,
  children,
}: {
  a: DropAssessment;
  drop: Drop;
  ropes: readonly Rope[];
  webbing: readonly (Webbing | Sling)[];
  view: View;
  size: Size;
  id: string;
  /** What hangs at the ring, where it is not the strands as planned. */
  children?: ReactNode;
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
        <clipPath id={`rock-${id}`}>
          <path d={rockPath} />
        </clipPath>
        <clipPath id={`void-${id}`}>
          <path clipRule="evenodd" d={`M-100 -100H${size.width + 100}V${size.height + 100}H-100Z${rockPath}`} />
        </clipPath>
      </defs>
      {water && <Water at={landing} kind={g.landing} id={id} />}
      <path d={rockPath} fill="var(--rock)" fillOpacity={landing ? 1 : 0.4} />
      <path d={layers} fill="none" stroke="var(--strata)" strokeWidth={1} clipPath={`url(#rock-${id})`} />
      <path
        d={rockPath}
        fill="none"
        stroke="var(--rock-edge)"
        strokeWidth={1.6}
        strokeDasharray={landing ? undefined : "3 6"}
      />
      {g.landing === "hanging stance" && landing && (
        <path d={`M${landing[0]} ${landing[1]}h26`} stroke="var(--rock-edge)" strokeWidth={5} />
      )}
      <g className={light("anchor") ?? (lit.startsWith("point.") || lit.startsWith("leg.") ? "lit" : undefined)}>
        <Post drop={drop} a={a} view={view} webbing={web} />
      </g>
      {g.tie.length > 1 && (
        <path
          d={path(g.tie.map((p) => toScreen(view, p as Point)))}
          fill="none"
          stroke={web?.colour ?? "var(--quiet)"}
          strokeWidth={5}
          strokeLinejoin="round"
          role="img"
          aria-label="tie"
          className={light("webbing")}
        />
      )}
      {children ?? <Strands a={a} ropes={ropes} view={view} lit={lit} inner={innerOf(drop)} />}
      {(drop.station.deviations ?? []).map((d) => {
        const at =
          d.below_m.kind === "known"
            ? cut(
                g.taut.map((p) => p as Point),
                d.below_m.value,
              ).at(-1)
            : undefined;
        return (
          at && (
            <path
              key={d.id}
              d={`M${sx(view, at[0]) - 12} ${sy(view, at[1])}h24`}
              stroke={d.left_in ? "var(--color-base-content)" : "var(--quiet)"}
              strokeWidth={3}
              strokeDasharray={d.left_in ? undefined : "4 3"}
              role="img"
              aria-label="deviation"
            />
          )
        );
      })}
      {g.contacts
        .filter((c) => (c.turn.value * 180) / Math.PI >= 2)
        .map((c) => (
          <circle
            key={c.index}
            cx={sx(view, c.x_m)}
            cy={sy(view, c.z_m)}
            r={3.6}
            fill="var(--color-base-100)"
            stroke="var(--color-base-content)"
            strokeWidth={1.8}
            role="img"
            aria-label="contact"
          />
        ))}
      {g.ring && !(rig?.kind === "direct" && rig.ring === null) && (
        <circle
          cx={sx(view, g.ring[0])}
          cy={sy(view, g.ring[1])}
          r={6.2}
          fill="none"
          stroke="var(--color-base-content)"
          strokeWidth={2.8}
          role="img"
          aria-label="ring"
          className={light("ring")}
        />
      )}
    </g>
  );
}
