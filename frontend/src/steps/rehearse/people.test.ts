// Marks of people: no two alike, whatever they are called.
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import type { PersonShown } from "../../api/types.gen";
import { initials, MARK, stand } from "./people";

describe("letters of marks", () => {
  it("are unlike each other, short, and begin as the name does", () => {
    const name = fc.constantFrom(
      "Guide",
      "Guest A",
      "Guest B",
      "Gu",
      "g",
      "Maren",
      "Mara",
      "Mar",
      "Tove",
      "Örn",
      " ",
      "7",
    );
    fc.assert(
      fc.property(fc.array(name, { maxLength: 10 }), (names) => {
        const made = initials(names);
        expect(new Set(made).size).toBe(names.length);
        names.forEach((n, i) => {
          expect(made[i]!.length).toBeLessThanOrEqual(n.trim() && names.length < 10 ? 2 : 3);
          expect(made[i]![0]).toBe(n.trim() ? n.trim()[0]!.toUpperCase() : "?");
        });
      }),
    );
    expect(initials(["Guide", "Second", "Guest A", "Guest B"])).toEqual(["G1", "S", "G2", "G3"]);
    expect(initials(["Maren", "Mara"])).toEqual(["Me", "Ma"]);
  });
});

describe("marks of people", () => {
  it("never lie over each other, in a window however narrow", () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 8 }),
        fc.integer({ min: 20, max: 700 }),
        fc.integer({ min: 60, max: 900 }),
        fc.constantFrom("station", "landing"),
        (many, x, width, place) => {
          const people = Array.from({ length: many }, (_, i) => ({ who: `p${i}`, place, links: [] }));
          const line = [[x, 40] as const, [x + 10, 300] as const];
          const made = stand(people as unknown as PersonShown[], line as never, width);
          made.forEach((a, i) => {
            made.slice(i + 1).forEach((b) => {
              expect(Math.hypot(a.at[0] - b.at[0], a.at[1] - b.at[1])).toBeGreaterThan(2 * MARK);
            });
          });
        },
      ),
    );
  });
});
