// Every shortcut in one list: the help overlay prints it, the frame listens by it.
export interface Shortcut {
  keys: string;
  does: string;
}

export const SHORTCUTS: readonly Shortcut[] = [
  { keys: "1 2 3", does: "Survey, Shed, Rig" },
  { keys: "J  K", does: "next drop, previous drop" },
  { keys: "Ctrl Z", does: "undo" },
  { keys: "Ctrl Shift Z", does: "redo" },
  { keys: "A", does: "add a drop after this one" },
  { keys: "R  W  P  S  V", does: "in Rig: rock to rider, tied to, patterns, rope system, every way" },
  { keys: "L  I  C", does: "in Rig: pull, found in place, courtesy" },
  { keys: "X", does: "in Rig: pull the other side, where either works" },
  { keys: "N", does: "in Rig: the next rope system of the comparison" },
  { keys: "F", does: "fit the drawing" },
  { keys: "+  −", does: "zoom the drawing" },
  { keys: "Tab, arrows", does: "choose a handle and move it 0.1 m, with Shift 1 m" },
  { keys: "Esc", does: "cancel a drag, close what is open" },
  { keys: "M", does: "metric or US units" },
  { keys: "T", does: "day or headlamp theme" },
  { keys: "?", does: "this list" },
];

export function typing(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && (target.isContentEditable || ["INPUT", "SELECT", "TEXTAREA"].includes(target.tagName));
}
