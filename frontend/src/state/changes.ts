// What differs between two values of one shape, by field and by thing, and putting it into the first: how edits travel
// to the server and answers back. A thing is what has an id in a list; it travels whole.

export interface Thing {
  id: string;
}
type At = readonly string[];
/** ``set``: new values with the keys that lead to each. ``lists``: of lists of things, those that are new or other, and
 * the ids of all where they are not the same ones in the same order. */
export interface Changes {
  set: readonly { at: At; value: unknown }[];
  lists: readonly { at: At; put: readonly Thing[]; order: readonly string[] | null }[];
}

type Fields = Readonly<Record<string, unknown>>;
const isFields = (v: unknown): v is Fields => typeof v === "object" && v !== null && !Array.isArray(v);
const isThings = (v: unknown): v is readonly Thing[] =>
  Array.isArray(v) &&
  v.every((t) => isFields(t) && typeof t.id === "string") &&
  new Set(v.map((t: Thing) => t.id)).size === v.length;

/** Of two of other kinds one is no part of the other: such a value travels whole. */
function sameKeys(a: Fields, b: Fields): boolean {
  const keys = Object.keys(a);
  return keys.length === Object.keys(b).length && keys.every((k) => k in b);
}

/** Whether two values are alike; what is the same object is not looked into. */
export function alike(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (Array.isArray(a) && Array.isArray(b)) return a.length === b.length && a.every((x, i) => alike(x, b[i]));
  if (!isFields(a) || !isFields(b)) return false;
  return sameKeys(a, b) && Object.keys(a).every((k) => alike(a[k], b[k]));
}

/** Whether two values have the same fields, each the very same. */
export const shallow = <T extends object>(a: T, b: T): boolean =>
  sameKeys(a as Fields, b as Fields) && (Object.keys(a) as (keyof T)[]).every((k) => Object.is(a[k], b[k]));

/** What changed from one value to another of the same shape. */
export function changesOf<T extends object>(before: T, after: T): Changes {
  const set: { at: At; value: unknown }[] = [];
  const lists: { at: At; put: readonly Thing[]; order: readonly string[] | null }[] = [];
  const walk = (a: unknown, b: unknown, at: At) => {
    if (a === b) return;
    if (isThings(a) && isThings(b)) {
      const had = new Map(a.map((t) => [t.id, t]));
      const put = b.filter((t) => !alike(had.get(t.id), t));
      const moved = a.length !== b.length || a.some((t, i) => t.id !== b[i]?.id);
      if (put.length > 0 || moved) lists.push({ at, put, order: moved ? b.map((t) => t.id) : null });
    } else if (isFields(a) && isFields(b) && sameKeys(a, b)) {
      for (const [k, v] of Object.entries(b)) walk(a[k], v, [...at, k]);
    } else if (!alike(a, b)) set.push({ at, value: b });
  };
  walk(before, after, []);
  return { set, lists };
}
/** Whether nothing is in them. */
export const nothing = (c: Changes) => c.set.length + c.lists.length === 0;

/** A value with what changed put into it; whatever did not change stays the same object. */
export function changed<T extends object>(value: T, { set, lists }: Changes): T {
  const fields = set.reduce<unknown>((v, s) => putAt(v, s.at, () => s.value), value);
  return lists.reduce<unknown>((v, l) => putAt(v, l.at, (had) => listed(had, l)), fields) as T;
}

function listed(had: unknown, { put, order }: Changes["lists"][number]): readonly Thing[] {
  const by = new Map((isThings(had) ? had : []).map((t) => [t.id, t]));
  for (const t of put) by.set(t.id, t);
  return (order ?? [...by.keys()]).flatMap((id) => by.get(id) ?? []);
}

function putAt(at: unknown, [key, ...rest]: At, make: (had: unknown) => unknown): unknown {
  if (key === undefined) return make(at);
  const fields = isFields(at) ? at : {};
  return { ...fields, [key]: putAt(fields[key], rest, make) };
}
