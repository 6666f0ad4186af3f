// Holding a point of a bench with the pointer: the scale stays still, a release is one edit, Escape takes it back.
import { type PointerEvent, useRef, useState } from "react";
import { useSession } from "../../state/plan";

const STEADY_PX = 3;

export function useHold(ideal: number) {
  const { commit, cancel } = useSession();
  const [held, setHeld] = useState(false);
  const frozen = useRef(ideal);
  const scale = held ? frozen.current : ideal;
  /** Handler for a point: ``move`` is told how far it went from where it was taken, in metres, out and up. */
  const grab = (move: (dx: number, dy: number) => void) => (e: PointerEvent<SVGGElement>) => {
    if (e.button !== 0) return;
    e.preventDefault();
    const target = e.currentTarget;
    target.setPointerCapture(e.pointerId);
    frozen.current = scale;
    setHeld(true);
    const from = [e.clientX, e.clientY] as const;
    let went = false;
    const moved = (m: globalThis.PointerEvent) => {
      const [dx, dy] = [m.clientX - from[0], m.clientY - from[1]];
      if (!went && Math.hypot(dx, dy) < STEADY_PX) return;
      went = true;
      move(dx / scale, -dy / scale);
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
  return { held, scale, grab };
}
