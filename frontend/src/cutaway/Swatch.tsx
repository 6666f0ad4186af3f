// How a rope looks, in the drawing and beside its name: its own colour and stripe.
import type { Rope } from "../state/model";

export const STRIPES: Record<Rope["stripe"] & string, { dash: string; cap: "butt" | "round"; width: number }> = {
  plain: { dash: "0 1000000", cap: "butt", width: 0 },
  dashes: { dash: "6 6", cap: "butt", width: 1.6 },
  dots: { dash: "0.1 6", cap: "round", width: 2.2 },
  bars: { dash: "2 5", cap: "butt", width: 4.5 },
  "twin line": { dash: "1000000", cap: "butt", width: 1.2 },
  "long dash": { dash: "16 5", cap: "butt", width: 1.6 },
};

export function Swatch({ rope, width = 22 }: { rope: Pick<Rope, "colour" | "stripe"> | undefined; width?: number }) {
  const stripe = STRIPES[rope?.stripe ?? "plain"];
  return (
    <svg width={width} height={8} className="inline-block shrink-0" aria-hidden="true">
      <path d={`M0 4H${width}`} stroke="#1b1b1b" strokeOpacity={0.55} strokeWidth={7} />
      <path d={`M0 4H${width}`} stroke={rope?.colour ?? "#777777"} strokeWidth={5.6} />
      {stripe.width > 0 && (
        <path
          d={`M0 4H${width}`}
          stroke="#fffdf6"
          strokeWidth={stripe.width}
          strokeDasharray={stripe.dash}
          strokeLinecap={stripe.cap}
        />
      )}
    </svg>
  );
}
