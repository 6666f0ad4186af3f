// The act in view: its words, who is held by what, the hazards that stand now, what can break, how to change it.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../../api/client";
import { spoken, type UnitSystem } from "../../say";
import type { Fault, Fix, HeldBy, Span } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";
import { useWorking } from "../../state/working";
import { Said } from "../../ui/Num";
import { counted } from "../../ui/terms";
import { ActEdit } from "./ActEdit";
import { ByRule, MoveInView } from "./Moves";
import { KeepSchool, SchoolsHere } from "./OwnSchools";
import { withoutEdit } from "./through";

export function RehearseRight() {
  const { plan } = useSession();
  const { run, step, n, who, setWho, stale, state, spans, tried, tryFix, takeFix, error, whole, go } = useGoing();
  const working = useWorking(!run && !error);
  if (error) return <p role="alert">{error}</p>;
  if (!run) return <p className="quiet">Going through the station… {working}</p>;
  if (!step) {
    return (
      <>
        <h1 className="text-lg font-bold">This station cannot be rehearsed</h1>
        <p>
          {run.barred ? (
            <Said s={run.barred} />
          ) : plan.party.length === 0 ? (
            "Nobody is in the party."
          ) : (
            "No rope system is chosen."
          )}
        </p>
        <ByRule />
      </>
    );
  }
  const school = run.schools.find((s) => step.key.startsWith(`own:${s.id}.`))?.name;
  const held = step.held.find((h) => h.who === who);
  const others = step.held.filter((h) => h.who !== who && h.exposed);
  return (
    <>
      <MoveInView />
      <section aria-label="the act in view" className="rule-t pt-2">
        <p className="quiet text-xs">
          Act {n + 1} of {run.steps.length}
          {step.added && (school ? ` · by “${school}”` : " · added by you")}
          {stale && <span className="ml-2 font-semibold"> · being gone through again…</span>}
        </p>
        <h2 className="text-[17px] leading-6 font-bold" data-testid="act">
          <Said s={step.words} />
        </h2>
        {step.refused && (
          <p className="sev-Not-checked mt-1 font-semibold" data-testid="refused">
            A draft, it is not done: <Said s={step.refused} />
          </p>
        )}
        {step.needs && <p className="quiet mt-1">Before it: {step.needs}</p>}
        {step.changes.map((c, i) => (
          <p key={i} className="text-[13px]">
            <Said s={c} />
          </p>
        ))}
        {step.pause && <p className="mt-1 font-semibold">Everybody stops here; a second person looks.</p>}
        {held && (
          <p className="mt-3 border-l-4 border-accent pl-3 text-[16px] leading-6" data-testid="held" aria-live="polite">
            <Said s={held.said} />
          </p>
        )}
        <dl className="mt-3 grid grid-cols-[1fr_auto] gap-x-3 gap-y-0.5 text-[13px]">
          <dt className="quiet">the rope</dt>
          <dd className="text-right font-semibold" data-testid="system">
            <Said s={step.system} />
          </dd>
          <dt className="quiet">still to come out before the pull</dt>
          <dd className="max-w-40 text-right font-semibold">{step.to_untie.join(", ") || "nothing"}</dd>
          {others.map((h) => (
            <Other
              key={h.who}
              h={h}
              name={plan.party.find((p) => p.id === h.who)?.name ?? ""}
              onClick={() => setWho(h.who)}
            />
          ))}
          <dt className="quiet">can it be taken back from here</dt>
          <dd className="text-right font-semibold">{step.undone_by ? step.undone_by : "no"}</dd>
        </dl>
        {tried && (
          <Trying label={tried.fix.label} ready={tried.run !== null} onTake={takeFix} onLeave={() => tryFix(null)} />
        )}
        {!tried && spans.map((s) => <Hazard key={s.key} span={s} />)}
        {!tried && spans.length === 0 && whole && whole.hazards.length > 0 && <Elsewhere />}
        {state && !tried && <Breaks faults={state.faults} accepted={state.accepted} />}
        {!tried && <ActEdit step={step} />}
        {!tried && <KeepSchool />}
        {!tried && <SchoolsHere />}
        {run.drafts.length > 0 && !tried && <Drafts />}
        {run.why.map((w, i) => (
          <p key={i} className="quiet mt-2 text-[13px]">
            <Said s={w} />
          </p>
        ))}
        {run.steps.some((s) => s.refused) && !step.refused && (
          <p className="rule-t mt-3 pt-2 text-[13px]">
            <button
              type="button"
              className="act plain px-1 !whitespace-normal text-left"
              onClick={() => go(run.steps.findIndex((s) => s.refused))}
            >
              {run.steps.filter((s) => s.refused).length} of these acts cannot be done as they stand: go to the first
            </button>
          </p>
        )}
      </section>
    </>
  );
}

function Other({ h, name, onClick }: { h: HeldBy; name: string; onClick: () => void }) {
  return (
    <>
      <dt className="quiet">
        <button type="button" className="min-h-6 cursor-pointer hover:underline" onClick={onClick}>
          {name}
        </button>
      </dt>
      <dd className={`self-center text-right font-semibold ${h.paths === 0 ? "sev-Shortfall" : ""}`}>
        {["held by nothing", "one path", "two paths", "three paths"][h.paths] ?? `${h.paths} paths`}
      </dd>
    </>
  );
}

function Trying({
  label,
  ready,
  onTake,
  onLeave,
}: {
  label: Fix["label"];
  ready: boolean;
  onTake: () => void;
  onLeave: () => void;
}) {
  return (
    <section className="mt-3 rounded border-2 border-accent p-2" aria-label="tried on the time line">
      <div className="text-xs font-bold uppercase">Tried, not yet applied</div>
      <div className="font-semibold">
        <Said s={label} />
      </div>
      <p className="quiet text-[13px]">{ready ? "The time line shows the order as it would be." : "Trying it…"}</p>
      <div className="mt-1.5 flex gap-2">
        <button type="button" className="act" disabled={!ready} onClick={onTake}>
          Apply
        </button>
        <button type="button" className="act plain" onClick={onLeave}>
          Leave it
        </button>
      </div>
    </section>
  );
}

/** What ends a hazard, asked of it alone. */
export function useMending(span: Span | undefined) {
  const { view } = useSession();
  return useQuery({
    queryKey: ["mending", view.id, view.rests, span?.key],
    queryFn: ({ signal }) => api.mending(view.id, view.revision, span!.key, signal),
    staleTime: Infinity,
    retry: false,
    enabled: span !== undefined && !span.said,
  });
}

function Hazard({ span }: { span: Span }) {
  const { tryFix, run } = useGoing();
  const fixes = useMending(span);
  const end = span.end ? `to ${span.end}` : "on, to a later station";
  return (
    <section className="rule-t mt-3 pt-2" data-code={span.code} aria-label="hazard">
      <div className={`text-xs font-bold tracking-wide uppercase sev-${span.severity.replace(" ", "-")}`}>
        {span.severity}, from {span.earlier ? "an earlier station" : `act ${span.begin}`} {end}
      </div>
      <div className="font-semibold">
        <Said s={span.title} />
      </div>
      <p>
        <Said s={span.story} />
      </p>
      {span.said && <p className="quiet text-[13px]">The plan’s findings say it: it is mended in Rig.</p>}
      {fixes.isFetching && <p className="quiet text-[13px]">Trying what would end it…</p>}
      {fixes.data?.map((f, i) => (
        <button
          key={i}
          type="button"
          className="act mt-1.5 mr-1.5 !whitespace-normal text-left"
          title={i === 0 ? "Try it on the time line (G)" : "Try it on the time line"}
          onClick={() => tryFix(f)}
        >
          <Said s={f.label} />
        </button>
      ))}
      {fixes.data?.length === 0 && (
        <p className="quiet text-[13px]">
          No single change of the {counted(run?.steps.length ?? 0, "act")} here ends it. Order, backups and kit are
          under People.
        </p>
      )}
    </section>
  );
}

/** Where the hazards are when none stands here: what to say aloud first. */
function Elsewhere() {
  const { whole, behind, stations, go } = useGoing();
  return (
    <section className="rule-t mt-3 pt-2" aria-label="say aloud first" aria-busy={behind}>
      <h2 className="font-semibold">
        Say aloud first{behind && <span className="quiet font-normal"> · being gone through again</span>}
      </h2>
      <ol>
        {(whole?.first ?? []).map((i) => {
          const h = whole!.hazards[i]!;
          return (
            <li key={h.key}>
              <button type="button" className="fault-row" onClick={() => go(h.begin_number - 1, h.drop)}>
                <span className={`sev-${h.severity.replace(" ", "-")} font-semibold`}>
                  <Said s={h.title} />
                </span>
                <span className="quiet whitespace-nowrap">
                  drop {stations.findIndex((s) => s.drop === h.drop) + 1}, act {h.begin_number}
                </span>
              </button>
            </li>
          );
        })}
      </ol>
    </section>
  );
}

const HAPPENS: Readonly<Record<string, string>> = {
  falls: "falls",
  "slides to a stopper": "slides to a stopper",
  "rope lost": "rope lost",
  "cannot be pulled": "cannot be pulled",
  stranded: "stranded",
  held: "held",
};

/** One thing broken at a time: which can be, worst first; those that the plan has accepted apart. */
function Breaks({ faults, accepted }: { faults: readonly Fault[]; accepted: readonly Fault[] }) {
  const { broken, breakIt } = useGoing();
  const { units } = usePrefs();
  const [all, setAll] = useState(false);
  const [open, setOpen] = useState(false);
  const shown = all ? faults : faults.slice(0, 6);
  const worst = faults[0] && worstOf(faults[0]);
  return (
    <details
      className="rule-t mt-3 pt-2"
      aria-label="break one thing here"
      open={open || broken !== null}
      onToggle={(e) => setOpen(e.currentTarget.open)}
    >
      <summary className="cursor-pointer py-0.5">
        <span className="font-semibold">Break one thing here</span>
        <span className="quiet">
          {worst ? `: ${faults.length}, at worst ${happens(worst, units)}` : faults.length === 0 ? ": nothing" : ""}
        </span>
      </summary>
      {faults.length === 0 && (
        <p className="quiet text-[13px]">No single fault that is tried here does anything to anybody.</p>
      )}
      {shown.map((f) => (
        <Row key={f.key} f={f} on={broken?.key === f.key} onClick={() => breakIt(broken?.key === f.key ? "" : f.key)} />
      ))}
      {faults.length > 6 && (
        <button type="button" className="act plain px-1 text-[13px]" onClick={() => setAll(!all)}>
          {all ? "the worst only" : `${faults.length - 6} more`}
        </button>
      )}
      {accepted.length > 0 && (
        <details className="mt-1" open={accepted.some((f) => f.key === broken?.key) || undefined}>
          <summary className="quiet cursor-pointer py-0.5 text-[13px]">
            accepted single points: {accepted.length}
          </summary>
          {accepted.map((f) => (
            <Row
              key={f.key}
              f={f}
              on={broken?.key === f.key}
              onClick={() => breakIt(broken?.key === f.key ? "" : f.key)}
            />
          ))}
        </details>
      )}
    </details>
  );
}

/** What comes of it, and from how high where somebody falls or slides. */
const happens = (worst: NonNullable<ReturnType<typeof worstOf>>, units: UnitSystem) => {
  const far = worst.high && !["held", "stranded"].includes(worst.happens) ? ` ${spoken(worst.high, units)}` : "";
  return `${HAPPENS[worst.happens]}${far}`;
};

export function worstOf(f: Fault) {
  const order = Object.keys(HAPPENS);
  return [...f.outcomes].sort(
    (a, b) => Number(a.accepted) - Number(b.accepted) || order.indexOf(a.happens) - order.indexOf(b.happens),
  )[0];
}

function Row({ f, on, onClick }: { f: Fault; on: boolean; onClick: () => void }) {
  const { units } = usePrefs();
  const worst = worstOf(f);
  if (!worst) return null;
  const bad = !["held", "stranded"].includes(worst.happens);
  const tone = worst.accepted
    ? "sev-Caution"
    : bad
      ? "sev-Shortfall font-semibold"
      : worst.happens === "stranded"
        ? "sev-Caution"
        : "quiet";
  return (
    <>
      <button
        type="button"
        className={`fault-row text-[13px] ${on ? "on" : ""}`}
        aria-pressed={on}
        onClick={onClick}
        data-fault={f.key}
      >
        <span>
          <Said s={f.title} />
        </span>
        <span className={`text-right ${tone}`}>
          {happens(worst, units)}
          {worst.accepted ? " · accepted" : ""}
        </span>
      </button>
      {on && (
        <div className="mb-1 border-l-4 border-accent py-0.5 pl-2 text-[13px]" role="status" data-testid="story">
          {f.outcomes.map((o, i) => (
            <p key={i}>
              <Said s={o.story} />
            </p>
          ))}
        </div>
      )}
    </>
  );
}

/** Changes that do nothing now, each with its reason and a way to throw it out. */
function Drafts() {
  const { run } = useGoing();
  const { edit } = useSession();
  return (
    <section className="rule-t mt-3 pt-2" aria-label="drafts">
      <h2 className="font-semibold">Drafts: changes that do nothing now</h2>
      {run?.drafts.map((d) => (
        <div key={`${d.school} ${d.edit}`} className="flex items-start justify-between gap-2 text-[13px]">
          <span>
            <Said s={d.why} />
          </span>
          {d.school ? (
            <span className="quiet shrink-0">of “{run.schools.find((s) => s.id === d.school)?.name}”</span>
          ) : (
            <button
              type="button"
              className="act plain shrink-0 px-1"
              onClick={() => edit(withoutEdit(run.drop, d.edit))}
            >
              Throw out
            </button>
          )}
        </div>
      ))}
    </section>
  );
}
