// Rock to rider: every part's range on one scale against what is asked of it; the weakest named in words.

import { useState } from "react";
import { shown } from "../../say";
import { editDrop, inState, type PlanEdit } from "../../state/edits";
import type { Drop, Part, Sentence } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useWhich } from "../../state/which";
import { Num, Said } from "../../ui/Num";
import { TERMS } from "../../ui/terms";

const TICKS_KN = [1, 2, 5, 10, 20, 50];
const TICKS_LBF = [200, 500, 1000, 2000, 5000, 10000];
const LOW = 0.8;
const HIGH = 60;

function at(kn: number): number {
  return Math.min(100, Math.max(0, (Math.log(kn / LOW) / Math.log(HIGH / LOW)) * 100));
}

export function LoadPath({
  drop,
  parts,
  policy,
  onLight,
}: {
  drop: Drop;
  parts: readonly Part[];
  policy: Sentence;
  onLight: (key: string) => void;
}) {
  const { units } = usePrefs();
  const unit = shown("force", units);
  const ticks =
    units === "metric"
      ? TICKS_KN.map((t) => ({ kn: t, text: `${t}` }))
      : TICKS_LBF.map((t) => ({ kn: t / unit.factor, text: t.toLocaleString("en") }));
  if (parts.length === 0)
    return <p className="quiet py-4">No anchor is chosen, so there is no load path yet. Choose one under “Tied to”.</p>;
  const own = new Set((drop.station.states[0]?.accepted ?? []).map((x) => x.part));
  const byPractice = (p: Part) => p.single && p.accepted !== "" && !own.has(p.key);
  const practice = parts.filter(byPractice);
  const grid = "load-row";
  return (
    <section aria-label="rock to rider">
      <div className={`${grid} quiet text-xs`}>
        <span>
          amber: <Said s={policy} />
        </span>
        <div className="relative h-4">
          {ticks.map((t) => (
            <span key={t.text} className="tick-text" style={{ left: `${at(t.kn)}%` }}>
              {t.text}
            </span>
          ))}
        </div>
        <span className="text-right">{unit.unit}, low–high</span>
        <span className="text-right">of peak</span>
      </div>
      {parts.map((p, i) => {
        const beside = p.where === "clipped in" && parts[i - 1]?.where !== "clipped in";
        const short = p.verdict === "Shortfall";
        const open = p.verdict === "Not checked";
        const bar = short ? "bg-error" : open ? "bg-info" : "bg-[var(--bar)]";
        return (
          <div
            key={p.key}
            className={`${grid} rule-t min-h-[27px] text-[13px]`}
            data-part={p.key}
            onPointerEnter={() => onLight(p.key)}
            onPointerLeave={() => onLight("")}
          >
            {beside && (
              <span className="quiet col-span-4 pt-1 text-xs">clipped in at the station, not in the way down</span>
            )}
            <span className={`truncate ${short ? "sev-Shortfall font-bold" : ""}`} title={p.name}>
              {p.name}
            </span>
            <div className="relative h-[15px]" aria-hidden="true">
              {ticks.map((t) => (
                <span
                  key={t.text}
                  className="absolute -top-1.5 bottom-[-6px] w-px bg-[var(--rule)]"
                  style={{ left: `${at(t.kn)}%` }}
                />
              ))}
              {p.low && p.high && (
                <>
                  <span
                    className="absolute top-[3px] h-[9px] bg-[var(--bar-rest)]"
                    style={{ left: 0, width: `${at(p.high.value)}%` }}
                  />
                  <span
                    className={`absolute top-[3px] h-[9px] ${bar}`}
                    style={{ left: 0, width: `${at(p.low.value)}%` }}
                  />
                </>
              )}
              {!p.low && <span className="absolute inset-x-0 top-[3px] h-[9px] border border-dashed border-info" />}
              {p.required && p.required.value > 0 && (
                <span
                  className="absolute top-0 h-[15px] w-[3px] -translate-x-1/2 bg-accent"
                  style={{ left: `${at(p.required.value)}%` }}
                />
              )}
            </div>
            {p.low && p.high ? (
              <span className="text-right whitespace-nowrap">
                <Bare n={p.low} />
                {p.high.value !== p.low.value && (
                  <>
                    <span className="quiet">–</span>
                    <Bare n={p.high} />
                  </>
                )}
              </span>
            ) : (
              <span className="sev-Not-checked text-right font-semibold" title={p.why}>
                not checked
              </span>
            )}
            <span className="min-h-[25px] text-right leading-[25px]">{p.times ? <Num n={p.times} /> : ""}</span>
            {p.low && p.demand && p.demand.value <= 0 && (
              <span className="quiet col-span-4 mt-0.5 mb-1 text-xs">{p.why}</span>
            )}
            {(p.weakest ||
              short ||
              (open && p.low) ||
              (p.single && !byPractice(p)) ||
              p.verdict === "May roll" ||
              p.points.length > 1) && (
              <span className="quiet col-span-4 mt-0.5 mb-1 flex flex-wrap gap-x-3 text-xs">
                {p.points.length > 1 &&
                  [...p.points]
                    .sort((a, b) => a.low.value - b.low.value)
                    .map((h) => (
                      <span key={h.key} className={h.decides ? "text-base-content" : ""}>
                        {h.name} <Num n={h.low} className="font-normal" />
                        {h.decides && <b> decides</b>}
                      </span>
                    ))}
                {p.weakest && <span className="font-bold text-base-content">weakest of the parts that are known</span>}
                {open && p.low && <span className="sev-Not-checked font-semibold">not checked: {p.why}</span>}
                {p.verdict === "May roll" && <span className="sev-Caution font-bold">may roll</span>}
                {(p.weakest || short || open) && p.required && (
                  <span>
                    asked of it <Num n={p.required} className="font-normal" />
                  </span>
                )}
                {p.single && !byPractice(p) && <Single drop={drop} part={p} />}
              </span>
            )}
          </div>
        );
      })}
      {practice.length > 0 && (
        <p className="rule-t quiet pt-1 text-xs">
          Single points accepted by common practice: {practice.map((p) => p.name).join("; ")}.
        </p>
      )}
      <p className="rule-t quiet pt-1 text-xs">Peak: {TERMS.peak}.</p>
    </section>
  );
}

/** A single point of a state of a station. */
interface SinglePoint {
  drop: string;
  which: number;
  part: string;
  told: string;
}

/** The reason for which single points are accepted, null to take that back; each is kept by itself. */
function accepted(points: readonly SinglePoint[], reason: string | null): PlanEdit[] {
  return points.map((x) =>
    editDrop(x.drop, (full) =>
      inState(full, x.which, (d) => ({
        ...d,
        station: {
          ...d.station,
          states: d.station.states.map((s) => ({
            ...s,
            accepted: [
              ...(s.accepted ?? []).filter((y) => y.part !== x.part),
              ...(reason === null ? [] : [{ part: x.part, reason, of: "" }]),
            ],
          })),
        },
      })),
    ),
  );
}

const familyOf = (part: string) => part.split(".")[0];

/** The single points of the same kind elsewhere that nobody has accepted. */
function useAlike(here: SinglePoint): readonly SinglePoint[] {
  const { view } = useSession();
  return view.assessment.drops.flatMap((d) =>
    [d, ...(d.last ? [d.last] : [])].flatMap((s, which) =>
      s.parts
        .filter((p) => p.single && !p.accepted && familyOf(p.key) === familyOf(here.part))
        .map((p) => ({
          drop: d.id,
          which,
          part: p.key,
          told: `${p.name}, drop ${d.number}${which ? ", for the last person" : ""}`,
        }))
        .filter((x) => !(x.drop === here.drop && x.which === here.which && x.part === here.part)),
    ),
  );
}

/** A single point: why it is accepted, or a way to accept it with a reason, and others like it for the same. */
function Single({ drop, part }: { drop: Drop; part: Part }) {
  const { edit } = useSession();
  const which = useWhich();
  const [asking, setAsking] = useState(false);
  const here: SinglePoint = { drop: drop.id, which, part: part.key, told: part.name };
  const alike = useAlike(here);
  const [also, setAlso] = useState<readonly string[]>([]);
  const id = (x: SinglePoint) => `${x.drop} ${x.which} ${x.part}`;
  const own = (drop.station.states[0]?.accepted ?? []).some((x) => x.part === part.key);
  const accept = (reason: string | null) => {
    setAsking(false);
    setAlso([]);
    if (reason !== null && reason.trim() === "") return;
    edit(...accepted([here, ...(reason === null ? [] : alike.filter((x) => also.includes(id(x))))], reason));
  };
  const small = "cursor-pointer font-semibold underline text-base-content";
  if (part.accepted) {
    return (
      <span>
        single point, accepted: {part.accepted}{" "}
        {own && (
          <button
            type="button"
            className={small}
            aria-label={`take back: ${part.name} is accepted`}
            onClick={() => accept(null)}
          >
            take back
          </button>
        )}
      </span>
    );
  }
  if (asking) {
    return (
      <span className="flex flex-wrap items-center gap-x-3">
        {alike.length > 0 && (
          <fieldset className="contents">
            <legend className="float-left">for the same reason:</legend>
            {alike.map((x) => (
              <label key={id(x)} className="flex min-h-6 items-center gap-1 text-base-content">
                <input
                  type="checkbox"
                  className="size-4 accent-[var(--color-accent)]"
                  checked={also.includes(id(x))}
                  onChange={() => setAlso(also.includes(id(x)) ? also.filter((y) => y !== id(x)) : [...also, id(x)])}
                />
                {x.told}
              </label>
            ))}
          </fieldset>
        )}
        <Reason name={part.name} onSay={accept} onLeave={() => setAsking(false)} />
      </span>
    );
  }
  return (
    <span className="sev-Caution">
      single point{" "}
      <button type="button" className={small} aria-label={`accept ${part.name}`} onClick={() => setAsking(true)}>
        accept…
      </button>
    </span>
  );
}

/** Why something is accepted: kept on Enter, or by its button, so that what else it is to hold for can be ticked. */
function Reason({ name, onSay, onLeave }: { name: string; onSay: (why: string) => void; onLeave: () => void }) {
  const [why, setWhy] = useState("");
  return (
    <form
      className="flex items-center gap-1"
      onSubmit={(e) => {
        e.preventDefault();
        if (why.trim()) onSay(why.trim());
      }}
    >
      <input
        autoFocus
        aria-label={`why ${name} is accepted`}
        placeholder="why is it accepted?"
        className="field h-6 w-64 text-xs"
        value={why}
        maxLength={200}
        onChange={(e) => setWhy(e.target.value)}
        onKeyDown={(e) => e.key === "Escape" && onLeave()}
      />
      <button type="submit" className="act plain !min-h-6 px-1" disabled={why.trim() === ""}>
        Accept
      </button>
    </form>
  );
}

/** A number whose unit stands in the column's heading. */
function Bare({ n }: { n: NonNullable<Part["low"]> }) {
  return (
    <span className="[&_.font-normal]:hidden">
      <Num n={n} />
    </span>
  );
}
