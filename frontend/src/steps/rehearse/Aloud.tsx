// Read aloud: one move a screen in very large type, for the party or for one person; its acts as pages to hand out.
import { useEffect, useMemo, useRef, useState } from "react";
import { words } from "../../say";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";

export function Aloud({ drop, onClose }: { drop: Drop; onClose: () => void }) {
  const { plan } = useSession();
  const { units } = usePrefs();
  const { run, n, go, whole, k } = useGoing();
  const dialog = useRef<HTMLDialogElement>(null);
  const start = useRef<HTMLDivElement>(null);
  const [of, setOf] = useState("");
  const [page, setPage] = useState(false);
  useEffect(() => {
    dialog.current?.showModal();
    start.current?.focus();
  }, []);
  const steps = useMemo(
    () =>
      (run?.steps ?? [])
        .map((s, i) => ({ s, i }))
        .filter(({ s }) => !s.refused && (!of || s.who === of || s.what === of || !s.who)),
    [run, of],
  );
  const undone = (run?.steps ?? []).filter((s) => s.refused).length;
  const moves = useMemo(
    () => (run?.steps.length ? run.moves : []).filter((m) => !of || m.people.includes(of) || m.does.includes(of)),
    [run, of],
  );
  const place = Math.max(
    0,
    moves.findIndex((m) => n + 1 <= m.end),
  );
  const now = moves[place];
  const to = (by: number) => {
    const next = moves[Math.max(0, Math.min(moves.length - 1, place + by))];
    if (next) go(next.begin - 1);
  };
  const name = plan.party.find((p) => p.id === of)?.name;
  const first = (whole?.first ?? []).map((i) => whole!.hazards[i]!).filter((h) => h.drop === drop.id);
  const here = (run?.spans ?? []).filter((s) => now && s.begin <= now.end && (s.end === 0 || s.end > now.begin));
  const paused = steps.some(({ s, i }) => now && s.pause && i + 1 >= now.begin && i + 1 <= now.end);
  return (
    <dialog
      ref={dialog}
      className="h-full max-h-none w-full max-w-none bg-base-100 p-8 text-base-content"
      aria-label="read aloud"
      onClose={onClose}
      onKeyDown={(e) => {
        const typed = e.target instanceof HTMLSelectElement;
        if (e.key === "Escape" || typed || page) return;
        const by = e.key === " " || e.key === "ArrowRight" ? (e.shiftKey ? -1 : 1) : e.key === "ArrowLeft" ? -1 : 0;
        if (by === 0 || (e.key === " " && e.target instanceof HTMLButtonElement)) return;
        e.preventDefault();
        to(by);
      }}
    >
      <div className="flex h-full flex-col outline-none" tabIndex={-1} ref={start}>
        <div className="no-print flex items-center gap-4">
          <span className="text-lg font-semibold">
            Drop {k + 1}, {drop.name}
          </span>
          <label className="flex items-center gap-2">
            <span className="quiet">for</span>
            <select className="field" value={of} onChange={(e) => setOf(e.target.value)}>
              <option value="">everybody</option>
              {plan.party.map((p) => (
                <option key={p.id} value={p.id}>
                  {p.name}
                </option>
              ))}
            </select>
          </label>
          <button type="button" className="act plain" aria-pressed={page} onClick={() => setPage(!page)}>
            {page ? "One move a screen" : "As a page"}
          </button>
          {page && (
            <button type="button" className="act plain" onClick={() => window.print()}>
              Print
            </button>
          )}
          {undone > 0 && (
            <span className="sev-Not-checked font-semibold">
              {undone} {undone === 1 ? "act" : "acts"} of the order cannot be done as it stands, and{" "}
              {undone === 1 ? "is" : "are"} left out
            </span>
          )}
          <span className="grow" />
          <button type="button" className="act" onClick={() => dialog.current?.close()}>
            Close
          </button>
        </div>
        {page ? (
          <div className="paper min-h-0 grow overflow-auto pt-4 text-[17px]" data-testid="page">
            <h1 className="text-2xl font-bold">
              {name ? `What ${name} does at drop ${k + 1}, ${drop.name}` : `Drop ${k + 1}, ${drop.name}`}
            </h1>
            {first.length > 0 && (
              <ul className="my-2 list-disc pl-6 font-semibold">
                {first.map((h) => (
                  <li key={h.key}>
                    {words(h.title, units)}: act {h.begin_number}
                  </li>
                ))}
              </ul>
            )}
            <ol>
              {steps.map(({ s }) => (
                <li key={s.key} className="grid grid-cols-[2.5rem_1fr] py-0.5">
                  <span className="num">{s.number}</span>
                  <span>
                    {words(s.words, units)}
                    {s.pause && <b> Everybody stops; a second person looks.</b>}
                  </span>
                </li>
              ))}
            </ol>
            {undone > 0 && (
              <p className="mt-3 font-semibold">
                Left out, for it cannot be done as the order stands: {undone} {undone === 1 ? "act" : "acts"}.
              </p>
            )}
            <p className="quiet mt-4 text-sm">
              Reamer does not know the rock, the water or the day. It checks a plan; it does not replace training, a
              second look or the maker’s instructions.
            </p>
          </div>
        ) : now ? (
          <div className="flex min-h-0 grow flex-col justify-center gap-6 overflow-auto">
            <div data-testid="aloud" aria-live="polite">
              <p className="quiet text-2xl">
                Move {place + 1} of {moves.length}
              </p>
              <p className="max-w-5xl text-6xl leading-tight font-bold first-letter:uppercase max-md:text-4xl">
                {words(now.title, units)}
              </p>
              {now.needs
                .filter((x) => !x.met)
                .map((x) => (
                  <p key={words(x.said, units)} className="sev-Not-checked mt-3 text-2xl font-semibold">
                    Before it: {words(x.said, units)}
                  </p>
                ))}
              <div className="mt-6 max-w-5xl text-3xl leading-snug max-md:text-2xl">
                {now.lines.map((x) => (
                  <p key={words(x, units)}>{words(x, units)}</p>
                ))}
              </div>
              {now.otherwise.map((x) => (
                <p key={words(x, units)} className="mt-2 max-w-5xl text-2xl">
                  <span className="quiet">otherwise </span>
                  {words(x, units)}
                </p>
              ))}
            </div>
            {paused && <p className="text-3xl font-bold">Everybody stops; a second person looks.</p>}
            {here.map((h) => (
              <p key={h.key} className={`max-w-4xl text-2xl font-semibold sev-${h.severity.replace(" ", "-")}`}>
                {words(h.title, units)}
              </p>
            ))}
            <p className="max-w-4xl text-2xl">
              <span className="quiet">then </span>
              {words(now.after, units)}
            </p>
            <p className="quiet text-lg">Space or → for the next, ← for the one before</p>
          </div>
        ) : (
          <p className="pt-10 text-2xl">
            {name ? `${name} has nothing to do here.` : "There is nothing to go through here."}
          </p>
        )}
      </div>
    </dialog>
  );
}
