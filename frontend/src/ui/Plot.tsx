// A small plot: what was said along, what was up. Its figures stand in a table beside it; it is drawn for the eye.
import { scaleLinear } from "d3-scale";
import { figure, type Quantity, shown } from "../say";
import { usePrefs } from "../state/prefs";

export interface Mark {
  /** Along: a value, or a range. */
  at: readonly [number, number];
  up: number;
  title: string;
}

const W = 360;
const H = 260;
const EDGE = { left: 52, right: 14, top: 14, bottom: 40 };

export function Plot({
  marks,
  quantity,
  along,
  up,
  label,
  equal = true,
}: {
  marks: readonly Mark[];
  quantity: Quantity;
  along: string;
  up: string;
  label: string;
  /** Both axes of one scale, with the line on which both are the same. */
  equal?: boolean;
}) {
  const { units } = usePrefs();
  const s = shown(quantity, units);
  const all = marks.flatMap((m) => [...m.at, m.up]).map((v) => v * s.factor);
  const most = Math.max(1e-9, ...all);
  const x = scaleLinear()
    .domain([0, equal ? most : Math.max(1e-9, ...marks.flatMap((m) => m.at)) * s.factor])
    .nice(5)
    .range([EDGE.left, W - EDGE.right]);
  const y = scaleLinear()
    .domain([0, equal ? most : Math.max(1e-9, ...marks.map((m) => m.up)) * s.factor])
    .nice(5)
    .range([H - EDGE.bottom, EDGE.top]);
  const to = Math.min(x.domain()[1]!, y.domain()[1]!);
  return (
    <svg className="plot" viewBox={`0 0 ${W} ${H}`} role="img" aria-label={label}>
      {x.ticks(5).map((t) => (
        <g key={`x${t}`}>
          <path d={`M${x(t)} ${EDGE.top}V${H - EDGE.bottom}`} className="plot-rule" />
          <text x={x(t)} y={H - EDGE.bottom + 15} textAnchor="middle">
            {t}
          </text>
        </g>
      ))}
      {y.ticks(5).map((t) => (
        <g key={`y${t}`}>
          <path d={`M${EDGE.left} ${y(t)}H${W - EDGE.right}`} className="plot-rule" />
          <text x={EDGE.left - 6} y={y(t) + 4} textAnchor="end">
            {t}
          </text>
        </g>
      ))}
      {equal && <path d={`M${x(0)} ${y(0)}L${x(to)} ${y(to)}`} className="plot-same" />}
      {marks.map((m, i) => (
        <g key={i}>
          <title>{m.title}</title>
          {m.at[0] !== m.at[1] && (
            <path
              d={`M${x(m.at[0] * s.factor)} ${y(m.up * s.factor)}H${x(m.at[1] * s.factor)}`}
              className="plot-range"
            />
          )}
          <circle cx={x(((m.at[0] + m.at[1]) / 2) * s.factor)} cy={y(m.up * s.factor)} r={4.5} className="plot-mark" />
        </g>
      ))}
      <text x={(W + EDGE.left) / 2} y={H - 6} textAnchor="middle" className="plot-axis">
        {along}, {s.unit || figure({ value: 0, quantity, toward: "near", working: "" }, units)[1]}
      </text>
      <text transform={`translate(13 ${(H - EDGE.bottom) / 2}) rotate(-90)`} textAnchor="middle" className="plot-axis">
        {up}, {s.unit}
      </text>
    </svg>
  );
}
