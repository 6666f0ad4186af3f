// Will it pull: the force at the hand, where it comes from, what would help, and the whole pull as a curve with a slider.
import { useQuery } from "@tanstack/react-query";
import { Pause, Play } from "lucide-react";
import { useEffect, useRef, useState } from "react";
import { api } from "../../api/client";
import type { CurvePoint } from "../../api/types.gen";
import { spoken } from "../../say";
import type { Drop, DropAssessment } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useWhich } from "../../state/which";
import { ChoiceField } from "../../ui/fields";
import { Num } from "../../ui/Num";

const W = 320;
const H = 118;
const SECONDS = 8;
const WORD: Record<string, string> = { easy: "Easy: one hand does it", firm: "Firm: both hands", hard: "Hard for one person", stuck: "Expect it to stick" };

export interface PulledView { metres: number; ride: string }

export function Pull({ drop, a, frozen, onPulled }: { drop: Drop; a: DropAssessment; frozen: boolean; onPulled: (v: PulledView | null) => void }) {
  const { view } = useSession();
  const which = useWhich();
  const query = useQuery({ queryKey: ["pull", view.id, view.revision, drop.id, which], queryFn: () => api.pull(view.id, view.revision, drop.id, which), staleTime: Infinity, enabled: !frozen });
  const points = query.data ?? [];
  const [at, setAt] = useState(0);
  const [playing, setPlaying] = useState(false);
  const most = points[points.length - 1]?.pulled_m ?? 0;
  const ride = a.reach.find((r) => `${r.name} ${r.end.toUpperCase()}` !== a.pull.pulled)?.key ?? "";
  useEffect(() => { onPulled(at > 0 ? { metres: at, ride } : null); }, [at, ride]); // eslint-disable-line
  useEffect(() => () => onPulled(null), []); // eslint-disable-line
  useEffect(() => { setAt(0); setPlaying(false); }, [drop.id, which, view.revision]);
  const from = useRef({ time: 0, at: 0 });
  useEffect(() => {
    if (!playing || most === 0) return;
    from.current = { time: performance.now(), at: at >= most ? 0 : at };
    let frame = 0;
    const step = (now: number) => {
      const next = from.current.at + ((now - from.current.time) / 1000 / SECONDS) * most;
      const here = between(points, next);
      // It stops where it sticks, and at the end.
      if (next >= most || here.high_n > (a.pull.bands[2]?.value ?? Infinity)) { setAt(Math.min(next, most)); setPlaying(false); return; }
      setAt(next);
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [playing]); // eslint-disable-line
  const p = a.pull;
  const rock = <ChoiceField label="rock under the rope" path={["drops", `#${drop.id}`, "rock"]} value={drop.rock ?? "unknown"} choices={[{ value: "smooth", label: "smooth, water-worn" }, { value: "coarse", label: "coarse: sandstone, granite" }, { value: "unknown", label: "nobody has said: the worst of both" }]} className="w-56" />;
  if (!p.worst || !p.low || !p.high) return <div><p className="sev-Not-checked mb-2 font-semibold">Not checked: {p.why}.</p>{rock}</div>;
  const here = points.length ? between(points, at) : null;
  return (
    <div className="grid grid-cols-[1fr_336px] gap-5" aria-label="pull">
      <div className="min-w-0">
        <p className={`text-[15px] ${p.band === "stuck" ? "sev-Shortfall" : p.band === "hard" ? "sev-Caution" : ""}`}>
          <b>{WORD[p.band]}.</b> <span className="text-base-content">{p.pulled} takes <Num n={p.low} /> to <Num n={p.high} /> to start{p.worst_at && p.worst_at.value > 0 ? <>, <Num n={p.worst} /> at worst after <Num n={p.worst_at} /></> : ""}.</span>
        </p>
        <p className="text-[13px]">
          {p.runs_at ? <>It runs by itself after about <Num n={p.runs_at} />. </> : "It never runs by itself. "}
          {p.moved && p.moved_gain && p.moved.value < p.high.value && <>With the ring over the edge, <Num n={p.moved_gain} /> further: <Num n={p.moved} />.</>}
        </p>
        <table className="mt-1 w-full text-[13px]" aria-label="where the pull comes from">
          <thead><tr className="quiet text-left text-xs [&_th]:font-normal"><th>on its way, most friction</th><th className="text-right">tension before</th><th className="text-right">after</th></tr></thead>
          <tbody>
            {p.steps.map((s, i) => (
              <tr key={i} className="rule-t"><td className="py-0.5">{s.name}</td><td className="text-right"><Num n={s.before} className="!font-normal" /></td><td className="text-right"><Num n={s.after} /></td></tr>
            ))}
            <tr className="rule-t"><td className="py-0.5 font-semibold">at the hand</td><td /><td className="text-right"><Num n={p.high} /></td></tr>
          </tbody>
        </table>
        <div className="mt-2 flex items-end gap-4">{rock}{p.falls && <p className="quiet pb-1 text-xs"><Num n={p.falls} className="!font-normal" /> of rope comes down: stand clear, have it in hand or clipped. Test-pull a metre while somebody is still at the top.</p>}</div>
      </div>
      <div>
        {points.length > 0 && <Curve points={points} at={at} bands={a.pull.bands.map((b) => b.value)} />}
        <div className="mt-1 flex items-center gap-2">
          <button type="button" className="act plain px-1" aria-label={playing ? "stop the pull" : "play the pull"} disabled={points.length === 0} onClick={() => setPlaying(!playing)}>{playing ? <Pause size={16} /> : <Play size={16} />}</button>
          <input type="range" min={0} max={most || 1} step={most / 400 || 0.1} value={at} aria-label="rope pulled" className="grow accent-[var(--color-accent)]" onChange={(e) => { setPlaying(false); setAt(Number(e.target.value)); }} />
        </div>
        {here && <Now here={here} />}
      </div>
    </div>
  );
}

function Now({ here }: { here: CurvePoint }) {
  const { units } = usePrefs();
  const say = (value: number, quantity: "pull" | "length") => spoken({ value, quantity, toward: "up", working: "" }, units);
  return <p className="text-xs" data-testid="pulled-now"><b>{say(here.pulled_m, "length")}</b> pulled: <b>{say(here.high_n, "pull")}</b> at the hand; {say(here.ride_n, "pull")} below the ring, {say(here.over_n, "pull")} past it.</p>;
}

function between(points: readonly CurvePoint[], metres: number): CurvePoint {
  const last = points[points.length - 1]!;
  const step = last.pulled_m / (points.length - 1) || 1;
  const i = Math.min(points.length - 2, Math.max(0, Math.floor(metres / step)));
  const [p, q] = [points[i]!, points[i + 1] ?? last];
  const t = Math.min(1, Math.max(0, (metres - p.pulled_m) / step));
  const mix = (k: keyof CurvePoint) => p[k] + t * (q[k] - p[k]);
  return { pulled_m: mix("pulled_m"), low_n: mix("low_n"), high_n: mix("high_n"), ride_n: mix("ride_n"), over_n: mix("over_n") };
}

function Curve({ points, at, bands }: { points: readonly CurvePoint[]; at: number; bands: readonly number[] }) {
  const { units } = usePrefs();
  const most = points[points.length - 1]!.pulled_m;
  const top = Math.max(120, ...points.map((p) => p.high_n)) * 1.08;
  const x = (m: number) => 34 + (m / most) * (W - 44);
  const y = (n: number) => H - 18 - (n / top) * (H - 28);
  const line = (k: "high_n" | "low_n") => points.map((p, i) => `${i ? "L" : "M"}${x(p.pulled_m).toFixed(1)} ${y(p[k]).toFixed(1)}`).join("");
  const back = [...points].reverse().map((p) => `L${x(p.pulled_m).toFixed(1)} ${y(p.low_n).toFixed(1)}`).join("");
  const worst = points.reduce((a, b) => (b.high_n > a.high_n ? b : a));
  const now = between(points, at);
  const say = (n: number) => spoken({ value: n, quantity: "pull", toward: "up", working: "" }, units);
  return (
    <svg width={W} height={H} className="block rounded bg-[var(--void)]" role="img" aria-label="force at the hand over rope pulled">
      {bands.filter((b) => b < top).map((b) => <g key={b}><path d={`M34 ${y(b)}H${W - 10}`} stroke="var(--rule)" /><text x={30} y={y(b) + 4} textAnchor="end" fontSize={10.5} className="num" fill="var(--quiet)">{say(b).replace(/ .*/, "")}</text></g>)}
      <path d={`${line("high_n")}${back}Z`} fill="var(--bar-rest)" fillOpacity={0.5} />
      <path d={line("high_n")} fill="none" stroke="var(--bar)" strokeWidth={2} />
      <path d={`M34 ${H - 18}H${W - 10}`} stroke="var(--color-base-content)" />
      <circle cx={x(worst.pulled_m)} cy={y(worst.high_n)} r={4} fill="var(--color-accent)" aria-label="worst" />
      <text x={Math.min(W - 70, x(worst.pulled_m) + 8)} y={Math.max(12, y(worst.high_n) - 6)} fontSize={11} fontWeight={700} className="num" fill="var(--color-base-content)">{say(worst.high_n)}</text>
      <path d={`M${x(now.pulled_m)} 6V${H - 18}`} stroke="var(--color-accent)" strokeWidth={1.5} strokeDasharray="3 3" />
      <text x={34} y={H - 5} fontSize={10.5} fill="var(--quiet)">start</text>
      <text x={W - 10} y={H - 5} textAnchor="end" fontSize={10.5} fill="var(--quiet)">{spoken({ value: most, quantity: "length", toward: "near", working: "" }, units)} pulled</text>
    </svg>
  );
}
