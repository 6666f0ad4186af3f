// Where in a plan a change lies: the step that shows it, and the drop; and which drops use a thing of the shed.
import type { Drop, Plan } from "./model";

export interface Where {
  step: "survey" | "shed" | "rig" | "descent" | "rehearse";
  drop: string;
}

const same = (a: unknown, b: unknown) => JSON.stringify(a) === JSON.stringify(b);

/** The first place where two plans differ, null where they do not. */
export function whereChanged(before: Plan, after: Plan): Where | null {
  if (same(before, after)) return null;
  if (!same([before.shed, before.party, before.own_figures], [after.shed, after.party, after.own_figures]))
    return { step: "shed", drop: "" };
  const were = new Map((before.drops ?? []).map((d) => [d.id, d]));
  for (const d of after.drops ?? []) {
    const was = were.get(d.id);
    if (!was) return { step: "survey", drop: d.id };
    if (!same(was, d)) return { step: stepOf(was, d), drop: d.id };
  }
  if ((before.drops ?? []).length !== (after.drops ?? []).length) return { step: "survey", drop: "" };
  return same(
    [before.title, before.place, before.notes, before.policies],
    [after.title, after.place, after.notes, after.policies],
  )
    ? { step: "descent", drop: "" }
    : { step: "shed", drop: "" };
}

function stepOf(was: Drop, now: Drop): Where["step"] {
  if (!same(was.station.through, now.station.through)) return "rehearse";
  if (!same(was.station, now.station)) return "rig";
  return same([was.onward, was.escape], [now.onward, now.escape]) ? "survey" : "descent";
}

/** The numbers of the drops that name a thing by its id, and the names of the people who have it. */
export function usersOf(plan: Plan, id: string): string[] {
  const names = (x: unknown) => JSON.stringify(x).includes(`"${id}"`);
  const drops = (plan.drops ?? []).flatMap((d, i) => (names(d.station) ? [`${i + 1}`] : []));
  const people = (plan.party ?? []).filter((p) => names(p)).map((p) => p.name);
  return [...(drops.length ? [`drop${drops.length > 1 ? "s" : ""} ${drops.join(", ")}`] : []), ...people];
}
