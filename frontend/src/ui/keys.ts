// Every key in one table: screens listen by it, and the help overlay is printed from it.
import { useLayoutEffect, useRef } from "react";

interface Row {
  /** What each key does, by the name of the act; several keys for one act are set apart by a space. */
  keys: Readonly<Record<string, string>>;
  does: string;
  /** How the keys are written where their names would not do. */
  written?: string;
}

const TABLE = [
  {
    keys: { survey: "1", shed: "2", rig: "3", descent: "4", rehearse: "5", card: "6", log: "7" },
    does: "Survey, Shed, Rig, Whole descent, Rehearse, Card, Log",
  },
  { keys: { find: "/" }, does: "find: plans, stations, people, kit, log, figures" },
  { keys: { nextDrop: "j", previousDrop: "k" }, does: "next drop, previous drop" },
  { keys: { undo: "Mod+z" }, written: "Ctrl Z", does: "undo" },
  { keys: { redo: "Mod+Shift+z" }, written: "Ctrl Shift Z", does: "redo" },
  { keys: { addDrop: "a" }, does: "add a drop after this one" },
  {
    keys: { path: "r", anchor: "w", patterns: "p", ropes: "s", ways: "v" },
    does: "in Rig: rock to rider, tied to, patterns, rope system, every way",
  },
  { keys: { pull: "l", inspections: "i", states: "c" }, does: "in Rig: pull, found in place, courtesy" },
  { keys: { flip: "x" }, does: "in Rig: pull the other side, where either works" },
  { keys: { nextWay: "n" }, does: "in Rig: the next rope system of the comparison" },
  { keys: { nextView: "b" }, does: "in Whole descent: the next view" },
  {
    keys: { previousMove: "ArrowLeft", nextMove: "ArrowRight" },
    written: "← →",
    does: "in Rehearse: the move before, the next",
  },
  {
    keys: { previousAct: ",", nextAct: "." },
    does: "in Rehearse: the act before, the next",
  },
  {
    keys: { previousPerson: "ArrowUp", nextPerson: "ArrowDown" },
    written: "↑ ↓",
    does: "in Rehearse: whose path is lit",
  },
  { keys: { firstAct: "Home", lastAct: "End" }, written: "Home End", does: "in Rehearse: first and last act" },
  {
    keys: { previousStation: "Shift+ArrowLeft", nextStation: "Shift+ArrowRight" },
    written: "Shift ← →",
    does: "in Rehearse: the station before, the next",
  },
  {
    keys: { nextHazard: "h", previousHazard: "H" },
    written: "H  Shift H",
    does: "in Rehearse: the next hazard, the last",
  },
  { keys: { breakNext: "b", breakNothing: "B" }, written: "B  Shift B", does: "in Rehearse: break a thing, nothing" },
  {
    keys: { tryFix: "g", takeFix: "Enter" },
    written: "G  Enter",
    does: "in Rehearse: try what ends a hazard, apply it",
  },
  {
    keys: { earlier: "[", later: "]", dropAct: "Delete" },
    written: "[  ]  Del",
    does: "in Rehearse: move an act, drop it",
  },
  { keys: { readAloud: " ", quiz: "q" }, written: "Space  Q", does: "in Rehearse: read aloud, ask" },
  {
    keys: { nextItem: "ArrowDown", previousItem: "ArrowUp" },
    written: "↑ ↓",
    does: "in Card: the item before, the next",
  },
  {
    keys: { agree: "g", object: "o", acceptIt: "e" },
    does: "in Card: agree with it, object to it, accept or overrule it",
  },
  { keys: { nextZoom: "z", nextPane: "v" }, does: "in Rehearse: zoom the time line, the next view" },
  { keys: { fit: "f" }, does: "fit the drawing" },
  { keys: { closer: "+ =", farther: "-" }, written: "+  −", does: "zoom the drawing" },
  // The handles of the drawing listen for these themselves.
  { keys: {}, written: "Tab, arrows", does: "choose a handle and move it 0.1 m, with Shift 1 m" },
  { keys: { close: "Escape" }, written: "Esc", does: "cancel a drag, close what is open" },
  { keys: { units: "m" }, does: "metric or US units" },
  { keys: { theme: "t" }, does: "day or headlamp theme" },
  { keys: { help: "?" }, does: "this list" },
] as const satisfies readonly Row[];

type Names<T> = T extends { keys: infer K } ? keyof K : never;
export type Act = Names<(typeof TABLE)[number]>;

const ROWS: readonly Row[] = TABLE;
/** Acts by their keys; one key may stand for several, each on a screen of its own. */
const ACTS = ROWS.flatMap((r) =>
  Object.entries(r.keys).flatMap(([act, keys]) =>
    (keys === " " ? [keys] : keys.split(" ")).map((key) => [key, act as Act] as const),
  ),
);

/** The table as the help overlay prints it. */
export const SHORTCUTS = ROWS.map((r) => ({
  keys: r.written ?? Object.values(r.keys).join("  ").toUpperCase(),
  does: r.does,
}));

/** The first key of an act, as it is written on a button's tip. */
export function keyOf(act: Act): string {
  return (ACTS.find(([, a]) => a === act)?.[0] ?? "").toUpperCase();
}

function typing(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable || ["INPUT", "SELECT", "TEXTAREA"].includes(target.tagName))
  );
}

/** Controls that are set and not written in: with Ctrl they have no keys of their own. */
const SET_ONLY = ["checkbox", "radio", "range", "color", "file", "button", "submit", "reset"];

/** Whether text is being written, which has an undo of its own until it is left. */
function writing(target: EventTarget | null): boolean {
  if (target instanceof HTMLSelectElement) return false;
  return typing(target) && !(target instanceof HTMLInputElement && SET_ONLY.includes(target.type));
}

/** Space and Enter belong to what has the focus, where it can be pressed; arrows to what moves by them. */
function taken(e: KeyboardEvent): boolean {
  if (!(e.target instanceof Element)) return false;
  if (e.key === " " || e.key === "Enter") return e.target.closest("button, a, summary") !== null;
  return e.key.length > 1 && e.target.closest("[data-own-keys]") !== null;
}

function pressed(e: KeyboardEvent): string {
  if (!(e.ctrlKey || e.metaKey)) return e.shiftKey && e.key.startsWith("Arrow") ? `Shift+${e.key}` : e.key;
  return `Mod+${e.shiftKey ? "Shift+" : ""}${e.key.toLowerCase()}`;
}

/** Listens for the keys of some acts, from when they are first seen, as long as nobody types and no dialog is open. */
export function useKeys(acts: Partial<Record<Act, () => void>>) {
  const now = useRef(acts);
  now.current = acts;
  useLayoutEffect(() => {
    const listen = (e: KeyboardEvent) => {
      const own = e.ctrlKey || e.metaKey ? writing(e.target) : typing(e.target);
      if (e.altKey || own || taken(e) || document.querySelector("dialog[open]")) return;
      const key = pressed(e);
      const act = ACTS.find(([k, a]) => k === key && now.current[a])?.[1];
      const run = act && now.current[act];
      if (!run) return;
      e.preventDefault();
      run();
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
