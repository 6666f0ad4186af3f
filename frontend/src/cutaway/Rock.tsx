// What does not move: rock, water, and what the station is tied to.
import type { Drop, DropAssessment, Point, Sling, Webbing } from "../state/model";
import { type Size, toScreen, type View } from "./view";

export function strata(ox: number, oy: number, size: Size): string {
  const rows: string[] = [];
  const step = 24;
  const phase = ((oy % step) + step) % step;
  for (let y = phase - step; y < size.height + step; y += step) {
    let d = `M-40 ${y.toFixed(1)}`;
    const row = Math.round((y - oy) / step);
    for (let x = -40; x < size.width + 80; x += 40) {
      const lift = 3.2 * Math.sin((x - ox) / 47 + row * 1.9) + 1.6 * Math.sin((x - ox) / 19 + row);
      d += `Q${x + 20} ${(y - lift).toFixed(1)} ${x + 40} ${y.toFixed(1)}`;
    }
    rows.push(d);
  }
  return rows.join("");
}

/** The rock as one mass: behind the anchor, along the terrain, and whatever the landing is. */
export function rockPoints(
  a: DropAssessment,
  view: View,
  size: Size,
): { rock: Point[]; floorY: number; landing: Point | null } {
  const terrain = a.geometry.terrain.map((t) => toScreen(view, [t.x_m, t.z_m]));
  const first = terrain[0]!;
  const far = size.width + 60;
  const left: Point[] = [
    [-60, first[1] - 14],
    [first[0] - 90, first[1] - 8],
    [first[0] - 26, first[1]],
  ];
  const landing =
    a.geometry.terrain.length > 1 && a.geometry.missing.length === 0 ? terrain[terrain.length - 1]! : null;
  const base = Math.max(size.height + 60, ...terrain.map((p) => p[1] + 60));
  if (!landing) {
    const last = terrain[terrain.length - 1]!;
    return {
      rock: [...left.filter((p) => p[0] < first[0]), ...terrain, [last[0], base], [-60, base]],
      floorY: base,
      landing: null,
    };
  }
  const [x, y] = landing;
  const kind = a.geometry.landing;
  const floor: Point[] =
    kind === "pool" || kind === "moving water"
      ? [
          [x + 3, y + 16],
          [x + 26, y + 24],
          [x + 110, y + 27],
          [x + 190, y + 12],
          [x + 232, y - 5],
          [far, y - 9],
        ]
      : kind === "wading"
        ? [
            [x + 4, y + 7],
            [x + 90, y + 9],
            [x + 150, y - 3],
            [far, y - 6],
          ]
        : kind === "ledge"
          ? [
              [x + 74, y + 1],
              [x + 80, y + 9],
              [x + 78, base],
            ]
          : kind === "hanging stance"
            ? [[x, base]]
            : [
                [x + 60, y + 1],
                [x + 170, y - 3],
                [far, y + 1],
              ];
  const closes: Point[] =
    kind === "ledge" || kind === "hanging stance"
      ? [[-60, base]]
      : [
          [far, base],
          [-60, base],
        ];
  return { rock: [...left.filter((p) => p[0] < first[0]), ...terrain, ...floor, ...closes], floorY: y, landing };
}

export function Water({ at, kind, id }: { at: Point; kind: string; id: string }) {
  const [x, y] = at;
  const depth = kind === "wading" ? 10 : 30;
  const width = kind === "wading" ? 146 : 222;
  return (
    <g role="img" aria-label={kind}>
      <rect x={x - 14} y={y} width={width + 14} height={depth} fill="var(--water)" clipPath={`url(#void-${id})`} />
      <path d={`M${x} ${y}H${x + width}`} stroke="var(--water-edge)" strokeWidth={1.5} clipPath={`url(#void-${id})`} />
      {kind === "moving water" &&
        [0, 1, 2].map((i) => (
          <path
            key={i}
            d={`M${x + 40 + i * 52} ${y + 8}q8 -6 16 0t16 0m-5 -4l5 4l-6 3`}
            fill="none"
            stroke="var(--water-edge)"
            strokeWidth={1.4}
          />
        ))}
    </g>
  );
}

export function Post({
  drop,
  a,
  view,
  webbing,
}: {
  drop: Drop;
  a: DropAssessment;
  view: View;
  webbing: Webbing | Sling | undefined;
}) {
  const rig = drop.station.states[0]?.rig;
  const [x, y] = toScreen(view, [0, 0]);
  if (rig?.kind === "several") return <Points drop={drop} a={a} view={view} />;
  const id =
    rig?.kind === "wrap" ? rig.post : rig?.kind === "direct" ? rig.anchor : rig?.kind === "two posts" ? rig.first : "";
  const feature = drop.station.features.find((f) => f.id === id);
  if (!feature) return null;
  if (feature.kind !== "post") {
    return (
      <g role="img" aria-label={feature.name}>
        {feature.kind === "ice thread" ? (
          <path
            d={`M${x - 26} ${y - 1}L${x - 14} ${y + 13}L${x - 2} ${y - 1}`}
            fill="none"
            stroke="var(--color-base-content)"
            strokeWidth={2}
          />
        ) : (
          <>
            <path
              d={`M${x - 9} ${y - 7}h8v14h-8z`}
              fill="var(--quiet)"
              stroke="var(--color-base-content)"
              strokeWidth={1.4}
            />
            <circle cx={x - 5} cy={y} r={2} fill="var(--color-base-100)" />
          </>
        )}
      </g>
    );
  }
  const r = (a.geometry.post_radius_m ?? 0.25) * view.scale;
  const band = webbing?.colour ?? "#7a3b6b";
  const shape =
    feature.what === "tree"
      ? [
          `M${x - 2 * r} ${y + 6}`,
          `C${x - 2.2 * r} ${y - 20} ${x - 2 * r} ${y - 60} ${x - 1.8 * r} ${y - 400}H${x - r * 0.2}`,
          `C${x} ${y - 60} ${x + r * 0.1} ${y - 20} ${x} ${y + 6}Z`,
        ].join("")
      : feature.what === "pillar"
        ? `M${x - 2 * r} ${y + 6}V${y - 2.6 * r}q${r} ${-r * 0.4} ${2 * r} 0V${y + 6}Z`
        : feature.what === "horn"
          ? [
              `M${x - 2.2 * r} ${y + 8}`,
              `C${x - 2 * r} ${y - r} ${x - 1.2 * r} ${y - 2.4 * r} ${x - 0.7 * r} ${y - 2.5 * r}`,
              `C${x - 0.1 * r} ${y - 2 * r} ${x} ${y - r} ${x} ${y + 6}Z`,
            ].join("")
          : [
              `M${x - 2 * r} ${y + 3}`,
              `C${x - 2.15 * r} ${y - 0.7 * r} ${x - 1.7 * r} ${y - 1.25 * r} ${x - r} ${y - 1.25 * r}`,
              `C${x - 0.3 * r} ${y - 1.2 * r} ${x + 0.05 * r} ${y - 0.6 * r} ${x} ${y + 4}Z`,
            ].join("");
  return (
    <g role="img" aria-label={feature.name}>
      <path
        d={shape}
        fill={feature.what === "tree" ? "var(--wood)" : "var(--boulder)"}
        stroke="var(--rock-edge)"
        strokeWidth={1.6}
      />
      {rig?.kind !== "direct" && (
        <path
          d={`M${x - 2 * r} ${y - 1}Q${x - r} ${y + Math.min(5, r / 3)} ${x} ${y}`}
          fill="none"
          stroke={band}
          strokeWidth={5}
          strokeLinecap="round"
        />
      )}
    </g>
  );
}

/** Several points from the side: each at its own place, its leg to where the ring rests. */
function Points({ drop, a, view }: { drop: Drop; a: DropAssessment; view: View }) {
  const v = a.several;
  const rig = drop.station.states[0]?.rig;
  if (!v || rig?.kind !== "several" || !a.geometry.ring) return null;
  // The drawing hangs the ring on the rope's line; the points stand off from it as computed.
  const ring = toScreen(view, [v.rest[0], v.rest[2]]);
  return (
    <g role="img" aria-label="points">
      {v.legs.map((l) => {
        const [x, y] = toScreen(view, [l.at[0], l.at[2]]);
        return (
          <g key={l.id}>
            <path d={`M${x} ${y}L${ring[0]} ${ring[1]}`} stroke="#7a3b6b" strokeWidth={2.6} strokeOpacity={0.8} />
            <rect
              x={x - 4.5}
              y={y - 4.5}
              width={9}
              height={9}
              rx={2}
              fill="var(--quiet)"
              stroke="var(--color-base-content)"
              strokeWidth={1.4}
            />
          </g>
        );
      })}
    </g>
  );
}
