// The list of plans in an order, and those of it that are looked for.
import type { Counted, ListedPlan } from "../../api/types.gen";

const text = new Intl.Collator(undefined, { sensitivity: "base", numeric: true });
/** Shortfalls first, then what is not checked, then objections. */
const open = (p: ListedPlan) => {
  const parts = p.tally ? [p.tally.stations, p.tally.descent, p.tally.acts] : [];
  const sum = (of: (c: Counted["count"]) => number) => parts.reduce((n, x) => n + of(x.count), 0);
  return [sum((c) => c.open.Shortfall ?? 0), sum((c) => c.open["Not checked"] ?? 0), sum((c) => c.objections)] as const;
};

export const ORDERS = {
  "last saved": (a, b) => b.saved_at.localeCompare(a.saved_at),
  title: (a, b) => text.compare(a.title, b.title),
  place: (a, b) => text.compare(a.place, b.place) || text.compare(a.title, b.title),
  "date of the descent": (a, b) => (b.on ?? "").localeCompare(a.on ?? "") || text.compare(a.title, b.title),
  "what is open": (a, b) => {
    const [x, y] = [open(a), open(b)];
    return y[0] - x[0] || y[1] - x[1] || y[2] - x[2] || text.compare(a.title, b.title);
  },
} satisfies Record<string, (a: ListedPlan, b: ListedPlan) => number>;
export type Order = keyof typeof ORDERS;

/** Those whose title, place or date holds every word, in any order. */
export function found(plans: readonly ListedPlan[], wanted: string, aside: boolean): ListedPlan[] {
  const words = wanted.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  return plans.filter((p) => {
    const all = `${p.title} ${p.place} ${p.on ?? ""}`.toLocaleLowerCase();
    return (aside || !p.archived_at) && words.every((w) => all.includes(w));
  });
}
