// What was typed and not saved yet, field by field: kept on this machine over another tab, a reload and Back.
const KEY = "typed";
const MOST = 200;

type Drafts = Record<string, string>;

function all(): Drafts {
  try {
    return (JSON.parse(localStorage.getItem(KEY) ?? "{}") as Drafts | null) ?? {};
  } catch {
    return {};
  }
}

/** A field's draft, null where there is none. */
export const draftOf = (key: string): string | null => all()[key] ?? null;

/** A draft of several inputs, null where there is none or it is not one of these. */
export function draftOfParts<T extends object>(key: string, parts: readonly (keyof T)[]): T | null {
  try {
    const read = JSON.parse(draftOf(key) ?? "null") as T | null;
    return read && parts.every((p) => typeof read[p] === "string") ? read : null;
  } catch {
    return null;
  }
}

/** Keeps what is typed in a field; null forgets it. Of too many the oldest go. */
export function keepDraft(key: string, text: string | null) {
  const { [key]: _, ...others } = all();
  const entries = Object.entries(text === null ? others : { ...others, [key]: text });
  localStorage.setItem(KEY, JSON.stringify(Object.fromEntries(entries.slice(-MOST))));
}
