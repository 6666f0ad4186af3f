// What each event is called, and the mark that stands for what comes of it.
import type { Cell } from "../../state/model";

export const EVENT_HEADS: readonly [string, string][] = [
  ["rope", "stuck"],
  ["rope", "lost"],
  ["anchor", "gone"],
  ["longer", "by"],
  ["wet", "rope"],
  ["all", "heavier"],
  ["rider", "hurt"],
  ["one", "short"],
  ["to the", "way out"],
];

export const EVENT_NAMES: Record<Cell["event"], string> = {
  stuck: "Rope stuck after the last is down",
  lost: "Any one rope lost or cut after the last is down",
  anchor: "The anchor is missing or condemned",
  longer: "The drop is longer than written",
  wet: "The rope is wet",
  heavier: "Everybody is heavier",
  hurt: "A rider is stuck or hurt on the rope",
  "one short": "One person short",
  dark: "Dark or the weather",
};

/** Drawn from −7 to 7; none where a question mark stands. */
export const MARK_PATHS: Record<Cell["mark"], string> = {
  works: "M-2.6 0a2.6 2.6 0 1 1 5.2 0a2.6 2.6 0 1 1 -5.2 0",
  "other way": "M-7 0h13m-5 -5l5 5l-5 5",
  "way off": "M-5 6v-9h11",
  strands: "M-5 -5l10 10m0 -10l-10 10",
  fails: "M-5 -5l10 10m0 -10l-10 10",
  "not checked": "",
  figure: "",
};

export const MARK_CLASS: Record<Cell["mark"], string> = {
  works: "quiet",
  figure: "",
  "other way": "",
  "way off": "sev-Caution",
  strands: "sev-Shortfall font-bold",
  fails: "sev-Shortfall font-bold",
  "not checked": "sev-Not-checked font-bold",
};

/** Minutes as hours and minutes. */
export function duration(minutes: number): string {
  const whole = Math.round(minutes);
  return `${Math.floor(whole / 60)}:${String(whole % 60).padStart(2, "0")}`;
}
