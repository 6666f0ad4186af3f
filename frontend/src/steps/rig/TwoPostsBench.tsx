// Two posts and their one loop from above, as computed: posts to scale, the band round both, what each post carries.
import type { DropAssessment } from "../../state/model";
import { useSession } from "../../state/plan";
import { Num } from "../../ui/Num";

type View = NonNullable<DropAssessment["two"]>;
const W = 250;
const H = 190;

export function TwoPostsBench({ two, webbing, lit = "" }: { two: View; webbing: string; lit?: string }) {
  const { plan } = useSession();
  const colour = plan.shed.webbing?.find((w) => w.id === webbing)?.colour ?? "#7a3b6b";
  const left = Math.min(...two.posts.map((p) => p.out_m - p.radius_m));
  const top = Math.max(...two.posts.map((p) => p.aside_m + p.radius_m));
  const low = Math.min(...two.posts.map((p) => p.aside_m - p.radius_m));
  const scale = Math.min((W - 98) / -left, (H - 44) / Math.max(0.2, top - low), 160);
  const x = (m: number) => 56 + (m - left) * scale;
  const y = (m: number) => H / 2 + 6 - (m - (top + low) / 2) * scale;
  const shares = [two.first, two.second];
  const lights = ["point.first", "point.second"];
  return (
    <figure className="w-[250px] shrink-0" aria-label="two posts from above">
      <svg width={W} height={H} className="block rounded bg-[var(--void)]">
        <text x={8} y={16} fontSize={11.5} fill="var(--color-base-content)">from above</text>
        {two.posts.map((p, i) => {
          const far = Math.hypot(p.out_m, p.aside_m);
          const way = Math.atan2(p.aside_m, p.out_m);
          // The band leaves the post where its tangent from the focal point touches it.
          const half = Math.asin(Math.min(1, p.radius_m / far));
          const leg = far * Math.cos(half);
          const touch = [way + half, way - half].map((t) => [x(leg * Math.cos(t)), y(leg * Math.sin(t))] as const);
          const r = p.radius_m * scale + 2;
          return (
            <g key={p.name}>
              <circle className={lit === lights[i] ? "lit" : undefined} cx={x(p.out_m)} cy={y(p.aside_m)} r={p.radius_m * scale} fill="var(--boulder)" stroke="var(--rock-edge)" strokeWidth={1.5} />
              <path className={lit === "webbing" ? "lit" : undefined} d={`M${x(0)} ${y(0)}L${touch[0]![0]} ${touch[0]![1]}A${r} ${r} 0 1 1 ${touch[1]![0]} ${touch[1]![1]}L${x(0)} ${y(0)}`} fill="none" stroke={colour} strokeWidth={4} strokeLinejoin="round" />
              <text x={x(p.out_m) - p.radius_m * scale - 14} y={y(p.aside_m) + 4} textAnchor="end" fontSize={11.5} fontWeight={700} className="num" fill="var(--color-base-content)">{(shares[i]!.value * 100).toFixed(0)} %</text>
            </g>
          );
        })}
        <rect x={x(0) - 5} y={y(0) - 5} width={10} height={10} rx={2} fill="var(--color-base-100)" stroke="var(--color-base-content)" strokeWidth={1.8} aria-label="four-strand overhand" />
        <circle className={lit === "ring" ? "lit" : undefined} cx={x(0) + 13} cy={y(0)} r={6} fill="none" stroke="var(--color-base-content)" strokeWidth={2.6} aria-label="ring" />
      </svg>
      <figcaption className="mt-1 text-xs leading-snug">Four strands in one overhand; the posts' lines stand <Num n={{ ...two.angle, working: "" }} /> apart. <span className="quiet">Each post is held by two strands and isolated from the other.</span></figcaption>
    </figure>
  );
}
