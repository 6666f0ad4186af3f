// Changing the act in view: earlier, later, out, other words, a pause, another act after it.
import { useEffect, useState } from "react";
import { words } from "../../say";
import type { Step } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";
import { keyOf } from "../../ui/keys";
import { added, dropped, freshAct, moved, paused, reworded } from "./through";

export function ActEdit({ step }: { step: Step }) {
  const { edit } = useSession();
  const { run, n } = useGoing();
  const [open, setOpen] = useState<"" | "words" | "add">("");
  // biome-ignore lint/correctness/useExhaustiveDependencies: a form belongs to its act
  useEffect(() => setOpen(""), [step.key]);
  if (!run) return null;
  const move = shift(run.drop, run.steps, n);
  return (
    <section className="rule-t mt-3 pt-2" aria-label="change this act">
      <h2 className="font-semibold">Change this act</h2>
      <div className="mt-1 flex flex-wrap gap-1">
        <button
          type="button"
          className="act plain px-1.5"
          disabled={!move(-1)}
          title={`Earlier (${keyOf("earlier")})`}
          onClick={() => edit(move(-1)!)}
        >
          Earlier
        </button>
        <button
          type="button"
          className="act plain px-1.5"
          disabled={!move(1)}
          title={`Later (${keyOf("later")})`}
          onClick={() => edit(move(1)!)}
        >
          Later
        </button>
        <button
          type="button"
          className="act plain px-1.5"
          title="Leave it out (Del)"
          onClick={() => edit(dropped(run.drop, step.key))}
        >
          Leave out
        </button>
        <button
          type="button"
          className="act plain px-1.5"
          aria-expanded={open === "words"}
          onClick={() => setOpen(open === "words" ? "" : "words")}
        >
          Other words
        </button>
        <button
          type="button"
          className="act plain px-1.5"
          aria-expanded={open === "add"}
          onClick={() => setOpen(open === "add" ? "" : "add")}
        >
          Add after it
        </button>
        <button
          type="button"
          className="act plain px-1.5"
          aria-pressed={step.pause !== null}
          onClick={() => edit(paused(run.drop, step.key, step.pause === null))}
        >
          {step.pause ? "No pause here" : "Everybody stops here"}
        </button>
      </div>
      {open === "words" && <Words step={step} drop={run.drop} onDone={() => setOpen("")} />}
      {open === "add" && <Add step={step} drop={run.drop} onDone={() => setOpen("")} />}
    </section>
  );
}

/** The edit that puts an act one place earlier or later, null at the end. */
export function shift(drop: string, steps: readonly Step[], n: number) {
  return (by: 1 | -1) => {
    const step = steps[n];
    if (!step || n + by < 0 || n + by >= steps.length) return null;
    return moved(drop, step.key, by > 0 ? steps[n + 1]!.key : n >= 2 ? steps[n - 2]!.key : "");
  };
}

function Words({ step, drop, onDone }: { step: Step; drop: string; onDone: () => void }) {
  const { edit } = useSession();
  const { units } = usePrefs();
  const [text, setText] = useState(words(step.words, units));
  return (
    <form
      className="mt-2 grid gap-1.5"
      onSubmit={(e) => {
        e.preventDefault();
        edit(reworded(drop, step.key, text.trim()));
        onDone();
      }}
    >
      <label>
        <span className="quiet text-xs">in your words; what it does stays</span>
        <input
          autoFocus
          className="field w-full"
          maxLength={200}
          value={text}
          onChange={(e) => setText(e.target.value)}
        />
      </label>
      <div className="flex gap-2">
        <button type="submit" className="act">
          Say it so
        </button>
        {step.own && (
          <button
            type="button"
            className="act plain"
            onClick={() => {
              edit(reworded(drop, step.key, ""));
              onDone();
            }}
          >
            The usual words
          </button>
        )}
      </div>
    </form>
  );
}

function Add({ step, drop, onDone }: { step: Step; drop: string; onDone: () => void }) {
  const { edit, plan } = useSession();
  const { run, show } = useGoing();
  const [act, setAct] = useState<string>("check");
  const [who, setWho] = useState(step.who || plan.party[0]?.id || "");
  const [what, setWhat] = useState("");
  const can = run?.can ?? [];
  const choices = can.find((c) => c.do === act)?.whats ?? [];
  const chosen = choices.some((c) => c.value === what) ? what : (choices[0]?.value ?? "");
  return (
    <form
      className="mt-2 grid grid-cols-2 gap-x-3 gap-y-1.5"
      aria-label="add an act"
      onSubmit={(e) => {
        e.preventDefault();
        const id = freshAct(plan.drops.find((d) => d.id === drop));
        edit(added(drop, id, step.key, { do: act, who, what: chosen }));
        show(`own:${id}`);
        onDone();
      }}
    >
      <label className="col-span-2">
        <span className="quiet text-xs">what is done</span>
        <select className="field w-full" value={act} onChange={(e) => setAct(e.target.value)}>
          {can.map((c) => (
            <option key={c.do} value={c.do}>
              {c.do}
            </option>
          ))}
        </select>
      </label>
      <label>
        <span className="quiet text-xs">by whom</span>
        <select className="field w-full" value={who} onChange={(e) => setWho(e.target.value)}>
          {plan.party.map((p) => (
            <option key={p.id} value={p.id}>
              {p.name}
            </option>
          ))}
        </select>
      </label>
      {choices.length > 0 && (
        <label>
          <span className="quiet text-xs">which, or whom</span>
          <select className="field w-full" value={chosen} onChange={(e) => setWhat(e.target.value)}>
            {choices.map((c) => (
              <option key={c.value} value={c.value}>
                {c.label}
              </option>
            ))}
          </select>
        </label>
      )}
      <button type="submit" className="act justify-self-start">
        Add it
      </button>
    </form>
  );
}
