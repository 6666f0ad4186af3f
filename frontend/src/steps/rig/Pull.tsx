// Will it pull: the force at the hand, where it comes from, what would help, and the whole pull as a curve with a
// slider.
import { useQuery } from "@tanstack/react-query";
import { Pause, Play } from "lucide-react";
import { memo, useEffect, useState } from "react";
import { api } from "../../api/client";
import type { CurvePoint, Curve as PullCurve, Sentence } from "../../api/types.gen";
import { useSetPulled } from "../../cutaway/Strands";
import { spoken } from "../../say";
import { applyEdits } from "../../state/edits";
import type { Drop, DropAssessment } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useSystems } from "../../state/systems";
import { useWhich } from "../../state/which";
import { HANG, ROCK } from "../../ui/choices";
import { ChoiceField } from "../../ui/fields";
import { Num, Said } from "../../ui/Num";
import { Bands, IfItSticks, useInHand } from "./InHand";

const W = 320;
const H = 118;
const SECONDS = 8;
const WORD: Record<string, string> = {
  easy: "Easy: one hand does it",
  firm: "Firm: both hands",
  hard: "Hard for one person",
  stuck: "Expect it to stick",
};

const NONE: readonly CurvePoint[] = [];

/** How far the rope is pulled, by hand or in a run, and what it takes there; strands and labels show the same. */
function usePulling(curve: PullCurve | undefined, bands: readonly number[], about: string) {
  const show = useSetPulled();
  const [at, setAt] = useState(0);
  const [playing, setPlaying] = useState(false);
  const points = curve?.moments ?? NONE;
  const most = points[points.length - 1]?.pulled_m ?? 0;
  const stuck = bands[2] ?? Infinity;
  const move = (to: number) => {
    setAt(to);
    if (!curve || points.length === 0) return show(null);
    const { up_line: upLine, down_line: downLine } = curve;
    const of = { up: `reach.${curve.up}`, down: `reach.${curve.down}`, upLine, downLine };
    show({ metres: to, here: between(points, to), ...of, bands });
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: another pull starts at its beginning
  useEffect(() => {
    move(0);
    setPlaying(false);
  }, [about, curve]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: said once, when the panel closes
  useEffect(() => () => show(null), []);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the run reads where it starts once, and goes on from there
  useEffect(() => {
    if (!playing || most === 0) return;
    const from = { time: performance.now(), at: at >= most ? 0 : at };
    let frame = 0;
    const step = (now: number) => {
      const next = from.at + ((now - from.time) / 1000 / SECONDS) * most;
      // It stops where it sticks, and at the end.
      if (next >= most || between(points, next).high_n > stuck) {
        move(Math.min(next, most));
        setPlaying(false);
        return;
      }
      move(next);
      frame = requestAnimationFrame(step);
    };
    frame = requestAnimationFrame(step);
    return () => cancelAnimationFrame(frame);
  }, [playing]);
  return { points, most, stuck, at, move, playing, setPlaying };
}

export function Pull({ drop, a, frozen }: { drop: Drop; a: DropAssessment; frozen: boolean }) {
  return (
    <div className="grid grid-cols-[1fr_336px] gap-5 max-sm:grid-cols-1" role="group" aria-label="pull">
      <div className="min-w-0">
        <PullSide drop={drop} a={a} />
        <Force drop={drop} a={a} />
        <SaidList title="Before you pull" lines={a.retrieval.before} ordered />
        <SaidList title="What may catch" lines={a.retrieval.snags} />
      </div>
      <div>
        <Along drop={drop} bands={a.pull.bands.map((b) => b.value)} frozen={frozen} />
        <div className="mt-2 grid grid-cols-2 gap-x-3 gap-y-1.5">
          <ChoiceField
            label="rock under the rope"
            path={["drops", `#${drop.id}`, "rock"]}
            value={drop.rock ?? "unknown"}
            choices={ROCK}
            className="col-span-2"
          />
          <ChoiceField
            label="strands hang below the ring"
            path={["drops", `#${drop.id}`, "station", "strands_hang"]}
            value={drop.station.strands_hang ?? "unknown"}
            choices={HANG}
          />
          <ChoiceField
            label="cracks or flakes under the line"
            path={["drops", `#${drop.id}`, "cracks"]}
            value={drop.cracks ?? "unknown"}
            choices={["no", "yes", "unknown"]}
          />
        </div>
      </div>
    </div>
  );
}

/** The whole pull as a curve, with a slider along it. */
function Along({ drop, bands, frozen }: { drop: Drop; bands: readonly number[]; frozen: boolean }) {
  const { view } = useSession();
  const which = useWhich();
  const { data: curve } = useQuery({
    queryKey: ["pull", view.id, view.rests, drop.id, which],
    queryFn: () => api.pull(view.id, view.revision, drop.id, which),
    staleTime: Infinity,
    enabled: !frozen,
  });
  const about = `${drop.id} ${which} ${view.revision}`;
  const { points, most, stuck, at, move, playing, setPlaying } = usePulling(curve, bands, about);
  const here = points.length ? between(points, at) : null;
  const held = useInHand(drop.id, !frozen);
  return (
    <>
      {points.length > 0 && (
        <>
          <Curve points={points} at={at} bands={bands} />
          {held && <Bands got={held} x={(m) => along(points, Math.min(m, most))} width={W} />}
          <div className="mt-1 flex items-center gap-2">
            <button
              type="button"
              className="act plain px-1"
              aria-label={playing ? "stop the pull" : "play the pull"}
              onClick={() => setPlaying(!playing)}
            >
              {playing ? <Pause size={16} /> : <Play size={16} />}
            </button>
            <input
              type="range"
              min={0}
              max={most || 1}
              step={most / 400 || 0.1}
              value={at}
              aria-label="rope pulled"
              className="grow accent-[var(--color-accent)]"
              onChange={(e) => {
                setPlaying(false);
                move(Number(e.target.value));
              }}
            />
          </div>
        </>
      )}
      {here && <Now here={here} stuck={here.high_n > stuck} />}
      {held && <IfItSticks got={held} at={here ? at : null} />}
    </>
  );
}

/** Which strand to pull and why; the other, where either works. */
/**
 * The two strands as one faces the rock, or from the side where one hangs behind the other; the pulled one in its
 * colour.
 */
function Facing({ drop, colour }: { drop: Drop; colour: string }) {
  const lies = drop.station.states[0]?.pulled_lies ?? "unknown";
  const hang = drop.station.strands_hang ?? "unknown";
  if (hang === "unknown" || lies === "unknown") return null;
  const first = lies === "left" || lies === "against the rock";
  const strand = (x: number, pulled: boolean) => (
    <g>
      <path
        d={`M22 7Q${x} 8 ${x} 18V40`}
        fill="none"
        stroke={pulled ? colour : "var(--quiet)"}
        strokeWidth={pulled ? 4.6 : 2.2}
      />
      {pulled && <path d={`M${x - 5} 34l5 6l5 -6`} fill="none" stroke="var(--color-base-content)" strokeWidth={2} />}
    </g>
  );
  return (
    <svg
      width={44}
      height={44}
      className="shrink-0 rounded bg-[var(--void)]"
      role="img"
      aria-label={hang === "side by side" ? "facing the rock" : "from the side, the rock on the left"}
    >
      {hang === "one behind" && <path d="M0 0H9V44H0Z" fill="var(--rock)" />}
      {strand(hang === "one behind" ? 15 : 13, first)}
      {strand(hang === "one behind" ? 29 : 31, !first)}
      <circle cx={22} cy={7} r={4} fill="none" stroke="var(--color-base-content)" strokeWidth={2} />
    </svg>
  );
}

function PullSide({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const { plan, edit } = useSession();
  const side = a.retrieval.side;
  const rope = plan.shed.ropes?.find(
    (r) => side.strand && a.reach.some((x) => x.key === `reach.${side.strand}` && x.rope === r.id),
  );
  return (
    <div className="mb-1.5" data-testid="pull-side">
      <p className="flex items-center gap-2 text-[16px] font-semibold">
        {rope && <Facing drop={drop} colour={rope.colour ?? "#777777"} />}
        <span>
          <Said s={side.said} />
        </span>
      </p>
      {side.flip.length > 0 && (
        <button
          type="button"
          className="act my-1"
          title="Pull the other side (X)"
          onClick={() => edit(applyEdits(side.flip))}
        >
          Pull the other side
        </button>
      )}
      {side.reasons.map((r, i) => (
        <p key={i} className="quiet text-[13px]">
          <Said s={r} />
        </p>
      ))}
      {side.refused && side.strand && (
        <p className="text-[13px]">
          <span className="quiet">Not the other: </span>
          <Said s={side.refused} />
        </p>
      )}
    </div>
  );
}

function Force({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const p = a.pull;
  const ways = useSystems(drop).data?.ways ?? [];
  const easier = [...ways]
    .filter((w) => !w.in_use && !w.ruled_out && w.pull && p.high && w.pull.value < p.high.value)
    .sort((x, y) => x.pull!.value - y.pull!.value)[0];
  if (!p.worst || !p.low || !p.high)
    return <p className="sev-Not-checked mb-2 font-semibold">Force not worked out: {p.why}.</p>;
  return (
    <>
      <p className={`text-[15px] ${p.band === "stuck" ? "sev-Shortfall" : p.band === "hard" ? "sev-Caution" : ""}`}>
        <b>{WORD[p.band]}.</b>{" "}
        <span className="text-base-content">
          {p.pulled} takes <Num n={p.low} /> to <Num n={p.high} /> to start
          {p.dry ? (
            <>
              , <Num n={p.dry} /> at the most dry
            </>
          ) : (
            ""
          )}
          {p.worst_at && p.worst_at.value > 0 && p.worst.value > p.high.value + 1 ? (
            <>
              , <Num n={p.worst} /> at worst after <Num n={p.worst_at} />
            </>
          ) : (
            ""
          )}
          .
        </span>
      </p>
      <p className="text-[13px]">
        {p.runs_at ? (
          <>
            It runs by itself after about <Num n={p.runs_at} />.{" "}
          </>
        ) : (
          "It never runs by itself. "
        )}
        {p.moved && p.moved_gain && p.moved.value < p.high.value && (
          <>
            With the ring over the edge, <Num n={p.moved_gain} /> further: <Num n={p.moved} />; a courtesy rig puts it
            there for the last person alone.{" "}
          </>
        )}
        {easier?.pull && (
          <>
            The easiest other way not ruled out: {easier.kind}, {easier.ropes.join(" and ")}:{" "}
            <Num n={{ ...easier.pull, working: "" }} />.
          </>
        )}
      </p>
      <table className="mt-1 w-full text-[13px]" aria-label="where the pull comes from">
        <thead>
          <tr className="quiet text-left text-xs [&_th]:font-normal">
            <th>on its way, most friction</th>
            <th className="text-right">tension before</th>
            <th className="text-right">after</th>
          </tr>
        </thead>
        <tbody>
          {p.steps.map((s, i) => (
            <tr key={i} className="rule-t">
              <td className="h-6">{s.name}</td>
              <td className="text-right">
                <Num n={s.before} className="font-normal" />
              </td>
              <td className="text-right">
                <Num n={s.after} />
              </td>
            </tr>
          ))}
          <tr className="rule-t">
            <td className="h-6 font-semibold">at the hand</td>
            <td />
            <td className="text-right">
              <Num n={p.high} />
            </td>
          </tr>
        </tbody>
      </table>
    </>
  );
}

function SaidList({ title, lines, ordered = false }: { title: string; lines: readonly Sentence[]; ordered?: boolean }) {
  if (lines.length === 0) return null;
  const items = lines.map((l, i) => (
    <li key={i}>
      <Said s={l} />
    </li>
  ));
  return (
    <section aria-label={title} className="mt-2 text-[13px]">
      <h2 className="font-bold">{title}</h2>
      {ordered ? <ol className="list-decimal pl-5">{items}</ol> : <ul className="list-disc pl-5">{items}</ul>}
    </section>
  );
}

function Now({ here, stuck }: { here: CurvePoint; stuck: boolean }) {
  const { units } = usePrefs();
  const say = (value: number, quantity: "pull" | "length") =>
    spoken({ value, quantity, toward: "up", working: "" }, units);
  return (
    <p className="text-xs" data-testid="pulled-now">
      {stuck && <b className="sev-Shortfall">It sticks here. </b>}
      <b>{say(here.pulled_m, "length")}</b> pulled: <b>{say(here.high_n, "pull")}</b> at the hand;{" "}
      {say(here.up_n[0] ?? 0, "pull")} below the ring, {say(over(here), "pull")} past it.
    </p>
  );
}

/** Tension just past the ring: the upper end of the pull strand's first piece. */
const over = (here: CurvePoint): number => here.down_n[0] ?? 0;

export function between(points: readonly CurvePoint[], metres: number): CurvePoint {
  const last = points[points.length - 1]!;
  const step = last.pulled_m / (points.length - 1) || 1;
  const i = Math.min(points.length - 2, Math.max(0, Math.floor(metres / step)));
  const [p, q] = [points[i]!, points[i + 1] ?? last];
  const t = Math.min(1, Math.max(0, (metres - p.pulled_m) / step));
  const mix = (a: number, b: number) => a + t * (b - a);
  const each = (a: readonly number[], b: readonly number[]) => a.map((x, n) => mix(x, b[n] ?? x));
  return {
    pulled_m: mix(p.pulled_m, q.pulled_m),
    low_n: mix(p.low_n, q.low_n),
    high_n: mix(p.high_n, q.high_n),
    up_n: each(p.up_n, q.up_n),
    down_n: each(p.down_n, q.down_n),
  };
}

const along = (points: readonly CurvePoint[], m: number) => 34 + (m / points[points.length - 1]!.pulled_m) * (W - 44);

function Curve({ points, at, bands }: { points: readonly CurvePoint[]; at: number; bands: readonly number[] }) {
  return (
    <svg
      width={W}
      height={H}
      className="block rounded bg-[var(--void)]"
      role="img"
      aria-label="force at the hand over rope pulled"
    >
      <Shape points={points} bands={bands} />
      <path
        d={`M${along(points, between(points, at).pulled_m)} 6V${H - 18}`}
        stroke="var(--color-accent)"
        strokeWidth={1.5}
        strokeDasharray="3 3"
      />
    </svg>
  );
}

/** The curve itself, which stays while one goes along it. */
const Shape = memo(function Shape({ points, bands }: { points: readonly CurvePoint[]; bands: readonly number[] }) {
  const { units } = usePrefs();
  const most = points[points.length - 1]!.pulled_m;
  const top = Math.max(120, ...points.map((p) => p.high_n)) * 1.08;
  const x = (m: number) => along(points, m);
  const y = (n: number) => H - 18 - (n / top) * (H - 28);
  const line = (k: "high_n" | "low_n") =>
    points.map((p, i) => `${i ? "L" : "M"}${x(p.pulled_m).toFixed(1)} ${y(p[k]).toFixed(1)}`).join("");
  const back = [...points]
    .reverse()
    .map((p) => `L${x(p.pulled_m).toFixed(1)} ${y(p.low_n).toFixed(1)}`)
    .join("");
  const worst = points.reduce((a, b) => (b.high_n > a.high_n ? b : a));
  const say = (n: number) => spoken({ value: n, quantity: "pull", toward: "up", working: "" }, units);
  return (
    <>
      {bands
        .filter((b) => b < top)
        .map((b) => (
          <g key={b}>
            <path d={`M34 ${y(b)}H${W - 10}`} stroke="var(--rule)" />
            <text x={30} y={y(b) + 4} textAnchor="end" fontSize={10.5} className="num" fill="var(--quiet)">
              {say(b).replace(/ .*/, "")}
            </text>
          </g>
        ))}
      <path d={`${line("high_n")}${back}Z`} fill="var(--bar-rest)" fillOpacity={0.5} />
      <path d={line("high_n")} fill="none" stroke="var(--bar)" strokeWidth={2} />
      <path d={`M34 ${H - 18}H${W - 10}`} stroke="var(--color-base-content)" />
      <circle
        cx={x(worst.pulled_m)}
        cy={y(worst.high_n)}
        r={4}
        fill="var(--color-accent)"
        role="img"
        aria-label="worst"
      />
      <text
        x={Math.min(W - 70, x(worst.pulled_m) + 8)}
        y={Math.max(12, y(worst.high_n) - 6)}
        fontSize={11}
        fontWeight={700}
        className="num"
        fill="var(--color-base-content)"
      >
        {say(worst.high_n)}
      </text>
      <text x={34} y={H - 5} fontSize={10.5} fill="var(--quiet)">
        start
      </text>
      <text x={W - 10} y={H - 5} textAnchor="end" fontSize={10.5} fill="var(--quiet)">
        {spoken({ value: most, quantity: "length", toward: "near", working: "" }, units)} pulled
      </text>
    </>
  );
});
