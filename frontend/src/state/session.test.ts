// The session against a server that is slow, silent, refuses and is used by others too, in random order.
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { Drop, DropAssessment, Plan, PlanView, Problem } from "./model";
import {
  type Action,
  type Ask,
  begun,
  type Kept,
  keptOf,
  type Preview,
  reduce,
  type State,
  savingOf,
  type Which,
} from "./session";

// The same examples each time, unless more are asked for.
const RUNS = Number(process.env.RUNS ?? 400);
const SEED = process.env.RUNS ? {} : { seed: 7 };
const drop = (id: string, name = id) => ({ id, name }) as Drop;
const plan = (notes: string, drops: readonly Drop[]) => ({ title: "A gully", notes, drops }) as unknown as Plan;
const problem = (status: number, detail = "") =>
  ({ type: "about:blank", title: "", status, detail, errors: [], revision: null, since: [] }) as Problem;

/** A server with one plan: revisions, steps through them, and refusals. */
class Server {
  revision = 1;
  at = 0;
  history: Plan[] = [plan("", [drop("a"), drop("b"), drop("c")])];
  ever: Plan[] = [...this.history];
  copies: Plan[] = [];
  made = new Set<string>();
  /** How often others saved. */
  others = 0;

  view(): PlanView {
    const view = { id: "p", revision: this.revision, what: "edited", plan: this.history[this.at], others: this.others };
    return { ...view, can_undo: this.at > 0, can_redo: this.at < this.history.length - 1 } as unknown as PlanView;
  }
  /** What it answers, having done it. */
  take(ask: Ask): PlanView | Problem {
    if (ask.kind === "open") return this.view();
    if (ask.kind === "copy") {
      this.copies.push(ask.plan);
      return { id: "copy", revision: 1, plan: ask.plan } as unknown as PlanView;
    }
    if (this.made.has(ask.key)) return this.view();
    if (ask.revision !== this.revision) return problem(409, "made from an old revision");
    if (ask.kind === "step") {
      const to = this.at + (ask.which === "undo" ? -1 : 1);
      if (!this.history[to]) return problem(422, `nothing to ${ask.which}`);
      this.at = to;
    } else {
      if (ask.plan.title.startsWith("bad")) return problem(422, "no such title");
      this.save(ask.plan);
    }
    this.revision += 1;
    this.made.add(ask.key);
    return this.view();
  }
  save(made: Plan) {
    this.history = [...this.history.slice(0, this.at + 1), made];
    this.ever.push(made);
    this.at += 1;
  }
  other(token: string) {
    const now = this.history[this.at]!;
    this.save({ ...now, place: `${now.place ?? ""}${token}` });
    this.revision += 1;
    this.others += 1;
  }
}

const othersIn = (view: PlanView) => (view as unknown as { others: number }).others;

/** A page: its session, what is on its way, what is kept on the machine, and what happened to everything typed. */
class Page {
  state: State;
  kept: Kept | null = null;
  flying: Ask | null = null;
  judging: Preview | null = null;
  sent = new Set<Ask>();
  steps = 0;
  typed: string[] = [];
  given = new Set<string>();
  count = 0;
  /** How often others had saved in what each edit was made on, by its key. */
  seen = new Map<string, number>();
  stepped = false;
  /** Given up, for what others saved. */
  dropped: string[] = [];

  constructor(readonly server: Server) {
    this.state = begun(server.view());
  }
  /** Whatever comes twice counts once. */
  twice(a: Action) {
    this.act(a);
    const now = this.state;
    this.act(a);
    expect(this.state, "an answer counted twice").toBe(now);
  }
  act(a: Action) {
    const was = this.state;
    this.state = reduce(was, a);
    const s = this.state;
    if (s.asked && s.asked !== was.asked) {
      expect(this.flying, "one question at a time").toBeNull();
      expect(this.sent.has(s.asked), "nothing is sent twice").toBe(false);
      this.sent.add(s.asked);
      this.flying = s.asked;
    }
    if (s.judging && s.judging !== was.judging) {
      expect(s.judging.base, "a position judged in what is no longer there").toBe(s.view);
      expect(was.judging === null || a.kind === "judged" || a.kind === "misjudged", "two judged at once").toBe(true);
      this.judging = s.judging;
    }
    this.kept = keptOf(s, "lib");
    this.holds(was);
  }
  /** What must hold after whatever happened. */
  holds(was: State) {
    const s = this.state;
    const shown = s.queue.reduce((p, i) => (i.kind === "edit" ? i.make(p) : p), s.view.plan);
    expect(s.plan, "what is shown is what the server holds and what waits").toEqual(shown);
    expect(s.view.revision).toBeGreaterThanOrEqual(was.view.revision);
    if (s.draft)
      expect((s.draft.answer as unknown as { of: Drop }).of, "an answer to another position").toBe(s.draft.drop);
    if (s.judging) expect(s.judging.base.revision).toBeLessThanOrEqual(s.view.revision);
    const waits = s.queue.length > 0 || s.asked?.kind === "save" || s.asked?.kind === "step";
    if (s.unsent && !s.conflict) expect(savingOf(s)).toBe("unsent");
    if (savingOf(s) === "saved") expect(waits, "said to be saved while it is not").toBe(false);
    expect(s.conflict !== null, "told as a conflict").toBe(savingOf(s) === "conflict");
    if (s.conflict) {
      expect(
        s.queue.every((i) => i.kind === "edit"),
        "a step that meant another plan",
      ).toBe(true);
      const unseen = [othersIn(s.view), ...s.queue.map((i) => this.seen.get(i.key) ?? 0)];
      // What is kept over a reload was made without a step of one's own that was made unheard: it is asked about.
      if (!this.stepped) expect(Math.min(...unseen), "a conflict with nobody").toBeLessThan(this.server.others);
    }
    const sends = s.asked?.kind === "save" || s.asked?.kind === "step";
    expect(sends && (s.unsent !== null || s.conflict !== null), "sent though it waits").toBe(false);
    for (const t of this.dropped)
      expect(
        this.server.ever.some((p) => `${p.notes}`.includes(t)),
        `${t} was given up and is saved`,
      ).toBe(false);
    for (const t of this.typed) {
      const there = (p: Plan) => `${p.notes}${p.title}`.split(t).length - 1;
      expect(there(s.plan), `${t} is made twice`).toBeLessThanOrEqual(1);
      for (const p of this.server.ever) expect(there(p), `${t} is saved twice`).toBeLessThanOrEqual(1);
      const somewhere = [s.plan, ...this.server.ever, ...this.server.copies].some((p) => there(p) > 0);
      expect(somewhere || this.given.has(t), `${t} is lost`).toBe(true);
    }
  }
  step(which: Which) {
    this.act({ kind: "step", key: `${which} ${this.steps++}`, which });
  }
  edit(bad = false) {
    const token = `<${this.count++}>`;
    this.typed.push(token);
    if (bad) this.given.add(token);
    this.seen.set(token, othersIn(this.state.view));
    const make = (p: Plan): Plan => (bad ? { ...p, title: `bad ${token}` } : { ...p, notes: `${p.notes}${token}` });
    this.act({ kind: "edit", key: token, edits: [make] });
  }
  /** The answer to what is on its way comes, or does not. */
  answer(how: "well" | "lost before" | "lost after" | "broken" | "moved") {
    const ask = this.flying;
    if (!ask) return;
    this.flying = null;
    const before = this.server.made.size;
    const made = how === "well" || how === "lost after" ? this.server.take(ask) : null;
    if (ask.kind === "save" && this.server.made.size > before && this.seen.has(ask.key))
      expect(this.seen.get(ask.key), "put on what others saved without a word").toBe(this.server.others);
    if (how === "lost after" && ask.kind === "step") this.stepped = true;
    if (how === "well" && ask.kind === "open" && ask.why === "theirs")
      this.dropped.push(...this.state.queue.slice(0, ask.items).map((i) => i.key));
    // Whoever chose was told what others saved.
    if (how === "well" && ask.kind === "open")
      for (const i of this.state.queue) this.seen.set(i.key, this.server.others);
    if (how === "moved") this.twice({ kind: "failed", ask, problem: problem(409), moved: true });
    else if (how === "broken") this.twice({ kind: "failed", ask, problem: problem(500), moved: false });
    else if (how !== "well") this.twice({ kind: "failed", ask, problem: problem(0), moved: false });
    else if (made && "status" in made) {
      this.twice({ kind: "failed", ask, problem: made, moved: false });
      if (made.status === 422) expect(this.state.refused, "refused without a word").toBe(made);
    } else {
      this.twice({ kind: "answered", ask, view: made as PlanView });
      if (ask.kind === "copy") expect(this.state.conflict, "settled by a copy").toBeNull();
    }
  }
  /** The answer to the position that is being judged comes, or does not. */
  judge(how: "well" | "silent") {
    const ask = this.judging;
    if (!ask) return;
    this.judging = null;
    const old = ask.base.revision !== this.server.revision;
    const known = this.state.view.revision > ask.base.revision;
    if (how === "silent" || old) this.twice({ kind: "misjudged", ask, problem: problem(old ? 409 : 0) });
    else this.twice({ kind: "judged", ask, answer: { of: ask.drop } as unknown as DropAssessment });
    if (old && known && this.state.held) expect(this.state.judging, "a position that nobody judged").not.toBeNull();
  }
  settle(how: "theirs" | "mine" | "copy") {
    const s = this.state;
    if (!s.conflict || s.asked) return;
    const mine = s.queue.map((i) => i.key);
    if (how === "theirs") for (const t of mine) this.given.add(t);
    this.act({ kind: "settle", how });
  }
  /** The page is closed and opened again. */
  reload() {
    this.flying = null;
    this.state = begun(this.server.view());
    if (this.kept) this.act({ kind: "recall", kept: this.kept, library: "lib" });
  }
  /** Everything is in reach again, and whoever sits there wants their own. */
  quiet() {
    for (let n = 0; n < 60; n++) {
      if (this.flying) this.answer("well");
      else if (this.state.conflict) this.settle("mine");
      else if (this.state.unsent) this.act({ kind: "retry" });
      else return;
    }
    expect.fail("it never comes to rest");
  }
}

const HAPPENS = [
  ...["edit", "edit", "edit", "undo", "redo", "well", "well", "well", "lost before", "lost after", "broken"],
  ...["bad", "other", "moved", "retry", "reload", "theirs", "mine", "copy", "reads", "read", "dismiss"],
] as const;
const happenings = fc.array(fc.constantFrom(...HAPPENS), { maxLength: 40 });

describe("a session", () => {
  it("loses nothing, sends nothing twice and shows what is there, whatever happens in which order", () => {
    fc.assert(
      fc.property(happenings, (all) => {
        const server = new Server();
        const page = new Page(server);
        let read: PlanView | null = null;
        for (const what of all) {
          if (what === "edit") page.edit();
          else if (what === "bad") page.edit(true);
          else if (what === "undo" || what === "redo") page.step(what);
          else if (what === "other") server.other("~");
          else if (what === "retry" || what === "dismiss") page.act({ kind: what });
          else if (what === "reload") page.reload();
          else if (what === "theirs" || what === "mine" || what === "copy") page.settle(what);
          else if (what === "reads") read = server.view();
          else if (what === "read") read && page.act({ kind: "opened", view: read });
          else page.answer(what);
        }
        page.quiet();
        expect(savingOf(page.state)).toBe("saved");
        page.act({ kind: "opened", view: server.view() });
        expect(page.state.plan).toEqual(server.view().plan);
      }),
      { numRuns: RUNS, ...SEED },
    );
  });

  it("settles a conflict for what was chosen, and keeps what is typed meanwhile", () => {
    const after = [
      "edit",
      "well",
      "well",
      "theirs",
      "mine",
      "copy",
      "lost before",
      "lost after",
      "other",
      "retry",
      "look",
    ];
    fc.assert(
      fc.property(fc.boolean(), fc.array(fc.constantFrom(...after), { maxLength: 14 }), (told, all) => {
        const page = new Page(new Server());
        page.edit();
        page.server.other("~");
        // Told by the server, or while it was silent by a look at what stands there.
        page.answer(told ? "well" : "lost before");
        if (told) expect(savingOf(page.state)).toBe("conflict");
        else page.act({ kind: "opened", view: page.server.view() });
        for (const what of all) {
          if (what === "edit") page.edit();
          else if (what === "other") page.server.other("~");
          else if (what === "retry") page.act({ kind: "retry" });
          else if (what === "look") page.act({ kind: "opened", view: page.server.view() });
          else if (what === "theirs" || what === "mine" || what === "copy") page.settle(what);
          else page.answer(what as "well");
        }
        page.quiet();
        page.act({ kind: "opened", view: page.server.view() });
        expect(page.state.plan).toEqual(page.server.view().plan);
      }),
      { numRuns: RUNS, ...SEED },
    );
  });

  it("makes one copy, however often it is chosen, and edits the plan itself no more but by what is typed since", () => {
    const page = new Page(new Server());
    page.edit();
    page.server.other("~");
    page.answer("well");
    page.settle("copy");
    const asked = page.state.asked;
    for (const how of ["theirs", "copy"] as const) page.act({ kind: "settle", how });
    expect(page.state.asked).toBe(asked);
    page.answer("well");
    const since = page.state.queue.length;
    page.edit();
    expect([since, page.state.queue.length, page.server.copies.map((c) => c.notes)]).toEqual([0, 1, ["<0>"]]);
  });

  it("sends what was kept over a reload as it was made", () => {
    const page = new Page(new Server());
    page.edit();
    page.edit();
    page.answer("lost after");
    page.reload();
    page.quiet();
    expect([page.server.view().plan.notes, page.server.revision]).toEqual(["<0><1>", 3]);
    page.edit();
    page.server.other("~");
    page.reload();
    page.flying = null;
    page.reload();
    page.answer("well");
    expect(savingOf(page.state)).toBe("conflict");
    page.settle("mine");
    page.quiet();
    expect(page.server.view().plan.notes).toBe("<0><1><2>");
    const kept: Kept = { library: "another", revision: page.server.revision, edits: [] };
    const changes = { set: [{ at: ["notes"], value: "from another library" }], lists: [] };
    page.act({ kind: "recall", kept: { ...kept, edits: [{ key: "k", changes }] }, library: "lib" });
    expect([savingOf(page.state), page.flying]).toEqual(["conflict", null]);
  });

  it("takes no step back for what was refused", () => {
    const page = new Page(new Server());
    page.edit();
    page.edit();
    page.quiet();
    page.edit(true);
    page.step("undo");
    page.quiet();
    expect(page.server.view().plan.notes).toBe("<0><1>");
    page.step("undo");
    page.quiet();
    expect(page.server.view().plan.notes).toBe("<0>");
  });

  it("shows of a drag only answers to their own positions, saves the last and none that was let go", () => {
    const drags = ["move", "move", "move", "judged", "judged", "unheard", "drop", "cancel", "edit", "well", "other"];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...drags), { maxLength: 30 }), (all) => {
        const server = new Server();
        const page = new Page(server);
        const dropped = new Set(["a"]);
        let n = 0;
        let held = "";
        for (const what of all) {
          const s = page.state;
          if (what === "move") {
            held = `at ${n++}`;
            page.act({ kind: "propose", drop: drop("a", held), index: 0 });
          } else if (what === "judged") page.judge("well");
          else if (what === "unheard") page.judge("silent");
          else if (what === "drop") {
            if (held) dropped.add(held);
            page.act({ kind: "commit", key: `drag ${n}` });
            expect(page.state.held).toBeNull();
            held = "";
          } else if (what === "cancel") {
            page.act({ kind: "cancel" });
            held = "";
            expect([page.state.draft, page.state.judging]).toEqual([null, null]);
          } else if (what === "edit") page.edit();
          else if (what === "other") server.other("~");
          else page.answer("well");
          if (what !== "cancel" && s.held)
            expect(page.state.draft === null && s.draft !== null && held !== "").toBe(false);
        }
        if (page.state.held) page.act({ kind: "cancel" });
        page.quiet();
        const names = server.ever.map((p) => p.drops?.find((d) => d.id === "a")?.name ?? "");
        expect(new Set(names)).toEqual(dropped);
        expect(page.state.draft).toBeNull();
      }),
      { numRuns: RUNS, ...SEED },
    );
  });

  it("saves and steps in the order in which they were asked for", () => {
    const steps = fc.array(fc.constantFrom("edit", "edit", "undo", "redo", "well", "lost before", "lost after"));
    fc.assert(
      fc.property(steps, (all) => {
        const page = new Page(new Server());
        const past: string[] = [""];
        let at = 0;
        for (const what of all) {
          if (what === "edit") {
            past.splice(at + 1, past.length, `${past[at]}<${page.count}>`);
            at += 1;
            page.edit();
          } else if (what === "undo" || what === "redo") {
            at = Math.max(0, Math.min(past.length - 1, at + (what === "undo" ? -1 : 1)));
            page.step(what);
          } else page.answer(what as "well");
        }
        page.quiet();
        expect(page.state.plan.notes).toBe(past[at]);
        expect(page.state.conflict).toBeNull();
        expect(page.state.refused).toBeNull();
      }),
      { numRuns: RUNS, ...SEED },
    );
  });
});
