// What changed, put into what was, is what is.
import { readFileSync, writeFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Changes, changed, changesOf, nothing, type Thing } from "./changes";

// The same examples each time, unless more are asked for.
const RUNS = Number(process.env.RUNS ?? 400);
const SEED = process.env.RUNS ? {} : { seed: 7 };
const leaf = fc.oneof(fc.integer({ max: 3, min: 0 }), fc.constantFrom("", "a", "b/c"), fc.constant(null), fc.boolean());
const thing = fc.record({ id: fc.constantFrom("a", "b", "c", "d"), v: leaf, more: fc.array(leaf, { maxLength: 2 }) });
const things = fc.uniqueArray(thing, { selector: (t) => t.id, maxLength: 4 });
const inner = fc.oneof(leaf, fc.array(leaf, { maxLength: 3 }), fc.record({ kind: fc.constantFrom("x", "y"), v: leaf }));
const whole = fc.record(
  {
    title: leaf,
    drops: things,
    shed: fc.record({ ropes: things, "odd/key": inner }),
    maybe: inner,
    ids: fc.dictionary(fc.string({ maxLength: 2 }), leaf),
  },
  { requiredKeys: ["title", "drops", "shed", "ids"] },
);

describe("changes", () => {
  it("lead from any value to any other, and tell nothing where nothing changed", () => {
    fc.assert(
      fc.property(whole, whole, (a, b) => {
        const changes = changesOf(a, b);
        expect(changed(a, JSON.parse(JSON.stringify(changes)) as Changes)).toEqual(b);
        expect(nothing(changesOf(a, structuredClone(a)))).toBe(true);
      }),
      { numRuns: RUNS, ...SEED },
    );
  });

  it("leave what did not change the same object, and send no more than the things that did", () => {
    fc.assert(
      fc.property(things, fc.nat(3), (drops, n) => {
        const a = { title: "t", drops: drops as (Thing & { v: unknown })[], shed: { ropes: drops } };
        const drop = a.drops[n];
        const b = { ...a, drops: a.drops.map((d) => (d === drop ? { ...d, v: "other" } : d)) };
        const changes = changesOf(a, b);
        expect(changes).toEqual({
          set: [],
          lists: drop ? [{ at: ["drops"], put: [{ ...drop, v: "other" }], order: null }] : [],
        });
        const made = changed(a, changes);
        expect(made.shed).toBe(a.shed);
        expect(made.drops.filter((d, i) => d === a.drops[i]).length).toBe(a.drops.length - (drop ? 1 : 0));
      }),
      { numRuns: RUNS, ...SEED },
    );
  });

  const pairs = process.env.PAIRS;
  it.runIf(pairs)("are made of pairs of plans, for the server to put in", () => {
    const lines = readFileSync(pairs!, "utf8").trim().split("\n");
    const made = lines.map((line) => JSON.parse(line) as [object, object]).map(([a, b]) => changesOf(a, b));
    writeFileSync(`${pairs}.changes`, made.map((c) => JSON.stringify(c)).join("\n"));
    expect(made.length).toBeGreaterThan(0);
  });

  const told = process.env.ANSWERS;
  it.runIf(told)("as the server tells them lead to what it tells as a whole", () => {
    for (const line of readFileSync(told!, "utf8").trim().split("\n")) {
      const { had, answer, whole } = JSON.parse(line) as { had: object; answer: Changes; whole: object };
      expect(changed(had, answer)).toEqual(whole);
    }
  });
});
