// Dragging and zooming the drawing itself.
import { type PointerEvent, useRef } from "react";
import type { Point } from "../state/model";
import type { View } from "./view";

export function usePan(v: View, set: (v: View) => void) {
  const from = useRef<{ at: Point; view: View } | null>(null);
  return {
    onPointerDown: (e: PointerEvent<SVGSVGElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      from.current = { at: [e.clientX, e.clientY], view: v };
    },
    onPointerMove: (e: PointerEvent<SVGSVGElement>) => {
      const f = from.current;
      if (f && Math.hypot(e.clientX - f.at[0], e.clientY - f.at[1]) > 3) {
        set({ ...f.view, ox: f.view.ox + e.clientX - f.at[0], oy: f.view.oy + e.clientY - f.at[1] });
      }
    },
    onPointerUp: () => {
      from.current = null;
    },
    onPointerCancel: () => {
      from.current = null;
    },
  };
}
