// The frame round every step: bar, strip, work, findings. It listens for the keys that work everywhere.

import { BookOpenText, CircleHelp, Moon, Redo2, Sun, Undo2 } from "lucide-react";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { useCount, useTally } from "../state/check";
import { twinOf } from "../state/copied";
import { freshId, freshName, known, resolved, unknown } from "../state/edits";
import type { Counted, Drop, Plan } from "../state/model";
import { useSession } from "../state/plan";
import { usePrefs } from "../state/prefs";
import type { Where } from "../state/where";
import { Conflict, Help, History } from "./Dialogs";
import { Did, DidLine } from "./Did";
import { Figure } from "./Findings";
import { FirstSteps } from "./FirstSteps";
import { GoContext, screenOf, useFocusWanted } from "./goto";
import { type Act, useKeys } from "./keys";
import { WorkingContext } from "./Num";
import { useNarrow } from "./narrow";
import { Ruled } from "./Ruled";
import { Strip } from "./Strip";
import { counted } from "./terms";
import { WorkingPanel } from "./WorkingPanel";

export const STEPS = [
  { key: "survey", name: "Survey" },
  { key: "shed", name: "Shed" },
  { key: "rig", name: "Rig" },
  { key: "descent", name: "Whole descent" },
  { key: "rehearse", name: "Rehearse" },
  { key: "card", name: "Card" },
  { key: "log", name: "Log" },
] as const satisfies readonly { key: Act; name: string }[];
export type StepKey = (typeof STEPS)[number]["key"];

/** A new drop: what the guide must measure is unknown; the rope system is taken over from the drop before. */
function newDrop(plan: Plan, before: Drop | undefined): Drop {
  const drops = plan.drops ?? [];
  const [state] = before?.station.states ?? [];
  return {
    id: freshId("d", drops),
    name: `Drop ${drops.length + 1}`,
    watch: null,
    notes: "",
    section: {
      kind: "quick",
      setback_m: unknown("not measured"),
      edge_fall_m: known(0, "eye"),
      height_m: unknown("not measured"),
      face_deg: known(90, "given"),
      recess_m: known(0, "eye"),
      edge: "unknown",
      padded: false,
      face: "as the drop",
    },
    onward: null,
    escape: null,
    position: null,
    landing: {
      kind: "unknown",
      aside_m: known(0, "eye"),
      next_m: unknown("not measured"),
      room: unknown("not counted"),
    },
    rock: "unknown",
    cracks: "unknown",
    station: {
      features: [],
      hanging: [],
      together: "no",
      wet: "unknown",
      inspections: [],
      notes: "",
      states: [
        {
          id: "main",
          serves: "all",
          rig: { kind: "none" },
          system: state?.system ?? { kind: "none" },
          pulled_lies: "unknown",
          threaded: null,
          run_through: false,
          accepted: [],
        },
      ],
      strands_hang: "unknown",
      deviations: [],
      traverse: null,
      through: { order: null, backups: [], edits: [], pauses: [], stowed: false, without: [] },
    },
  };
}

export function Frame({
  step,
  dropId,
  right,
  children,
}: {
  step: StepKey;
  dropId: string;
  right: ReactNode;
  children: ReactNode;
}) {
  const session = useSession();
  const { view, plan, edit } = session;
  const prefs = usePrefs();
  const go = useNavigate();
  const [help, setHelp] = useState(false);
  const [working, setWorking] = useState<string | null>(null);
  const drops = plan.drops ?? [];
  const at = drops.findIndex((d) => d.id === dropId);
  const to = (s: StepKey, id = dropId) => go(`/plans/${view.id}/${s}${id ? `/${id}` : ""}`);
  const add = () => {
    const drop = newDrop(plan, drops[at] ?? drops[drops.length - 1]);
    const place = at < 0 ? drops.length : at + 1;
    edit((p) => ({ ...p, drops: [...(p.drops ?? []).slice(0, place), drop, ...(p.drops ?? []).slice(place)] }));
    session.tell({ text: `${drop.name} added, number ${place + 1}`, where: null, offer: "undo" });
    to("survey", drop.id);
  };
  // biome-ignore lint/correctness/useExhaustiveDependencies: a working belongs to the place where it was asked for
  useEffect(() => setWorking(null), [dropId, step]);
  // Where the keys have got to: a second press may come before the first is on screen.
  const walked = useRef(dropId);
  useEffect(() => {
    walked.current = dropId;
  }, [dropId]);
  const walk = (by: number) => {
    const from = drops.findIndex((d) => d.id === walked.current);
    const d = drops[Math.min(drops.length - 1, Math.max(0, from + by))];
    if (!d) return;
    walked.current = d.id;
    to(step, d.id);
  };
  const tell = (what: string) => window.dispatchEvent(new CustomEvent("cutaway", { detail: what }));
  useKeys({
    ...Object.fromEntries(STEPS.map((s) => [s.key, () => to(s.key)])),
    nextDrop: () => walk(1),
    previousDrop: () => walk(-1),
    undo: () => session.step("undo"),
    redo: () => session.step("redo"),
    addDrop: add,
    fit: () => tell("fit"),
    closer: () => tell("in"),
    farther: () => tell("out"),
    units: prefs.flipUnits,
    theme: prefs.flipTheme,
    help: () => setHelp(true),
    close: () => setWorking(null),
  });
  const narrow = useNarrow();
  const [drawer, setDrawer] = useState<"" | "drops" | "findings">("");
  useFocusWanted();
  const goTo = (field: string) => {
    const screen = screenOf(plan, field);
    const state = { field: resolved(plan, field.split("/")), asked: Date.now() };
    setDrawer("");
    setWorking(null);
    const id = screen.drop || dropId;
    go(`/plans/${view.id}/${screen.step}${id ? `/${id}` : ""}`, { state });
  };
  const subject = step === "shed" ? "shed" : dropId || "shed";
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was opened was of another place
  useEffect(() => setDrawer(""), [dropId, step]);
  // A working stands among the findings.
  useEffect(() => {
    if (working) setDrawer("findings");
  }, [working]);
  const strip = <Strip selected={dropId} onSelect={(id) => to(step === "shed" ? "rig" : step, id)} onAdd={add} />;
  return (
    <WorkingContext.Provider value={setWorking}>
      <GoContext.Provider value={goTo}>
        <div className="flex h-full flex-col" data-at={`${view.id}/${step}/${dropId}`}>
          <Bar step={step} narrow={narrow} to={to} onHelp={() => setHelp(true)} />
          {narrow && <Drawers at={drawer} dropId={step === "shed" ? "" : dropId} onOpen={setDrawer} />}
          {narrow && drawer !== "findings" && <DidLine onOpen={() => setDrawer("findings")} />}
          <div className="relative flex min-h-0 grow">
            {!narrow && strip}
            <main className="min-w-0 grow outline-none" tabIndex={-1}>
              {children}
            </main>
            {narrow && drawer !== "findings" && <div className="print-only">{right}</div>}
            {narrow && drawer === "drops" && (
              <Drawer side="left" label="drops" onClose={() => setDrawer("")}>
                {strip}
              </Drawer>
            )}
            {(!narrow || drawer === "findings") && (
              <Drawer side={narrow ? "right" : null} label="findings" onClose={() => setDrawer("")}>
                <aside className="aside" aria-label="what the check says">
                  <div className="h-full overflow-y-auto p-4">
                    <FirstSteps />
                    <Ruled />
                    <Did />
                    {right}
                  </div>
                  {working && (
                    <div className="absolute inset-0">
                      <WorkingPanel
                        plan={view.id}
                        revision={view.revision}
                        rests={view.rests}
                        subject={subject}
                        start={working}
                        onClose={() => setWorking(null)}
                      />
                    </div>
                  )}
                </aside>
              </Drawer>
            )}
          </div>
          <Refused />
          <Said at={{ step, drop: dropId }} onGo={(w) => to(w.step, w.drop || dropId)} />
          {help && <Help onClose={() => setHelp(false)} />}
          <Conflict onCopied={(id) => go(`/plans/${id}/${step}`)} />
        </div>
      </GoContext.Provider>
    </WorkingContext.Provider>
  );
}

/** The plan's name, the steps, how it is saved, and what is reached from everywhere. */
function Bar({
  step,
  narrow,
  to,
  onHelp,
}: {
  step: StepKey;
  narrow: boolean;
  to: (s: StepKey) => void;
  onHelp: () => void;
}) {
  const { view, plan, step: back } = useSession();
  const prefs = usePrefs();
  const go = useNavigate();
  const title = (
    <span title={plan.title}>
      {plan.title} <span className="opacity-70">· revision {view.revision}</span>
    </span>
  );
  return (
    <header className="frame-bar">
      <Link to="/" className="text-[17px] font-bold" title="All plans">
        Reamer
      </Link>
      {narrow ? <h1 className="frame-title">{title}</h1> : <span className="frame-title">{title}</span>}
      <nav className="frame-steps" aria-label="steps">
        {STEPS.map((s, i) => (
          <button
            key={s.key}
            type="button"
            aria-current={s.key === step ? "page" : undefined}
            ref={s.key === step ? inSight : undefined}
            onClick={() => to(s.key)}
            className={`step-tab ${s.key === step ? "on" : ""}`}
          >
            <span className="mr-1.5 font-normal opacity-60">{i + 1}</span>
            {s.name}
          </button>
        ))}
      </nav>
      <Saved />
      <span className="flex items-center gap-0.5">
        <IconButton label="undo (Ctrl Z)" onClick={() => back("undo")} disabled={!view.can_undo}>
          <Undo2 size={17} />
        </IconButton>
        <IconButton label="redo (Ctrl Shift Z)" onClick={() => back("redo")} disabled={!view.can_redo}>
          <Redo2 size={17} />
        </IconButton>
        <button
          type="button"
          className="h-8 cursor-pointer px-1.5 text-xs hover:opacity-80"
          aria-label={`${prefs.units === "metric" ? "m kN kg" : "ft lbf lb"}: metric or US units (M)`}
          onClick={prefs.flipUnits}
        >
          {prefs.units === "metric" ? "m kN kg" : "ft lbf lb"}
        </button>
        <IconButton label="day or headlamp theme (T)" onClick={prefs.flipTheme}>
          {prefs.theme === "day" ? <Moon size={17} /> : <Sun size={17} />}
        </IconButton>
        <IconButton label="figures and their sources" onClick={() => go("/reference")}>
          <BookOpenText size={17} />
        </IconButton>
        <IconButton label="keys and help (?)" onClick={onHelp}>
          <CircleHelp size={17} />
        </IconButton>
      </span>
    </header>
  );
}

/** The step in view, where the row of them does not fit. */
const inSight = (at: HTMLElement | null) => at?.scrollIntoView({ block: "nearest", inline: "center" });

/** The two drawers of a narrow window, each with the tally of what is in it. */
function Drawers({
  at,
  dropId,
  onOpen,
}: {
  at: "" | "drops" | "findings";
  dropId: string;
  onOpen: (which: "" | "drops" | "findings") => void;
}) {
  const { view } = useSession();
  const count = useCount();
  const a = view.assessment;
  const drop = a.drops.find((d) => d.id === dropId);
  const tally = useTally();
  const row = (which: "drops" | "findings", name: string, part: Counted, yet = "") => (
    <button
      type="button"
      className="drawer-act"
      aria-expanded={at === which}
      onClick={() => onOpen(at === which ? "" : which)}
    >
      <b>{name}</b> <Figure part={part} yet={yet} bare />
    </button>
  );
  return (
    <div className="drawer-bar">
      {row("drops", counted(a.drops.length, "drop"), tally.stations)}
      {drop
        ? row("findings", `Drop ${drop.number}`, { count: count(drop.id, drop.tally), pending: false })
        : row("findings", "The plan", tally.descent, "not worked out yet")}
    </div>
  );
}

/** Over the work in a narrow window, with the focus in it, Escape and a press beside it closing it; else beside it. */
function Drawer({
  side,
  label,
  onClose,
  children,
}: {
  side: "left" | "right" | null;
  label: string;
  onClose: () => void;
  children: ReactNode;
}) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (!side) return;
    const before = document.activeElement;
    box.current?.focus();
    return () => (before instanceof HTMLElement ? before.focus() : undefined);
  }, [side]);
  if (!side) return <>{children}</>;
  return (
    <>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: Escape and the button do the same */}
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: Escape and the button do the same */}
      <div className="drawer-veil" onClick={onClose} />
      <div
        ref={box}
        role="dialog"
        aria-label={label}
        tabIndex={-1}
        className={`drawer ${side === "left" ? "left-0" : "right-0"}`}
        onKeyDown={(e) => {
          if (e.key !== "Escape") return;
          e.stopPropagation();
          onClose();
        }}
      >
        <button type="button" className="act drawer-close" onClick={onClose}>
          Close
        </button>
        {children}
      </div>
    </>
  );
}

function IconButton({
  label,
  onClick,
  disabled = false,
  children,
}: {
  label: string;
  onClick: () => void;
  disabled?: boolean;
  children: ReactNode;
}) {
  return (
    <button
      type="button"
      className="icon-button"
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
    >
      {children}
    </button>
  );
}

function Saved() {
  const { saving, unsent, view, retry, behind, renew } = useSession();
  const [history, setHistory] = useState(false);
  const time = new Date(view.saved_at).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
  if (saving === "saving")
    return (
      <span className="text-xs opacity-80" role="status">
        saving…
      </span>
    );
  if (saving === "conflict")
    return (
      <span className="text-xs font-bold text-accent" role="status">
        not saved
      </span>
    );
  if (unsent) {
    return (
      <span role="status">
        <button type="button" className="cursor-pointer text-xs font-bold text-accent underline" onClick={retry}>
          not saved: {unsent.detail} Try again
        </button>
      </span>
    );
  }
  if (behind)
    return (
      <span role="status">
        <button type="button" className="cursor-pointer text-xs font-bold text-accent underline" onClick={renew}>
          saved {time}, what is shown may be old: {behind} Try again
        </button>
      </span>
    );
  return (
    <>
      <button
        type="button"
        className="cursor-pointer text-xs opacity-80 hover:underline"
        title={`${view.what}; show every revision`}
        onClick={() => setHistory(true)}
      >
        <span role="status">saved {time}</span>
      </button>
      {history && <History onClose={() => setHistory(false)} />}
    </>
  );
}

function Refused() {
  const { refused, dismiss } = useSession();
  if (!refused) return null;
  return (
    <div role="alert" className="told">
      <span>
        <span className="sev-Shortfall font-bold">Not saved. </span>
        {(refused.errors ?? [])[0]?.message ?? refused.detail}
      </span>
      <button type="button" className="act" onClick={dismiss}>
        Close
      </button>
    </div>
  );
}

const GOES_AFTER = 12_000;
/** Steps that show the whole plan: nobody is taken away from them. */
const WHOLE: readonly StepKey[] = ["descent", "rehearse", "card", "log"];
const elsewhere = (where: Where, at: { step: StepKey; drop: string }) =>
  where.step !== at.step || (where.drop !== "" && where.drop !== at.drop);

/** What was done last: undone, done again, removed, added; and where that is, gone to at once where it is elsewhere. */
function Said({ at, onGo }: { at: { step: StepKey; drop: string }; onGo: (where: Where) => void }) {
  const { done, tell, step } = useSession();
  const go = useRef(onGo);
  go.current = onGo;
  const here = useRef(at);
  here.current = at;
  useEffect(() => {
    if (!done) return;
    if (done.where && !WHOLE.includes(here.current.step) && elsewhere(done.where, here.current)) go.current(done.where);
    const timer = setTimeout(() => tell(null), GOES_AFTER);
    return () => clearTimeout(timer);
  }, [done, tell]);
  return (
    <div role="status" className={done ? "told calm" : "sr-only"}>
      {done && (
        <>
          <span>{done.text}</span>
          {done.where && elsewhere(done.where, at) && (
            <button type="button" className="act plain" onClick={() => onGo(done.where!)}>
              Show it
            </button>
          )}
          {done.offer && (
            <button type="button" className="act" onClick={() => step(done.offer as "undo" | "redo")}>
              {done.offer === "undo" ? "Undo" : "Redo"}
            </button>
          )}
          <button type="button" className="act plain" onClick={() => tell(null)}>
            Close
          </button>
        </>
      )}
    </div>
  );
}

/** Buttons that act on the drop itself. */
export function DropActs({ drop, index }: { drop: Drop; index: number }) {
  const { edit, plan, view, tell } = useSession();
  const go = useNavigate();
  const count = plan.drops?.length ?? 0;
  const move = (by: number) =>
    edit((p) => {
      const list = [...(p.drops ?? [])];
      const from = list.findIndex((d) => d.id === drop.id);
      const [taken] = list.splice(from, 1);
      if (taken) list.splice(from + by, 0, taken);
      return { ...p, drops: list };
    });
  const twice = () => {
    const twin = twinOf(drop, freshId("d", plan.drops ?? []), freshName(drop.name, plan.drops ?? []));
    edit((p) => ({ ...p, drops: (p.drops ?? []).flatMap((d) => (d.id === drop.id ? [d, twin] : [d])) }));
    const taken = "lengths count as by eye, angles as they were";
    const text = `${twin.name} added: ${taken}; what was seen and judged at ${drop.name} is open`;
    tell({ text, where: null, offer: "undo" });
    go(`/plans/${view.id}/survey/${twin.id}`);
  };
  const remove = () => {
    const next = plan.drops?.[index + 1] ?? plan.drops?.[index - 1];
    edit((p) => ({ ...p, drops: (p.drops ?? []).filter((d) => d.id !== drop.id) }));
    tell({ text: `Drop ${index + 1}, ${drop.name}, removed`, where: null, offer: "undo" });
    go(`/plans/${view.id}/survey${next ? `/${next.id}` : ""}`);
  };
  return (
    <span className="flex gap-1">
      <button type="button" className="act plain" disabled={index === 0} onClick={() => move(-1)}>
        Earlier
      </button>
      <button type="button" className="act plain" disabled={index === count - 1} onClick={() => move(1)}>
        Later
      </button>
      <button type="button" className="act plain" onClick={twice} title="another drop, rigged like this one">
        Duplicate
      </button>
      <button type="button" className="act plain sev-Shortfall" onClick={remove} title="Undo brings it back">
        Remove
      </button>
    </span>
  );
}
