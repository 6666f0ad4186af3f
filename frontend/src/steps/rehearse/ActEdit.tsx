// Changing the act in view: earlier, later, out, other words, a pause, another act after it.
import { useEffect, useState } from "react";
import { words } from "../../say";
import type { Step } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";
import { keyOf } from "../../ui/keys";
import { ACT_NAMES } from "./acts";
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

/** What acts of a kind name: as those of the station do, so that nothing has to be typed. */
function whats(
  steps: readonly Step[],
  strands: readonly { key: string; name: string }[],
  act: string,
): { value: string; label: string }[] {
  const both = strands.map((s) => s.key).join(",");
  const found: { value: string; label: string }[] = [];
  if (act === "load device" || act === "tie in")
    found.push({ value: both, label: "all strands" }, ...strands.map((s) => ({ value: s.key, label: s.name })));
  if (act === "pull" || act === "thread" || act === "pull up the end")
    found.push(...strands.map((s) => ({ value: s.key, label: s.name })));
  if (act === "tie" || act === "untie")
    found.push(
      ...strands.map((s) => ({ value: `stopper ${s.key}`, label: `stopper, ${s.name}` })),
      { value: "overhand below", label: "isolating overhand, from below" },
      { value: "isolating overhand", label: "isolating overhand, at the ring" },
      { value: "isolating clove", label: "isolating clove" },
    );
  if (act === "clip tether")
    found.push({ value: "master", label: "the master point" }, { value: "backup", label: "the backup" });
  if (act === "put in" || act === "take out")
    found.push(
      { value: "backup screw", label: "backup screw" },
      { value: "courtesy carabiner", label: "courtesy carabiner" },
      { value: "bights' carabiner", label: "the bights’ carabiner" },
      { value: "belayer's hitch", label: "a hitch on the brake strand" },
    );
  if (act === "secure the rope")
    found.push(
      { value: "clipped", label: "clipped" },
      { value: "tied", label: "tied" },
      { value: "in hand", label: "in hand" },
    );
  if (act === "call")
    found.push(
      { value: "off rope", label: "off rope" },
      { value: "rope", label: "rope" },
      ...strands.map((s) => ({ value: `pull ${s.key}`, label: `pull ${s.name}` })),
    );
  for (const s of steps)
    if (s.do === act && s.what && !found.some((f) => f.value === s.what)) found.push({ value: s.what, label: s.what });
  return found;
}

const NAMES_SOMEBODY = ["take fireman's belay", "take top belay", "take lowering belay", "clip passenger", "check"];

function Add({ step, drop, onDone }: { step: Step; drop: string; onDone: () => void }) {
  const { edit, plan } = useSession();
  const { run, show } = useGoing();
  const [act, setAct] = useState<string>("check");
  const [who, setWho] = useState(step.who || plan.party[0]?.id || "");
  const [what, setWhat] = useState("");
  const ropes = plan.shed.ropes ?? [];
  const strands = step.shows.strands.map((s) => ({
    key: s.key,
    name: `end ${s.end.toUpperCase()} of ${ropes.find((r) => r.id === s.rope)?.name ?? s.rope}`,
  }));
  const somebody = NAMES_SOMEBODY.includes(act);
  const choices = somebody
    ? [
        ...(act === "check" ? [{ value: "station", label: "the station" }] : []),
        ...plan.party.map((p) => ({ value: p.id, label: p.name })),
      ]
    : whats(run?.steps ?? [], strands, act);
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
          {ACT_NAMES.map((a) => (
            <option key={a} value={a}>
              {a}
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
          <span className="quiet text-xs">{somebody ? "whom" : "which"}</span>
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
