// The open plan: what the server holds, edits on their way, the draft under the pointer, conflicts.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from "react";
import { api, libraryNow, OTHER, Refusal } from "../api/client";
import { type PlanEdit, replaceDrop, resolved } from "./edits";
import type { Cell, Drop, DropAssessment, Fix, Plan, PlanView, Problem } from "./model";
import { type Where, whereChanged } from "./where";

export type Saving =
  | { kind: "saved" }
  | { kind: "saving" }
  | { kind: "conflict" }
  | { kind: "unsent"; problem: Problem };
export interface Draft {
  drop: Drop;
  answer: DropAssessment;
}
/** What was done last, in words, with where it lies; ``undo``: whether it is offered to take it back. */
export interface Done {
  text: string;
  where: Where | null;
  offer: "undo" | "redo" | "";
}
interface Session {
  view: PlanView;
  /** The plan with edits that are still on their way. */
  plan: Plan;
  saving: Saving;
  refused: Problem | null;
  conflict: { problem: Problem; edits: PlanEdit[] } | null;
  draft: Draft | null;
  edit: (...edits: PlanEdit[]) => void;
  retry: () => void;
  step: (which: "undo" | "redo") => void;
  settle: (how: "theirs" | "mine" | "copy") => Promise<PlanView | null>;
  dismiss: () => void;
  /** Why what is shown could not be asked anew, "" where it could: then it may no longer be so. */
  behind: string;
  renew: () => void;
  done: Done | null;
  /** Say what was done, until something else is. */
  tell: (done: Done | null) => void;
  propose: (drop: Drop, index: number) => void;
  commit: () => void;
  cancel: () => void;
}

const Context = createContext<Session | null>(null);

interface Kept {
  library: string;
  revision: number;
  plan: Plan;
}
const keep = (id: string, revision: number, plan: Plan) =>
  localStorage.setItem(`unsent ${id}`, JSON.stringify({ library: libraryNow(), revision, plan } satisfies Kept));
const forget = (id: string) => localStorage.removeItem(`unsent ${id}`);
function kept(id: string): Kept | null {
  try {
    return JSON.parse(localStorage.getItem(`unsent ${id}`) ?? "null") as Kept | null;
  } catch {
    return null;
  }
}

function asProblem(e: unknown): Problem {
  if (e instanceof Refusal) return e.problem;
  throw e;
}

export function PlanProvider({
  id,
  children,
  loading,
  failed,
}: {
  id: string;
  children: ReactNode;
  loading: ReactNode;
  failed: (p: Problem) => ReactNode;
}) {
  const client = useQueryClient();
  const key = useMemo(() => ["plan", id] as const, [id]);
  const query = useQuery({
    queryKey: key,
    queryFn: async () => {
      const got = await api.open(id);
      // A save may have been answered while this was on its way.
      const now = client.getQueryData<PlanView>(key);
      return now && now.revision > got.revision ? now : got;
    },
    staleTime: Infinity,
    // Somebody at another screen, or a phone in the room, may have saved or said something meanwhile.
    refetchOnWindowFocus: "always",
    refetchOnMount: "always",
    retry: false,
  });
  const pending = useRef<PlanEdit[]>([]);
  const busy = useRef(false);
  // An undo that was asked for while something was on its way is made once that is saved.
  const after = useRef<"undo" | "redo" | null>(null);
  const stepping = useRef<(which: "undo" | "redo") => Promise<void>>(async () => undefined);
  const [flying, setFlying] = useState<readonly PlanEdit[]>([]);
  const [saving, setSaving] = useState<Saving>({ kind: "saved" });
  const [refused, setRefused] = useState<Problem | null>(null);
  const [conflict, setConflict] = useState<Session["conflict"]>(null);
  const [draft, setDraft] = useState<Draft | null>(null);
  const [done, tell] = useState<Done | null>(null);
  const wanted = useRef<{ drop: Drop; index: number } | null>(null);
  const newest = useRef<Drop | null>(null);
  const asking = useRef(false);
  const held = useRef(0);

  const current = useCallback(() => client.getQueryData<PlanView>(key), [client, key]);
  const accept = useCallback((view: PlanView) => client.setQueryData<PlanView>(key, view), [client, key]);

  const flush = useCallback(async () => {
    if (busy.current) return;
    busy.current = true;
    let most = Infinity;
    while (pending.current.length > 0) {
      const base = current();
      if (!base) break;
      const edits = pending.current.splice(0, most);
      setFlying([...edits, ...pending.current]);
      setSaving({ kind: "saving" });
      try {
        accept(
          await api.save(
            id,
            base.revision,
            edits.reduce((p, e) => e(p), base.plan),
          ),
        );
        setSaving({ kind: "saved" });
        forget(id);
      } catch (e) {
        const problem = asProblem(e);
        if (problem.status === 409 && problem.type !== OTHER) {
          forget(id);
          const all = [...edits, ...pending.current.splice(0)];
          after.current = null;
          setConflict((c) => ({ problem, edits: [...(c?.edits ?? []), ...all] }));
          setSaving({ kind: "conflict" });
        } else if (problem.status === 0 || problem.status >= 500 || problem.type === OTHER) {
          pending.current = [...edits, ...pending.current];
          setSaving({ kind: "unsent", problem });
          keep(
            id,
            base.revision,
            pending.current.reduce((p, e) => e(p), base.plan),
          );
          busy.current = false;
          after.current = null;
          return; // the edits stay in sight, also over a reload, and wait for a retry
        } else if (edits.length > 1) {
          pending.current = [...edits, ...pending.current];
          most = 1; // one of several is refused: each is sent by itself, so that the others are not lost with it
          continue;
        } else {
          forget(id);
          after.current = null;
          setRefused(problem);
          setSaving({ kind: "saved" });
        }
      }
      setFlying([...pending.current]);
      setDraft(null);
    }
    busy.current = false;
    const next = after.current;
    after.current = null;
    if (next) void stepping.current(next);
  }, [accept, current, id]);

  const edit = useCallback(
    (...edits: PlanEdit[]) => {
      setRefused(null);
      tell(null);
      const act: PlanEdit = (plan) => edits.reduce((p, e) => e(p), plan); // all of it or nothing
      pending.current.push(act);
      setFlying((f) => [...f, act]);
      void flush();
    },
    [flush],
  );

  const step = useCallback(
    async (which: "undo" | "redo") => {
      const base = current();
      if (busy.current) {
        after.current = which;
        return;
      }
      if (!base || !(which === "undo" ? base.can_undo : base.can_redo)) return;
      busy.current = true;
      setRefused(null);
      setSaving({ kind: "saving" });
      try {
        const made = await api.step(id, which, base.revision);
        accept(made);
        setSaving({ kind: "saved" });
        const what = made.what.replace(/^(?:(?:undo|redo): )+/, "");
        const offer = which === "undo" && made.can_redo ? "redo" : which === "redo" && made.can_undo ? "undo" : "";
        const where = whereChanged(base.plan, made.plan);
        tell({ text: `${which === "undo" ? "Undone" : "Done again"}: ${what}`, where, offer });
      } catch (e) {
        const problem = asProblem(e);
        setSaving({ kind: "saved" });
        if (problem.status === 409) setConflict({ problem, edits: [] });
        else setRefused(problem);
      }
      busy.current = false;
      void flush();
    },
    [accept, current, flush, id],
  );
  stepping.current = step;

  const settle = useCallback(
    async (how: "theirs" | "mine" | "copy") => {
      if (!conflict) return null;
      const mine = current();
      try {
        if (how === "copy" && mine) {
          const plan = conflict.edits.reduce((p, e) => e(p), mine.plan);
          const copy = await api.create({
            kind: "file",
            plan: { ...plan, title: `${plan.title.slice(0, 66)} (my version)` },
          });
          setConflict(null);
          setSaving({ kind: "saved" });
          return copy;
        }
        accept(await api.open(id));
        setConflict(null);
        setSaving({ kind: "saved" });
        setDraft(null);
        if (how === "mine") {
          const newest = current();
          const made = newest && conflict.edits.reduce((p, e) => e(p), newest.plan);
          if (newest && JSON.stringify(made) === JSON.stringify(newest.plan)) {
            setRefused({
              ...conflict.problem,
              since: [],
              detail:
                "What your edit changed is no longer in the newest revision, or already is as you wanted it; " +
                "nothing was changed.",
            });
          } else edit(...conflict.edits);
        }
      } catch (e) {
        setRefused(asProblem(e));
      }
      return null;
    },
    [accept, conflict, current, edit, id],
  );

  // One request is in flight; the newest position wins; a draft always holds an answer with the drop it belongs to.
  const ask = useCallback(async () => {
    if (asking.current) return;
    asking.current = true;
    while (wanted.current) {
      const { drop, index } = wanted.current;
      const turn = held.current;
      wanted.current = null;
      const base = current();
      if (!base) break;
      try {
        const answer = await api.preview(id, base.revision, index, drop);
        if (turn === held.current) {
          setDraft({ drop, answer });
          setRefused(null);
        }
      } catch (e) {
        const problem = asProblem(e);
        if (turn === held.current) setRefused(problem);
      }
    }
    asking.current = false;
  }, [current, id]);

  const propose = useCallback(
    (drop: Drop, index: number) => {
      newest.current = drop;
      wanted.current = { drop, index };
      void ask();
    },
    [ask],
  );

  const commit = useCallback(() => {
    // What is saved is the newest position asked for; if it is refused the saved plan stays.
    const drop = newest.current;
    newest.current = wanted.current = null;
    held.current++;
    if (drop) edit(replaceDrop(drop));
  }, [edit]);
  const cancel = useCallback(() => {
    newest.current = wanted.current = null;
    held.current++;
    setDraft(null);
    setRefused(null);
  }, []);
  const dismiss = useCallback(() => setRefused(null), []);
  const retry = useCallback(() => void flush(), [flush]);

  const view = query.data;
  // What could not be sent before this page was left or reloaded is sent now, or offered where somebody else saved
  // meanwhile.
  const met = useRef(false);
  useEffect(() => {
    if (!view || met.current) return;
    met.current = true;
    const before = kept(id);
    if (!before) return;
    if (before.revision === view.revision && before.library === libraryNow()) edit(() => before.plan);
    else {
      forget(id);
      setConflict({
        problem: {
          type: "about:blank",
          title: "Conflict",
          status: 409,
          detail: "Edits that could not be sent were kept on this machine, but the plan was saved elsewhere meanwhile.",
          errors: [],
          revision: view.revision,
          since: [],
        },
        edits: [() => before.plan],
      });
      setSaving({ kind: "conflict" });
    }
  }, [view, edit, id]);
  const unsent = saving.kind === "unsent";
  useEffect(() => {
    if (!unsent) return;
    const again = setInterval(() => void flush(), 5000);
    return () => clearInterval(again);
  }, [unsent, flush]);
  const open = unsent || saving.kind === "saving";
  useEffect(() => {
    if (!open) return;
    const warn = (e: BeforeUnloadEvent) => e.preventDefault();
    window.addEventListener("beforeunload", warn);
    return () => window.removeEventListener("beforeunload", warn);
  }, [open]);
  const plan = useMemo(() => (view ? flying.reduce((p, e) => e(p), view.plan) : null), [view, flying]);
  const trouble = query.error ? asProblem(query.error) : null;
  const behind = trouble?.detail ?? "";
  const { refetch } = query;
  const renew = useCallback(() => void refetch(), [refetch]);
  const session = useMemo<Session | null>(
    () =>
      view && plan
        ? {
            view,
            plan,
            saving,
            refused,
            conflict,
            draft,
            edit,
            retry,
            step: (w) => void step(w),
            settle,
            dismiss,
            behind,
            renew,
            done,
            tell,
            propose,
            commit,
            cancel,
          }
        : null,
    [
      view,
      plan,
      saving,
      refused,
      conflict,
      draft,
      behind,
      renew,
      done,
      edit,
      retry,
      step,
      settle,
      dismiss,
      propose,
      commit,
      cancel,
    ],
  );
  // What is on the screen stays, and is said to be behind, while the server is only silent; not where the plan is gone
  // or cannot be read.
  if (trouble && (!query.data || [404, 422].includes(trouble.status))) return failed(trouble);
  if (!session) return loading;
  return <Context.Provider value={session}>{children}</Context.Provider>;
}

export function useSession(): Session {
  const session = useContext(Context);
  if (!session) throw new Error("useSession outside PlanProvider");
  return session;
}

/** A field's place in the plan as the server names it: by it a finding, a working and a refusal find the field. */
export function useFieldAt(path: readonly (string | number)[]): string {
  return resolved(useSession().plan, path);
}

/** The message for one field, if the last edit was refused because of it. */
export function useFieldError(path: readonly (string | number)[]): string | null {
  const { refused, plan } = useSession();
  if (!refused) return null;
  const at = resolved(plan, path);
  const hit = refused.errors?.find((e) => {
    const field = e.field.replace(/^plan\//, "").replace(/^drop\//, "");
    return field === at || field.startsWith(`${at}/`);
  });
  return hit ? hit.message : null;
}

/** How much longer a drop may be than it is written: the one figure for it, null until it is worked out. */
export function useLonger(drop: string): Cell | null {
  const { view } = useSession();
  const query = useQuery({
    queryKey: ["longer", view.id, view.rests, drop],
    queryFn: () => api.longer(view.id, view.revision, drop),
    staleTime: Infinity,
    retry: false,
  });
  return query.data ?? null;
}

const PAUSE_MS = 250;
const NO_ACTS: ReadonlyMap<string, readonly Fix[]> = new Map();

/** The acts that settle findings of the whole plan and of one drop, by the finding's key: each was tried out. */
export function useOffers(drop = ""): ReadonlyMap<string, readonly Fix[]> {
  const { view } = useSession();
  const { findings, drops } = view.assessment;
  // What things have been through, which no revision tells, may bring a finding.
  // Asked once edits have paused: each act is tried out on the whole plan.
  const [paused, setPaused] = useState(-1);
  useEffect(() => {
    const wait = setTimeout(() => setPaused(view.revision), PAUSE_MS);
    return () => clearTimeout(wait);
  }, [view.revision]);
  const told = [...findings, ...(drops.find((d) => d.id === drop)?.findings ?? [])].map((f) => f.key);
  const query = useQuery({
    queryKey: ["offers", view.id, view.rests, drop, told],
    queryFn: async () => new Map((await api.offers(view.id, view.revision, drop)).map((o) => [o.finding, o.fixes])),
    staleTime: Infinity,
    enabled: paused === view.revision,
    retry: false,
  });
  return query.data ?? NO_ACTS;
}
