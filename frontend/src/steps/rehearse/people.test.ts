// Marks of people: no two alike, whatever they are called.
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { initials } from "./people";

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
