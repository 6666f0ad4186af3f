// A rope's lengths as they were measured over time, each at its limits, under its label's.
import { scaleLinear, scaleTime } from "d3-scale";
import { shown } from "../../say";
import type { GearRecord, GearView } from "../../state/model";
import { usePrefs } from "../../state/prefs";

const W = 520;
const H = 150;
const EDGE = { left: 52, right: 14, top: 12, bottom: 24 };

export function Lengths({ view, record }: { view: GearView; record: GearRecord }) {
  const { units } = usePrefs();
  const s = shown("length", units);
  const lengths = view.status?.totals.lengths ?? [];
  if (lengths.length === 0) return null;
  const days = lengths.map((l) => new Date(l.on).getTime());
  const from = record.first_used ? new Date(record.first_used).getTime() : days[0]!;
  const span = Math.max(86_400_000 * 30, Math.max(...days) - Math.min(from, ...days));
  const x = scaleTime(
    [Math.min(from, ...days) - span * 0.05, Math.max(...days) + span * 0.05],
    [EDGE.left, W - EDGE.right],
  );
  const all = [...lengths.flatMap((l) => [l.low.value, l.high.value]), ...(record.label_m ? [record.label_m] : [])].map(
    (v) => v * s.factor,
  );
  const room = Math.max(1, (Math.max(...all) - Math.min(...all)) * 0.15);
  const y = scaleLinear([Math.min(...all) - room, Math.max(...all) + room], [H - EDGE.bottom, EDGE.top]).nice(4);
  const of = (m: number) => y(m * s.factor);
  const middle = (l: (typeof lengths)[number]) => of((l.low.value + l.high.value) / 2);
  return (
    <svg
      className="plot max-w-xl"
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`lengths of ${record.names[0]}, ${lengths.length} measured`}
    >
      {y.ticks(4).map((t) => (
        <g key={t}>
          <path d={`M${EDGE.left} ${y(t)}H${W - EDGE.right}`} className="plot-rule" />
          <text x={EDGE.left - 6} y={y(t) + 4} textAnchor="end">
            {t} {s.unit}
          </text>
        </g>
      ))}
      {x.ticks(4).map((t) => (
        <text key={t.getTime()} x={x(t)} y={H - 6} textAnchor="middle">
          {t.toISOString().slice(0, 7)}
        </text>
      ))}
      {record.label_m && (
        <g>
          <path d={`M${EDGE.left} ${of(record.label_m)}H${W - EDGE.right}`} className="plot-same" />
          <text x={W - EDGE.right} y={of(record.label_m) - 4} textAnchor="end">
            its label
          </text>
        </g>
      )}
      <path
        d={lengths.map((l, i) => `${i ? "L" : "M"}${x(new Date(l.on))} ${middle(l)}`).join("")}
        className="plot-range"
        fill="none"
      />
      {lengths.map((l, i) => (
        <g key={i}>
          <title>{l.on}</title>
          <path d={`M${x(new Date(l.on))} ${of(l.low.value)}V${of(l.high.value)}`} className="plot-range" />
          <circle cx={x(new Date(l.on))} cy={middle(l)} r={4} className="plot-mark" />
        </g>
      ))}
    </svg>
  );
}
