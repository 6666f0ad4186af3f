// What stays on the screen while it is asked anew: of the same thing, never of another.
import { describe, expect, it } from "vitest";
import { sameBefore } from "./same";

describe("what was told before", () => {
  const of = (key: readonly unknown[], was: readonly unknown[], parts?: number) =>
    sameBefore(key, parts)("told", { queryKey: was } as unknown as Parameters<ReturnType<typeof sameBefore>>[1]);

  it("stays of the same thing at another revision", () => {
    expect(of(["systems", "p", "now", "d1", 0], ["systems", "p", "before", "d1", 0])).toBe("told");
    expect(of(["grip", "p", "now", "d1", "ann", 0.5], ["grip", "p", "before", "d1", "ann", 0.4], 2)).toBe("told");
  });

  it("goes with another plan, station, state or person, and where nothing was asked", () => {
    const now = ["systems", "p", "now", "d1", 0];
    for (const was of [
      ["systems", "q", "now", "d1", 0],
      ["systems", "p", "now", "d2", 0],
      ["systems", "p", "now", "d1", 1],
      ["patterns", "p", "now", "d1", 0],
    ])
      expect(of(now, was)).toBeUndefined();
    expect(of(["grip", "p", "now", "d1", "ann", 0.5], ["grip", "p", "now", "d1", "ben", 0.5], 2)).toBeUndefined();
    expect(sameBefore(now)("told")).toBeUndefined();
  });
});
