// Sessions that are open on this page, each with what it asks of the server and what of it is kept on this machine. One
// lives on while something of it is on its way, whatever is on the screen.
import type { Query, QueryClient } from "@tanstack/react-query";
import { api, libraryNow, OTHER, Refusal } from "../api/client";
import { changesOf, nothing } from "./changes";
import type { Plan, PlanView, Problem } from "./model";
import { type Action, type Ask, begun, type Kept, keptOf, type Preview, reduce, type State, savingOf } from "./session";

export interface Store {
  get: () => State;
  act: (a: Action) => void;
  subscribe: (f: () => void) => () => void;
}

const RETRY_MS = 5000;
const open = new Map<string, Store>();
/** By this the server knows an edit that it has made already. */
export const keyed = () => crypto.randomUUID();
export const keyOf = (id: string) => ["plan", id] as const;

/** The session of a plan that is open on this page, or a new one. */
export function storeOf(view: PlanView, client: QueryClient): Store {
  const found = open.get(view.id) ?? begin(view, client);
  open.set(view.id, found);
  return found;
}

function begin(view: PlanView, client: QueryClient): Store {
  let state = begun(view);
  let again: ReturnType<typeof setTimeout> | undefined;
  const listeners = new Set<() => void>();
  const beside = asksBeside(client, view.id);
  const act = (a: Action) => {
    const was = state;
    state = reduce(was, a);
    if (state === was) return;
    if (state.view !== was.view) client.setQueryData(keyOf(state.id), state.view);
    if (state.asked && state.asked !== was.asked) void answerTo(state.id, state.asked).then(act);
    if (state.asked && !was.asked) beside.stop();
    else if (was.asked && !state.asked && state.view === was.view) beside.goOn();
    if (state.judging && state.judging !== was.judging) void judgementOf(state.id, state.judging).then(act);
    if (state.unsent !== was.unsent) {
      clearTimeout(again);
      if (state.unsent) again = setTimeout(() => act({ kind: "retry" }), RETRY_MS);
    }
    if (state.queue !== was.queue) keep(state);
    for (const tell of listeners) tell();
  };
  const left = (e: BeforeUnloadEvent) => (["saving", "unsent"].includes(savingOf(state)) ? e.preventDefault() : null);
  window.addEventListener("beforeunload", left);
  const before = kept(view);
  if (before) act({ kind: "recall", kept: before, library: libraryNow() });
  return {
    get: () => state,
    act,
    subscribe: (f) => {
      listeners.add(f);
      return () => {
        listeners.delete(f);
        // Where nothing is on its way it begins anew with the plan as it is then.
        if (listeners.size === 0 && savingOf(state) === "saved") {
          open.delete(view.id);
          window.removeEventListener("beforeunload", left);
        }
      };
    },
  };
}

/** What is asked of a revision beside: while another is being saved nobody waits for it, nor need the save. */
function asksBeside(client: QueryClient, id: string) {
  const predicate = ({ queryKey: [what, of] }: Query) => of === id && what !== "plan";
  return {
    stop: () => void client.cancelQueries({ predicate, fetchStatus: "fetching" }),
    // Where nothing was saved it is wanted as before.
    goOn: () => {
      const left = (q: Query) => predicate(q) && q.state.data === undefined && q.state.fetchStatus === "idle";
      void client.refetchQueries({ predicate: left, type: "active" });
    },
  };
}

async function answerTo(id: string, ask: Ask): Promise<Action> {
  try {
    return { kind: "answered", ask, view: await asked(id, ask) };
  } catch (e) {
    const problem = asProblem(e);
    return { kind: "failed", ask, problem, moved: problem.type === OTHER };
  }
}

async function asked(id: string, ask: Ask): Promise<PlanView> {
  switch (ask.kind) {
    case "save": {
      const changes = changesOf(ask.base.plan, ask.plan);
      // What changes nothing is not sent; how the plan stands may have changed meanwhile.
      return nothing(changes) ? api.openSince(ask.base) : api.edit(ask.base, ask.revision, ask.key, changes);
    }
    case "step":
      return api.step(ask.base, ask.revision, ask.key, ask.which);
    case "open":
      return api.open(id);
    case "copy":
      return api.create({ kind: "file", plan: ask.plan as unknown as Record<string, unknown>, of: id });
  }
}

async function judgementOf(id: string, ask: Preview): Promise<Action> {
  try {
    return { kind: "judged", ask, answer: await api.preview(id, ask.base.revision, ask.index, ask.drop) };
  } catch (e) {
    return { kind: "misjudged", ask, problem: asProblem(e) };
  }
}

export function asProblem(e: unknown): Problem {
  if (e instanceof Refusal) return e.problem;
  throw e;
}

const under = (id: string) => `unsent ${id}`;

function keep(s: State) {
  const now = keptOf(s, libraryNow());
  try {
    if (now) localStorage.setItem(under(s.id), JSON.stringify(now));
    else localStorage.removeItem(under(s.id));
  } catch {
    // There is no room for it on this machine: it is sent all the same, and whoever leaves before is asked.
  }
}

/** What was kept of a plan; a page of an older build kept the plan whole. */
function kept(view: PlanView): Kept | null {
  try {
    const read = JSON.parse(localStorage.getItem(under(view.id)) ?? "null") as (Kept & { plan?: Plan }) | null;
    return read?.plan ? { ...read, edits: [{ key: keyed(), changes: changesOf(view.plan, read.plan) }] } : read;
  } catch {
    return null;
  }
}
