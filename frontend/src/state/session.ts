// An open plan as one value and what may happen to it: edits made, sent, answered, refused, kept, undone. No React and
// no network: what is to be asked of the server stands in the state, and its answer comes as an action.
import { alike, type Changes, changed, changesOf } from "./changes";
import { type PlanEdit, replaceDrop } from "./edits";
import type { Drop, DropAssessment, Plan, PlanView, Problem } from "./model";
import { type Where, whereChanged } from "./where";

export type Which = "undo" | "redo";
export interface Draft {
  drop: Drop;
  answer: DropAssessment;
}
/** What was done last, in words, with where it lies; ``offer``: what is offered to take it back. */
export interface Done {
  text: string;
  where: Where | null;
  offer: Which | "";
}
/** What waits for the server, oldest first: an edit, or a step back or forward. By its key the server knows one that it
 * has made already. */
export type Item = { key: string } & ({ kind: "edit"; make: PlanEdit } | { kind: "step"; which: Which });

/** One question to the server. ``save``: the first edit of the queue, alone: each is a revision and undone by itself;
 * ``open``: the newest revision, to go on from it as it is or with one's own edits on it; ``items``: how many
 * waited when it was chosen what becomes of them. */
export type Ask =
  | { kind: "save"; base: PlanView; revision: number; plan: Plan; key: string }
  | { kind: "step"; base: PlanView; revision: number; which: Which; key: string }
  | { kind: "open"; why: "theirs" | "mine"; items: number }
  | { kind: "copy"; plan: Plan; items: number };
/** Where a drag's drop is to be judged: one such question is under way, and the newest position wins. */
export interface Preview {
  base: PlanView;
  drop: Drop;
  index: number;
}

export interface State {
  id: string;
  /** What the server holds, as far as it is known. */
  view: PlanView;
  queue: readonly Item[];
  /** The revision that what waits was made from, where that is not the view's. */
  since: number | null;
  /** The plan with every edit of the queue. */
  plan: Plan;
  asked: Ask | null;
  /** Why nothing can be sent; it is tried again. */
  unsent: Problem | null;
  /** What was said when somebody else had saved: nothing is sent until it is settled whose counts. */
  conflict: Problem | null;
  refused: Problem | null;
  /** The other plan that one's own edits were kept as. */
  copied: string | null;
  done: Done | null;
  draft: Draft | null;
  /** The newest position under the pointer, what is still to be judged, and what is being. */
  held: Drop | null;
  wanted: { drop: Drop; index: number } | null;
  judging: Preview | null;
}

export type Action =
  | { kind: "opened"; view: PlanView }
  | { kind: "edit"; edits: readonly PlanEdit[]; key: string }
  | { kind: "step"; which: Which; key: string }
  | { kind: "retry" }
  | { kind: "settle"; how: "theirs" | "mine" | "copy" }
  | { kind: "recall"; kept: Kept; library: string }
  | { kind: "answered"; ask: Ask; view: PlanView }
  | { kind: "failed"; ask: Ask; problem: Problem; moved: boolean }
  | { kind: "propose"; drop: Drop; index: number }
  | { kind: "judged"; ask: Preview; answer: DropAssessment }
  | { kind: "misjudged"; ask: Preview; problem: Problem }
  | { kind: "commit"; key: string }
  | { kind: "cancel" }
  | { kind: "dismiss" }
  | { kind: "tell"; done: Done | null };

/** What is kept on this machine of what is not acknowledged: what each edit changed, since a revision, by its key. */
export interface Kept {
  library: string;
  revision: number;
  edits: readonly { key: string; changes: Changes }[];
}

/** A plan just opened, with nothing done to it. */
export function begun(view: PlanView): State {
  return {
    id: view.id,
    view,
    queue: [],
    since: null,
    plan: view.plan,
    asked: null,
    unsent: null,
    conflict: null,
    refused: null,
    copied: null,
    done: null,
    draft: null,
    held: null,
    wanted: null,
    judging: null,
  };
}

/** What of a state is to outlast a reload, null where all of it is with the server. */
export function keptOf(s: State, library: string): Kept | null {
  const edits: Kept["edits"][number][] = [];
  s.queue.reduce((plan, i) => {
    if (i.kind === "step") return plan;
    const after = i.make(plan);
    edits.push({ key: i.key, changes: changesOf(plan, after) });
    return after;
  }, s.view.plan);
  return edits.length > 0 ? { library, revision: s.since ?? s.view.revision, edits } : null;
}

/** How it stands with what was done: one word for the bar. */
export function savingOf(s: State): "saved" | "saving" | "unsent" | "conflict" {
  if (s.conflict) return "conflict";
  if (s.unsent) return "unsent";
  return s.queue.length > 0 || (s.asked && s.asked.kind !== "open") ? "saving" : "saved";
}

const made = (plan: Plan, queue: readonly Item[]) => queue.reduce((p, i) => (i.kind === "edit" ? i.make(p) : p), plan);

/** Puts the state in order after anything that changed it: the plan that is shown, and the next question. */
function settled(s: State): State {
  const next = asking({ ...s, plan: made(s.view.plan, s.queue) });
  if (next.judging || !next.wanted) return next;
  return { ...next, judging: { ...next.wanted, base: next.view }, wanted: null };
}

function asking(s: State): State {
  const [first] = s.queue;
  if (!first || s.asked || s.unsent || s.conflict) return s;
  const revision = s.since ?? s.view.revision;
  if (first.kind === "step") {
    const can = first.which === "undo" ? s.view.can_undo : s.view.can_redo;
    if (!can) return asking({ ...s, queue: s.queue.slice(1) });
    return { ...s, asked: { ...first, base: s.view, revision } };
  }
  return { ...s, asked: { kind: "save", base: s.view, revision, plan: first.make(s.view.plan), key: first.key } };
}

/** The state after an action. */
export function reduce(s: State, a: Action): State {
  switch (a.kind) {
    case "opened":
      return opened(s, a.view);
    case "edit": {
      const make: PlanEdit = (plan) => a.edits.reduce((p, e) => e(p), plan); // all of it or nothing
      return settled({ ...s, queue: [...s.queue, { kind: "edit", key: a.key, make }], refused: null, done: null });
    }
    case "step":
      if (s.conflict) return s;
      return settled({ ...s, queue: [...s.queue, a], refused: null });
    case "retry":
      return settled({ ...s, unsent: null });
    case "settle":
      return settle(s, a.how);
    case "recall":
      return recalled(s, a.kept, a.library);
    case "answered":
      return a.ask === s.asked ? answered({ ...s, asked: null }, a.ask, a.view) : s;
    case "failed":
      return a.ask === s.asked ? failed({ ...s, asked: null }, a.ask, a.problem, a.moved) : s;
    case "propose":
      return settled({ ...s, held: a.drop, wanted: { drop: a.drop, index: a.index } });
    case "judged":
    case "misjudged":
      return a.ask === s.judging ? judged({ ...s, judging: null }, a) : s;
    case "commit": {
      // What is saved is the newest position asked for; if it is refused the saved plan stays.
      const released = { ...s, held: null, wanted: null, judging: null };
      return s.held ? reduce(released, { kind: "edit", key: a.key, edits: [replaceDrop(s.held)] }) : released;
    }
    case "cancel":
      return { ...s, held: null, wanted: null, judging: null, draft: null, refused: null };
    case "dismiss":
      return { ...s, refused: null, copied: null };
    case "tell":
      return { ...s, done: a.done };
  }
}

/** The plan as it stands was read: nothing that waits is put on what somebody else saved without a word. */
function opened(s: State, view: PlanView): State {
  if (view === s.view || view.revision < s.view.revision) return s;
  if (view.revision === s.view.revision || s.queue.length === 0) return settled({ ...s, view });
  // What is on its way will be refused, or is what was saved; what waits may have been made already.
  return s;
}

const elsewhere = (view: PlanView, detail: string): Problem => ({
  type: "about:blank",
  title: "Conflict",
  status: 409,
  detail,
  errors: [],
  revision: view.revision,
  since: [],
});

/** The state at a newer revision, of which the first of the queue is part. */
const taken = (s: State, view: PlanView): State => ({
  ...s,
  view: view.revision < s.view.revision ? s.view : view,
  queue: s.queue.slice(1),
  since: null,
  draft: s.held ? s.draft : null,
});

function answered(s: State, ask: Ask, view: PlanView): State {
  switch (ask.kind) {
    case "save":
      return settled(upheld(taken(s, view), ask.revision, view));
    case "step":
      return settled(upheld({ ...taken(s, view), done: stepDone(ask, view) }, ask.revision, view));
    case "copy":
      return settled({
        ...s,
        queue: s.queue.slice(ask.items),
        since: null,
        conflict: null,
        draft: null,
        copied: view.id,
      });
    case "open":
      return settledAs(s, ask, view);
  }
}

/** What still waits was made without what somebody else saved between: it is not put on that without a word. */
function upheld(s: State, since: number, view: PlanView): State {
  if (view.revision <= since + 1 || s.queue.length === 0) return s;
  const made = contested(s, elsewhere(view, "The plan was saved elsewhere while edits waited here."));
  return made.queue.length > 0 ? made : { ...made, conflict: null, refused: made.conflict };
}

/** Somebody else saved: what waits is asked about, but a step, which meant the plan as it was here. */
const contested = (s: State, conflict: Problem): State => ({
  ...s,
  queue: s.queue.filter((i) => i.kind === "edit"),
  conflict,
});

function stepDone(ask: Extract<Ask, { kind: "step" }>, view: PlanView): Done {
  const back = ask.which === "undo";
  const what = view.what.replace(/^(?:(?:undo|redo): )+/, "");
  return {
    text: `${back ? "Undone" : "Done again"}: ${what}`,
    where: whereChanged(ask.base.plan, view.plan),
    offer: back && view.can_redo ? "redo" : !back && view.can_undo ? "undo" : "",
  };
}

function failed(s: State, ask: Ask, problem: Problem, moved: boolean): State {
  const silent = problem.status === 0 || problem.status >= 500;
  switch (ask.kind) {
    case "open":
    case "copy":
      return settled({ ...s, refused: problem });
    case "step":
    case "save":
      if (moved || silent) return settled({ ...s, unsent: problem });
      if (problem.status === 409) return settled(contested(s, problem));
      return settled({ ...dropped(s), refused: problem, draft: s.held ? s.draft : null });
  }
}

/** The first of the queue is refused for good; a step back that was meant for an edit goes with it. */
function dropped(s: State): State {
  const [first, next] = s.queue;
  const gone = first?.kind === "edit" && next?.kind === "step" && next.which === "undo" ? 2 : 1;
  return { ...s, queue: s.queue.slice(gone) };
}

function settle(s: State, how: "theirs" | "mine" | "copy"): State {
  if (!s.conflict || s.asked) return s;
  if (how !== "copy") return { ...s, asked: { kind: "open", why: how, items: s.queue.length } };
  const title = `${s.plan.title.slice(0, 66)} (my version)`;
  return { ...s, asked: { kind: "copy", plan: { ...s.plan, title }, items: s.queue.length } };
}

/** The newest revision is there, and it was said whose counts. */
function settledAs(s: State, ask: Extract<Ask, { kind: "open" }>, newest: PlanView): State {
  const view = newest.revision < s.view.revision ? s.view : newest;
  const on = { ...s, view, since: null, conflict: null, draft: null, held: null, wanted: null, judging: null };
  if (ask.why === "theirs") return settled({ ...on, queue: s.queue.slice(ask.items) });
  if (s.queue.length === 0 || !alike(made(view.plan, s.queue), view.plan)) return settled(on);
  const detail =
    "What your edit changed is no longer in the newest revision, or already is as you wanted it; nothing was changed.";
  return settled({ ...on, queue: [], refused: elsewhere(view, detail) });
}

/** What could not be sent before this page was left is sent now, or offered where somebody else saved meanwhile. */
function recalled(s: State, kept: Kept, library: string): State {
  const edits = kept.edits.map((e): Item => ({ kind: "edit", key: e.key, make: (plan) => changed(plan, e.changes) }));
  if (alike(made(s.view.plan, edits), s.view.plan)) return s;
  const on = { ...s, queue: [...s.queue, ...edits] };
  // Where another revision stands by now, the server tells whether they are in it.
  if (kept.library === library) return settled({ ...on, since: kept.revision });
  const detail = "Edits that could not be sent were kept on this machine, but the plan was saved elsewhere meanwhile.";
  return settled({ ...on, conflict: elsewhere(s.view, detail) });
}

/** A position was judged, or could not be: it counts while the drag goes on or its edit is on its way. */
function judged(s: State, a: Extract<Action, { kind: "judged" | "misjudged" }>): State {
  if (a.kind === "judged") return settled({ ...s, draft: { drop: a.ask.drop, answer: a.answer }, refused: null });
  // A save was answered while it was asked: it is asked again of what stands now.
  if (a.problem.status === 409 && a.ask.base.revision < s.view.revision && !s.wanted)
    return settled({ ...s, wanted: { drop: a.ask.drop, index: a.ask.index } });
  return settled({ ...s, refused: a.problem });
}
