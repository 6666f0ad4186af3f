// Two posts and their one loop from above, as computed: posts to scale, the band round both, what each post carries.
// The focal point is dragged out and in; each post can be taken away to see what happens.
import { useState } from "react";
import { known } from "../../state/edits";
import type { Drop, DropAssessment, Figure } from "../../state/model";
import { useSession } from "../../state/plan";
import { Num } from "../../ui/Num";
import { BenchFrame, Grip, KnotMark, RingMark, Seen, Share, Without } from "./BenchFrame";
import { type Move, useHold } from "./hold";

type View = NonNullable<DropAssessment["two"]>;
const W = 250;
const H = 190;
const POSTS = ["first", "second"] as const;

/** Both reaches longer by so much. */
function further(drop: Drop, by: number): Drop {
  const [state] = drop.station.states;
  if (state?.rig.kind !== "two posts") return drop;
  const grown = (f: Figure): Figure =>
    f.kind === "known" ? known(Math.max(0.05, Math.round((f.value + by) * 100) / 100), "given") : f;
  const rig = {
    ...state.rig,
    first_gain_m: grown(state.rig.first_gain_m),
    second_gain_m: grown(state.rig.second_gain_m),
  };
  return { ...drop, station: { ...drop.station, states: [{ ...state, rig }] } };
}

export function TwoPostsBench({
  two,
  webbing,
  drop,
  index,
  lit = "",
}: {
  two: View;
  webbing: string;
  drop: Drop;
  index: number;
  lit?: string;
}) {
  const { plan } = useSession();
  const [gone, setGone] = useState("");
  const colour = plan.shed.webbing?.find((w) => w.id === webbing)?.colour ?? "#7a3b6b";
  const left = Math.min(...two.posts.map((p) => p.out_m - p.radius_m));
  const top = Math.max(...two.posts.map((p) => p.aside_m + p.radius_m));
  const low = Math.min(...two.posts.map((p) => p.aside_m - p.radius_m));
  const hold = useHold(drop, index, Math.min((W - 98) / -left, (H - 44) / Math.max(0.2, top - low), 160));
  const { scale } = hold;
  const x = (m: number) => 56 + (m - left) * scale;
  const y = (m: number) => H / 2 + 6 - (m - (top + low) / 2) * scale;
  const removal = two.removals.find((r) => r.id === gone);
  const shares = removal ? removal.shares : [two.first, two.second];
  const move: Move = (dx) => (dx ? (d) => further(d, dx) : null);
  return (
    <BenchFrame
      label="two posts from above"
      width={W}
      height={H}
      said={
        <>
          <Without points={two.posts.map((p, i) => ({ id: POSTS[i]!, name: p.name }))} gone={gone} take={setGone} />
          {removal ? (
            <span data-testid="removal">
              The ring falls <Num n={removal.drop} />, in line under the other post
              {removal.peak ? (
                <>
                  ; it peaks at <Num n={removal.peak} />.
                </>
              ) : (
                <span className="sev-Not-checked">. Peak not checked: {removal.why}.</span>
              )}
            </span>
          ) : (
            <>
              Four strands in one overhand; the posts' lines stand <Num n={{ ...two.angle, working: "" }} /> apart.
            </>
          )}
        </>
      }
    >
      <Seen from="from above" />
      {two.posts.map((p, i) => {
        const far = Math.hypot(p.out_m, p.aside_m);
        const way = Math.atan2(p.aside_m, p.out_m);
        // The band leaves the post where its tangent from the focal point touches it.
        const half = Math.asin(Math.min(1, p.radius_m / far));
        const leg = far * Math.cos(half);
        const touch = [way + half, way - half].map((t) => [x(leg * Math.cos(t)), y(leg * Math.sin(t))] as const);
        const r = p.radius_m * scale + 2;
        return (
          <g key={p.name} opacity={removal?.id === POSTS[i] ? 0.3 : 1}>
            <circle
              className={lit === `point.${POSTS[i]}` ? "lit" : undefined}
              cx={x(p.out_m)}
              cy={y(p.aside_m)}
              r={p.radius_m * scale}
              fill="var(--boulder)"
              stroke="var(--rock-edge)"
              strokeWidth={1.5}
            />
            <path
              className={lit === "webbing" ? "lit" : undefined}
              d={[
                `M${x(0)} ${y(0)}L${touch[0]![0]} ${touch[0]![1]}`,
                `A${r} ${r} 0 1 1 ${touch[1]![0]} ${touch[1]![1]}L${x(0)} ${y(0)}`,
              ].join("")}
              fill="none"
              stroke={colour}
              strokeWidth={4}
              strokeLinejoin="round"
            />
            <Share x={x(p.out_m) - p.radius_m * scale - 14} y={y(p.aside_m) + 4} of={shares[i]!.value} />
          </g>
        );
      })}
      <KnotMark x={x(0)} y={y(0)} what="four-strand overhand" />
      <RingMark x={x(0) + 13} y={y(0)} lit={lit === "ring"} />
      {!removal && <Grip id="two-focal" label="focal point" x={x(0)} y={y(0)} hold={hold} move={move} />}
    </BenchFrame>
  );
}
