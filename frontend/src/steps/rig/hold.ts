// Moving a point of a bench: held with the pointer the scale stays still, a release is one edit, Escape takes it back;
// an arrow key is one edit of 0.1 m, with Shift of 1 m.
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import { inState } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { useWhich } from "../../state/which";

const STEADY_PX = 3;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
};
/** What becomes of the drop when a point goes so far out and up, in metres; null where it cannot go that way. */
export type Move = (dx: number, dy: number) => ((drop: Drop) => Drop) | null;
/** What holds: pixels a metre while it does, and the listeners of what is held. */
export type Hold = ReturnType<typeof useHold>;

export function useHold(drop: Drop, index: number, ideal: number) {
  const { plan, propose, commit, cancel } = useSession();
  const which = useWhich();
  const [held, setHeld] = useState(false);
  const frozen = useRef(ideal);
  const scale = held ? frozen.current : ideal;
  const base = () => plan.drops?.find((d) => d.id === drop.id) ?? drop;
  const put = (from: Drop, change: (drop: Drop) => Drop) => propose(inState(from, which, change), index);
  const keyed = (move: Move) => (e: KeyboardEvent) => {
    const [x, y] = ARROWS[e.key] ?? [0, 0];
    const by = e.shiftKey ? 1 : 0.1;
    const change = x || y ? move(x * by, y * by) : null;
    if (!change) return;
    e.preventDefault();
    e.stopPropagation();
    put(base(), change);
    commit();
  };
  const grab = (move: Move) => (e: PointerEvent<SVGGElement>) => {
    if (e.button !== 0) return;
    e.preventDefault();
    const target = e.currentTarget;
    target.setPointerCapture(e.pointerId);
    frozen.current = scale;
    setHeld(true);
    const start = base();
    const from = [e.clientX, e.clientY] as const;
    let went = false;
    const moved = (m: globalThis.PointerEvent) => {
      const [dx, dy] = [m.clientX - from[0], m.clientY - from[1]];
      if (!went && Math.hypot(dx, dy) < STEADY_PX) return;
      went = true;
      const change = move(dx / scale, -dy / scale);
      if (change) put(start, change);
    };
    const end = (keep: boolean) => {
      target.removeEventListener("pointermove", moved as EventListener);
      target.removeEventListener("pointerup", release);
      target.removeEventListener("pointercancel", abandon);
      window.removeEventListener("keydown", onEscape, true);
      setHeld(false);
      if (keep && went) commit();
      else cancel();
    };
    const release = () => end(true);
    const abandon = () => end(false);
    const onEscape = (k: globalThis.KeyboardEvent) => {
      if (k.key === "Escape") {
        k.stopPropagation();
        end(false);
      }
    };
    target.addEventListener("pointermove", moved as EventListener);
    target.addEventListener("pointerup", release);
    target.addEventListener("pointercancel", abandon);
    window.addEventListener("keydown", onEscape, true);
  };
  return { held, scale, grab, keyed };
}
