// What is in hand if the rope sticks: bands under the curve of the pull, each with its words, and the pieces at the
// slider.
import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import type { InHand, Run, Stretch } from "../../api/types.gen";
import { spoken } from "../../say";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Num, Said } from "../../ui/Num";

const FILL: Record<Stretch["leaves"], string> = {
  climb: "var(--bar-rest)",
  "go on": "var(--bar)",
  "way off": "var(--color-warning)",
  "not checked": "var(--color-info)",
  stranded: "var(--color-error)",
};

/** What is in hand at a station, worked out once it is looked at. */
export function useInHand(drop: string, wanted = true) {
  const { view } = useSession();
  return useQuery({
    queryKey: ["in hand", view.id, view.rests, drop],
    queryFn: () => api.inHand(view.id, view.revision, drop),
    staleTime: Infinity,
    enabled: wanted,
  }).data;
}

/** Of the stretches the one in which so much is pulled. */
const here = (got: InHand, at: number) =>
  got.stretches.find((s) => at <= s.end.value) ?? got.stretches[got.stretches.length - 1];

/** A piece's length between its corners. */
export function metresOf(run: Run, pulled: number): number {
  // No more can be pulled than there is at the low end of its length.
  const at = Math.min(pulled, run.corners[run.corners.length - 1]?.pulled_m ?? 0);
  const i = run.corners.findIndex((c) => c.pulled_m >= at);
  const [p, q] = [run.corners[Math.max(0, i - 1)], run.corners[i]];
  if (!p || !q) return 0;
  const wide = q.pulled_m - p.pulled_m;
  return wide < 1e-4 ? Math.min(p.metres, q.metres) : p.metres + ((at - p.pulled_m) / wide) * (q.metres - p.metres);
}

/** The bands on the scale of the curve above them; x: where so many metres pulled lie. */
export function Bands({ got, x, width }: { got: InHand; x: (m: number) => number; width: number }) {
  return (
    <svg width={width} height={12} className="mt-1 block" role="img" aria-label="what a rope that sticks leaves">
      {got.stretches.map((s) => (
        <rect
          key={s.begin.value}
          x={x(s.begin.value)}
          width={Math.max(1.5, x(s.end.value) - x(s.begin.value) - 1)}
          height={10}
          fill={FILL[s.leaves]}
          data-leaves={s.leaves}
        />
      ))}
    </svg>
  );
}

/** Every stretch in words, the one at the slider marked, and what is then in hand. */
export function IfItSticks({ got, at }: { got: InHand; at: number | null }) {
  const { units } = usePrefs();
  const now = at === null ? null : here(got, at);
  const last = got.stretches.length - 1;
  return (
    <section aria-label="if the rope sticks" className="mt-2 text-[13px]">
      <h2 className="font-bold">If it sticks, once the last is down</h2>
      {got.why && (
        <p className="sev-Not-checked">
          <Said s={got.said} />
        </p>
      )}
      {got.stretches.map((s, n) => (
        <p
          key={s.begin.value}
          className={`border-l-4 py-0.5 pl-2 ${s === now ? "bg-base-200" : ""}`}
          style={{ borderColor: FILL[s.leaves] }}
          aria-current={s === now ? "true" : undefined}
        >
          {last === 0 ? (
            "Wherever: "
          ) : (
            <b>
              {n === 0 ? "Until " : "From "}
              {n > 0 && <Num n={s.begin} />}
              {n > 0 && n < last && " to "}
              {n < last && <Num n={s.end} />}
              {": "}
            </b>
          )}
          <Said s={s.said} />
        </p>
      ))}
      {at !== null && got.pieces.length > 0 && (
        <p className="quiet text-xs" data-testid="in-hand">
          Cut here, in hand:{" "}
          {got.pieces
            .map((r) => ({ r, m: metresOf(r, at) }))
            .filter(({ m }) => m > 0.05)
            .map(({ r, m }) => {
              const long = spoken({ value: m, quantity: "length", toward: "down", working: "" }, units);
              return `${long} of ${r.name}${r.piece === "end" ? ", its other end" : ""}`;
            })
            .join("; ") || "nothing"}
          .
        </p>
      )}
      {got.stretches.length > 1 && (
        <p className="quiet text-xs">A rope that has fallen and catches lower down is not worked out.</p>
      )}
    </section>
  );
}
