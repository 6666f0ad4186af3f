// The quiz: what comes next, which end is pulled, who is held by what; a reason with every answer, the score here only.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api } from "../../api/client";
import { words } from "../../say";
import type { Drop, QuizQuestion } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useGoing } from "../../state/rehearsal";

interface Score {
  right: number;
  of: number;
}
function kept(key: string): Score {
  try {
    const s = JSON.parse(localStorage.getItem(key) ?? "null") as Score | null;
    return s && Number.isFinite(s.right) && Number.isFinite(s.of) ? s : { right: 0, of: 0 };
  } catch {
    return { right: 0, of: 0 };
  }
}

export function Quiz({ drop, onClose }: { drop: Drop; onClose: () => void }) {
  const { view } = useSession();
  const { units } = usePrefs();
  const { run, k } = useGoing();
  const dialog = useRef<HTMLDialogElement>(null);
  const key = `quiz ${view.id}`;
  const [at, setAt] = useState(0);
  const [given, setGiven] = useState<number | null>(null);
  const [score, setScore] = useState(() => kept(key));
  useEffect(() => {
    dialog.current?.showModal();
  }, []);
  const query = useQuery({
    queryKey: ["quiz", view.id, view.rests, drop.id],
    queryFn: () => api.quiz(view.id, view.revision, drop.id),
    staleTime: Infinity,
    retry: false,
  });
  const asked: QuizQuestion[] = query.data ?? [];
  const q = asked[at];
  const done = q && run ? run.steps[q.after - 1] : undefined;
  const keep = (s: Score) => {
    setScore(s);
    localStorage.setItem(key, JSON.stringify(s));
  };
  const answer = (i: number) => {
    if (!q?.options[i] || given !== null) return;
    setGiven(i);
    keep({ right: score.right + (q.options[i]?.right ? 1 : 0), of: score.of + 1 });
  };
  const next = () => {
    setGiven(null);
    setAt(at + 1);
  };
  const answering = useRef(answer);
  answering.current = answer;
  useEffect(() => {
    // The focus may be nowhere once an answer is given: the window listens.
    const listen = (e: KeyboardEvent) => {
      const i = Number(e.key) - 1;
      if (Number.isInteger(i) && i >= 0) answering.current(i);
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
  return (
    <dialog
      ref={dialog}
      className="h-full max-h-none w-full max-w-none bg-base-100 p-8 text-base-content"
      aria-label="quiz"
      onClose={onClose}
    >
      <div className="mx-auto flex h-full max-w-4xl flex-col">
        <div className="flex items-center gap-4">
          <span className="text-lg font-semibold">
            Drop {k + 1}, {drop.name}
          </span>
          <span className="quiet">
            question {Math.min(at + 1, asked.length)} of {asked.length}
          </span>
          <span className="grow" />
          <span data-testid="score">
            {score.right} of {score.of} right
          </span>
          <button type="button" className="act plain" onClick={() => keep({ right: 0, of: 0 })}>
            Start the count again
          </button>
          <button type="button" className="act" onClick={() => dialog.current?.close()}>
            Close
          </button>
        </div>
        <div className="flex min-h-0 grow flex-col justify-center gap-4 overflow-auto">
          {query.isLoading && <p className="quiet">Making up the questions…</p>}
          {query.error && <p role="alert">{query.error.message}</p>}
          {query.data && !q && (
            <p className="text-2xl">
              {asked.length ? "That was all of this station." : "There is nothing to ask here."}
            </p>
          )}
          {q && (
            <>
              {q.kind !== "held by" && (
                <p className="quiet text-xl">
                  {done ? `Done so far: act ${done.number}. ${words(done.words, units)}` : "Nothing is done yet."}
                </p>
              )}
              <h1 className="text-3xl font-bold">{words(q.asks, units)}</h1>
              <div className="grid gap-2">
                {q.options.map((o, i) => {
                  const shown = given !== null && (o.right || i === given);
                  return (
                    <div key={words(o.words, units)}>
                      <button
                        type="button"
                        disabled={given !== null}
                        onClick={() => answer(i)}
                        className={`quiz-option ${shown ? (o.right ? "right" : "wrong") : ""}`}
                      >
                        <span className="quiet mr-3">{i + 1}</span>
                        {words(o.words, units)}
                        {shown && <span className="ml-3 text-base font-semibold">{o.right ? "right" : "not so"}</span>}
                      </button>
                      {shown && (i === given || words(o.why, units) !== words(q.options[given!]!.why, units)) && (
                        <p className="px-4 pt-1" role="status">
                          {words(o.why, units)}
                        </p>
                      )}
                    </div>
                  );
                })}
              </div>
              {given !== null && (
                <button type="button" autoFocus className="act self-start text-lg" onClick={next}>
                  {at + 1 < asked.length ? "Next question" : "Finish"}
                </button>
              )}
            </>
          )}
        </div>
      </div>
    </dialog>
  );
}
