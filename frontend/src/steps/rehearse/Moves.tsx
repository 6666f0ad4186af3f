// The station in moves: a block a move, with whom it is told of and what is dangerous in it; the one in view is open.
import { words } from "../../say";
import type { Move, Span } from "../../state/model";
import { useFieldAt, useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { stands, useGoing } from "../../state/rehearsal";
import { Said } from "../../ui/Num";

const RANK = ["Shortfall", "Not checked", "Caution", "Note"];

/** The worst of the hazards that begin in a move, "" where none does. */
const worstIn = (m: Move, spans: readonly Span[]) =>
  RANK.find((s) => spans.some((x) => x.severity === s && m.hazards.includes(x.key))) ?? "";

const capital = (text: string) => text.slice(0, 1).toUpperCase() + text.slice(1);

export function Moves({ whole }: { whole: boolean }) {
  const { units } = usePrefs();
  const { run, move, go } = useGoing();
  const at = useFieldAt(["drops", `#${run?.drop ?? ""}`, "station", "through"]);
  if (whole) return <EveryMove />;
  if (!run || run.moves.length === 0) return null;
  return (
    <ol className="moves" aria-label="moves" data-path={at}>
      {run.moves.map((m, i) => {
        const worst = worstIn(m, run.spans);
        const open = move === m;
        const title = capital(words(m.title, units));
        return (
          <li key={m.begin} className={open ? "min-w-28! grow-[2.2]" : "grow"}>
            <button
              type="button"
              className={`move ${open ? "open" : ""} ${worst ? `edge-${worst.replace(" ", "-")}` : ""}`}
              aria-current={open ? "step" : undefined}
              disabled={run.steps.length === 0}
              data-move={m.kind}
              title={`${title}: acts ${m.begin} to ${m.end}${worst ? `; ${worst.toLowerCase()}` : ""}`}
              onClick={() => go(m.begin - 1)}
            >
              <span className="num block text-[11px]">{i + 1}</span>
              <span className="block">{title}</span>
            </button>
          </li>
        );
      })}
    </ol>
  );
}

/** The whole descent as moves, a row a station; of one that is not reached those by rule, pale. */
function EveryMove() {
  const { units } = usePrefs();
  const { plan } = useSession();
  const { stations, k, move, go } = useGoing();
  return (
    <ol className="px-3 pt-1" aria-label="moves of all stations">
      {stations.map(({ drop, run }, i) => (
        <li key={drop} className="flex items-stretch gap-0.5 py-px text-[11px] leading-[15px]">
          <span className={`w-28 shrink-0 truncate ${i === k ? "font-bold" : ""}`}>
            {i + 1} {plan.drops?.[i]?.name}
          </span>
          {run?.moves.map((m) => {
            const worst = worstIn(m, run.spans);
            const open = i === k && move?.begin === m.begin;
            return (
              <button
                key={m.begin}
                type="button"
                className={`move slim ${open ? "open" : ""} ${worst ? `edge-${worst.replace(" ", "-")}` : ""}`}
                disabled={run.steps.length === 0}
                title={`${capital(words(m.title, units))}${worst ? `; ${worst.toLowerCase()}` : ""}`}
                onClick={() => go(m.begin - 1, drop)}
              >
                <span className="block w-full truncate">{capital(words(m.title, units))}</span>
              </button>
            );
          })}
          {run?.barred && <span className="quiet shrink-0">not reached</span>}
        </li>
      ))}
    </ol>
  );
}

/** The move in view: what is done, what one of them does otherwise, what must be true before and is true after. */
export function MoveInView() {
  const { run, move, go, n } = useGoing();
  if (!run || !move) return null;
  const unmet = move.needs.filter((n) => !n.met);
  return (
    <section aria-label="the move in view" className="mb-3">
      <p className="quiet text-xs">
        Move {run.moves.indexOf(move) + 1} of {run.moves.length}
      </p>
      <h1 className="text-xl leading-6 font-bold first-letter:uppercase" data-testid="move">
        <Said s={move.title} />
      </h1>
      <div className="mt-1.5 border-l-4 border-accent pl-3 text-[15px] leading-[21px]">
        {move.lines.map((x, i) => (
          <p key={i}>
            <Said s={x} />
          </p>
        ))}
      </div>
      {unmet.map((x, i) => (
        <p key={i} className="sev-Not-checked mt-1 font-semibold">
          Before it: <Said s={x.said} />
        </p>
      ))}
      {move.otherwise.map((x, i) => (
        <p key={i} className="mt-1">
          <span className="quiet">otherwise </span>
          <Said s={x} />
        </p>
      ))}
      {run.spans
        .filter((s) => move.hazards.includes(s.key) && !stands(s, n + 1))
        .map((s) => (
          <button key={s.key} type="button" className="fault-row mt-1" onClick={() => go(s.begin - 1)}>
            <span className={`sev-${s.severity.replace(" ", "-")} font-semibold`}>
              <Said s={s.title} />
            </span>
            <span className="quiet whitespace-nowrap">act {s.begin}</span>
          </button>
        ))}
      <p className="mt-1">
        <span className="quiet">after it </span>
        <Said s={move.after} />
      </p>
    </section>
  );
}

/** A station that the party does not get to, as it would be told. */
export function ByRule() {
  const { run } = useGoing();
  if (!run?.barred || run.moves.length === 0) return null;
  return (
    <section aria-label="moves by rule" className="rule-t mt-3 pt-2">
      <h2 className="font-semibold">By rule it would be</h2>
      <ol className="list-decimal pl-5">
        {run.moves.map((m) => (
          <li key={m.begin} className="first-letter:uppercase">
            <Said s={m.title} />
          </li>
        ))}
      </ol>
    </section>
  );
}
