// Samples of a pull test on one line: each load, the mean, what it may be used for; one that lies far off is named.
import { scaleLinear } from "d3-scale";
import { shown } from "../../say";
import type { PullTest, PullTestAssessment } from "../../state/model";
import { usePrefs } from "../../state/prefs";

const W = 520;
const H = 84;
const EDGE = 16;

export function Samples({ t, a }: { t: PullTest; a: PullTestAssessment }) {
  const { units } = usePrefs();
  const force = shown("force", units);
  const samples = t.samples_kn ?? [];
  const marks = [
    ["mean", a.mean?.value],
    ["mean − 3 s", a.least?.value],
    ["tolerance limit", a.tolerance?.value],
  ].filter((m): m is [string, number] => typeof m[1] === "number" && m[1] > 0);
  const most = Math.max(...samples, ...marks.map(([, v]) => v)) * force.factor;
  const x = scaleLinear([0, most], [EDGE, W - EDGE]).nice(6);
  return (
    <svg
      className="plot max-w-xl"
      viewBox={`0 0 ${W} ${H}`}
      role="img"
      aria-label={`${samples.length} samples of ${t.name}`}
    >
      {x.ticks(6).map((v) => (
        <g key={v}>
          <path d={`M${x(v)} 22V${H - 20}`} className="plot-rule" />
          <text x={x(v)} y={H - 6} textAnchor="middle">
            {v} {force.unit}
          </text>
        </g>
      ))}
      {marks.map(([name, v], i) => (
        <g key={name}>
          <path d={`M${x(v * force.factor)} ${22 + i * 4}V${H - 20}`} className={i ? "plot-same" : "plot-range"} />
          <text
            x={x(v * force.factor)}
            y={i === 0 ? 12 : 24 + i * 12}
            textAnchor={i === 0 ? "middle" : "end"}
            dx={i && -4}
          >
            {name}
          </text>
        </g>
      ))}
      {samples.map((s, i) => (
        <g key={i}>
          <title>{`sample ${i + 1}: ${t.broke?.[i] ?? ""}`}</title>
          <circle
            cx={x(s * force.factor)}
            cy={H - 28}
            r={a.odd.includes(i + 1) ? 6 : 4.5}
            className={a.odd.includes(i + 1) ? "plot-odd" : "plot-mark"}
          />
        </g>
      ))}
    </svg>
  );
}
