// What stands over everything: the caution, the shortcuts, a conflict to settle.
import { useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useRef, useState } from "react";
import { Link } from "react-router";
import { api, onMoved } from "../api/client";
import { useSession } from "../state/plan";
import { usePrefs } from "../state/prefs";
import { SHORTCUTS } from "./keys";
import { TERMS } from "./terms";

export const CAUTION =
  "This is arithmetic on what was entered. Rigging can kill: figures are typical values, real parts vary, age, " +
  "abrade and are mis-tied. Practise under a qualified instructor; local rules, land managers, standards, makers' " +
  "instructions and licensed guides' practice come first; the person at the anchor decides.";

export function Dialog({ title, children, onClose }: { title: string; children: ReactNode; onClose?: () => void }) {
  const ref = useRef<HTMLDialogElement>(null);
  useEffect(() => {
    const el = ref.current;
    if (el && !el.open) el.showModal();
    return () => el?.close();
  }, []);
  return (
    <dialog
      ref={ref}
      className="modal"
      aria-label={title}
      onCancel={(e) => {
        e.preventDefault();
        onClose?.();
      }}
    >
      <div className="modal-box max-w-xl rounded-md border border-[var(--rule)] bg-base-100 p-6">
        <h2 className="mb-3 text-lg font-bold">{title}</h2>
        {children}
      </div>
    </dialog>
  );
}

export function FirstCaution() {
  const { cautionRead, readCaution } = usePrefs();
  if (cautionRead) return null;
  return (
    <Dialog title="Before you plan with this">
      <p>{CAUTION}</p>
      <p className="mt-3">
        A verdict uses the low end of what a part holds and the high end of what is asked of it. What is unknown is
        shown as “not checked”, never taken as good. A plan in which no shortfall is found has not been found good:
        Reamer has only found nothing wrong in what it looked at, and it says what it did not look at.
      </p>
      <button type="button" className="act mt-5" autoFocus onClick={readCaution}>
        I have read this
      </button>
    </Dialog>
  );
}

/** The library was put in another's place by somebody else: nothing on this screen is of the one that is there. */
export function Moved() {
  const [moved, set] = useState(false);
  useEffect(() => onMoved(() => set(true)), []);
  if (!moved) return null;
  return (
    <Dialog title="The library is another one">
      <p>
        A backup was put in the library's place, from another window or from the command line. What is on this screen is
        of the library that was there before, and nothing more is saved into the new one from here.
      </p>
      <p className="mt-3">
        An edit that was not saved yet is kept on this machine; it is offered when its plan is opened.
      </p>
      <button type="button" className="act mt-5" autoFocus onClick={() => window.location.reload()}>
        Open what is there now
      </button>
    </Dialog>
  );
}

export function Help({ onClose }: { onClose: () => void }) {
  return (
    <Dialog title="First steps and keys" onClose={onClose}>
      <ol className="mb-4 list-decimal pl-5">
        <li>Under Shed: your common shed, or a usual kit whose figures you then put your own in; and who goes.</li>
        <li>
          Under Survey: a drop after the other, each length with how it was measured. Leave what nobody knows empty.
        </li>
        <li>Under Rig: what it is tied to, and the rope system. The answer stands on the right, then what is wrong.</li>
        <li>Settle what is found, by the act that is offered or by a figure. Every act can be undone.</li>
        <li>Under Whole descent and Rehearse: ropes to carry, what if, and who is held by what at every act.</li>
        <li>Under Card: a second person looks at it; then it goes along, on paper or on a phone.</li>
      </ol>
      <p className="mb-4">
        <Link className="font-semibold underline" to="/guide" onClick={onClose}>
          The guide: from nothing, and what is planted in the demonstrations
        </Link>
      </p>
      <dl className="rule-b mb-4 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1 pb-4">
        {Object.entries(TERMS).map(([term, means]) => (
          <div key={term} className="contents">
            <dt className="font-semibold whitespace-nowrap">{term}</dt>
            <dd>{means}</dd>
          </div>
        ))}
      </dl>
      <dl className="grid grid-cols-[auto_1fr] gap-x-6 gap-y-1.5">
        {SHORTCUTS.map((s) => (
          <div key={s.keys} className="contents">
            <dt className="font-semibold whitespace-nowrap">{s.keys}</dt>
            <dd>{s.does}</dd>
          </div>
        ))}
      </dl>
      <p className="quiet rule-t mt-4 pt-3">
        In the drawing, both strands are set side by side by a fixed amount so that both are seen; each rope has its own
        colour and stripe. A filled dot at an end is a stopper, a short bar an open end. A broken ring is where that end
        hangs with the heaviest rider on it. A broken line below the landing is where the landing lies if the survey is
        off by its whole error. White dots are where the taut rope bears on rock.
      </p>
      <p className="quiet mt-3">Any number with a dotted line under the pointer opens its working. {CAUTION}</p>
      <button type="button" className="act mt-4" autoFocus onClick={onClose}>
        Close
      </button>
    </Dialog>
  );
}

/** What was saved and when, newest first. Undo and redo walk through it; nothing is ever taken out of it. */
export function History({ onClose }: { onClose: () => void }) {
  const { view } = useSession();
  const query = useQuery({
    queryKey: ["revisions", view.id, view.revision],
    queryFn: () => api.revisions(view.id),
    retry: false,
  });
  return (
    <Dialog title="Revisions" onClose={onClose}>
      {query.isPending && <p className="quiet">Reading…</p>}
      {query.error && (
        <p role="alert" className="sev-Shortfall">
          {query.error.message}
        </p>
      )}
      <ol className="max-h-96 overflow-y-auto" aria-label="revisions">
        {query.data?.map((r) => (
          <li key={r.number} className="rule-t grid grid-cols-[2.5rem_9rem_1fr] gap-x-3 py-1">
            <span className="num text-right">{r.number}</span>
            <span className="quiet">
              {new Date(r.saved_at).toLocaleString([], {
                day: "numeric",
                month: "short",
                hour: "2-digit",
                minute: "2-digit",
                hour12: false,
              })}
            </span>
            <span>{r.what}</span>
          </li>
        ))}
      </ol>
      <button type="button" className="act mt-4" autoFocus onClick={onClose}>
        Close
      </button>
    </Dialog>
  );
}

export function Conflict({ onCopied }: { onCopied: (id: string) => void }) {
  const { conflict, copied, settle, dismiss } = useSession();
  const go = useRef(onCopied);
  go.current = onCopied;
  useEffect(() => {
    if (!copied) return;
    dismiss();
    go.current(copied);
  }, [copied, dismiss]);
  if (!conflict) return null;
  const { problem, mine } = conflict;
  return (
    <Dialog title="This plan was changed somewhere else">
      <p>
        {problem.detail} Nothing was overwritten.{(problem.since ?? []).length > 0 && " Saved since:"}
      </p>
      <ul className="my-2 list-disc pl-5">
        {(problem.since ?? []).map((r) => (
          <li key={r.number}>
            revision {r.number}: {r.what}
          </li>
        ))}
      </ul>
      <div className="mt-4 flex flex-wrap gap-2">
        <button type="button" className="act" autoFocus onClick={() => settle("theirs")}>
          {mine ? "Drop my edit, show the newest" : "Show the newest"}
        </button>
        {mine && (
          <button type="button" className="act" onClick={() => settle("mine")}>
            Make my edit on the newest
          </button>
        )}
        {mine && (
          <button type="button" className="act" onClick={() => settle("copy")}>
            Keep mine as another plan
          </button>
        )}
      </div>
    </Dialog>
  );
}
