// A handle held by the pointer or moved by the arrow keys, and its mark.
import { type KeyboardEvent, type PointerEvent, useEffect, useRef, useState } from "react";
import { spoken } from "../say";
import { inState } from "../state/edits";
import type { Drop, DropAssessment, Point } from "../state/model";
import { useDragging, useSession } from "../state/plan";
import { usePrefs } from "../state/prefs";
import { useWhich } from "../state/which";
import { type Handle, ringReach, setGain } from "./handles";
import type { View } from "./view";

const STEADY_PX = 4;

const SETTLE_MS = 500;

interface Drag {
  held: string | null;
  frozen: View | null;
  shift: (v: View, g: DropAssessment["geometry"]) => View;
  down: (h: Handle, e: PointerEvent) => void;
  key: (h: Handle, e: KeyboardEvent) => void;
  blur: () => void;
}

/** A drag is one edit, made on release; Escape cancels it. Arrow keys move a handle and settle after a moment. */
export function useDrag(a: DropAssessment, drop: Drop, index: number, view: View | null): Drag {
  const { propose, commit, cancel, plan, saving } = useSession();
  const dragging = useDragging();
  const which = useWhich();
  const [held, setHeld] = useState<string | null>(null);
  const [frozen, setFrozen] = useState<View | null>(null);
  const still = useRef<{ index: number; at: Point } | null>(null);
  const keyed = useRef<{ id: string; drop: Drop; handle: Handle; dx: number; dz: number; timer: number } | null>(null);
  const latest = useRef(view);
  latest.current = view ?? latest.current;

  // After the release the view stays until the saved answer has come.
  useEffect(() => {
    if (!held && !dragging && saving !== "saving") {
      setFrozen(null);
      still.current = null;
    }
  }, [held, dragging, saving]);

  const start = (h: Handle) => {
    setHeld(h.id);
    setFrozen(latest.current);
    const t = h.still === undefined ? undefined : a.geometry.terrain[h.still];
    still.current = t && h.still !== undefined ? { index: h.still, at: [t.x_m, t.z_m] } : null;
  };
  const down = (h: Handle, e: PointerEvent) => {
    if (e.button !== 0 || !latest.current) return;
    e.preventDefault();
    e.stopPropagation();
    settle();
    const target = e.currentTarget as Element;
    target.setPointerCapture(e.pointerId);
    (target as SVGElement).focus();
    start(h);
    const from: Point = [e.clientX, e.clientY];
    const scale = latest.current.scale;
    const base = plan.drops?.find((d) => d.id === drop.id) ?? drop;
    let moved = false;
    const move = (m: globalThis.PointerEvent) => {
      const px: Point = [m.clientX - from[0], m.clientY - from[1]];
      const dx = Math.abs(px[0]) < STEADY_PX ? 0 : px[0] / scale;
      const dz = Math.abs(px[1]) < STEADY_PX ? 0 : -px[1] / scale;
      if (dx === 0 && dz === 0 && !moved) return;
      moved = true;
      propose(
        inState(base, which, (d) => h.move(d, dx, dz)),
        index,
      );
    };
    const end = () => {
      target.removeEventListener("pointermove", move as EventListener);
      target.removeEventListener("pointerup", up);
      target.removeEventListener("pointercancel", abandon);
      window.removeEventListener("keydown", onEscape, true);
      setHeld(null);
    };
    const up = () => {
      end();
      if (moved) commit();
      else cancel();
    };
    const abandon = () => {
      end();
      cancel();
    };
    const onEscape = (k: globalThis.KeyboardEvent) => {
      if (k.key === "Escape") {
        k.stopPropagation();
        abandon();
      }
    };
    target.addEventListener("pointermove", move as EventListener);
    target.addEventListener("pointerup", up);
    target.addEventListener("pointercancel", abandon);
    window.addEventListener("keydown", onEscape, true);
  };
  const settle = () => {
    const k = keyed.current;
    if (!k) return;
    clearTimeout(k.timer);
    keyed.current = null;
    setHeld(null);
    commit();
  };
  const key = (h: Handle, e: KeyboardEvent) => {
    const way: Point | undefined = (
      { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] } as Record<string, Point>
    )[e.key];
    if (e.key === "Escape" && keyed.current) {
      clearTimeout(keyed.current.timer);
      keyed.current = null;
      setHeld(null);
      cancel();
      e.stopPropagation();
      return;
    }
    if (e.key === "Enter") return settle();
    if (!way) return;
    e.preventDefault();
    e.stopPropagation();
    const by = e.shiftKey ? 1 : 0.1;
    let k = keyed.current;
    if (!k || k.id !== h.id) {
      settle();
      start(h);
      k = keyed.current = {
        id: h.id,
        drop: plan.drops?.find((d) => d.id === drop.id) ?? drop,
        handle: h,
        dx: 0,
        dz: 0,
        timer: 0,
      };
    }
    clearTimeout(k.timer);
    k.dx += way[0] * by;
    k.dz += way[1] * by;
    // The ring moves along the rope's path: out and down lengthen the tie.
    const along = k.dx - k.dz;
    const { handle, dx, dz } = k;
    propose(
      inState(k.drop, which, (d) => (h.id === "ring" ? moveRing(d, along) : handle.move(d, round(dx), round(dz)))),
      index,
    );
    k.timer = window.setTimeout(settle, SETTLE_MS);
  };
  const shift = (v: View, g: DropAssessment["geometry"]): View => {
    const s = still.current;
    const t = s ? g.terrain[s.index] : undefined;
    return s && t && frozen
      ? { ...v, ox: v.ox + (s.at[0] - t.x_m) * v.scale, oy: v.oy - (s.at[1] - t.z_m) * v.scale }
      : v;
  };
  return { held, frozen, shift, down, key, blur: settle };
}

const round = (x: number): number => Math.round(x * 1000) / 1000;

function moveRing(drop: Drop, by: number): Drop {
  const out = ringReach(drop);
  return out === null ? drop : setGain(drop, out + by);
}

export function HandleMark({ h, at, held, drag }: { h: Handle; at: Point; held: boolean; drag: Drag }) {
  const { units } = usePrefs();
  const said = (m: number) => spoken({ value: Math.abs(m), quantity: "length", toward: "near", working: "" }, units);
  const where = `${said(h.at[0])} ${h.at[0] < 0 ? "back" : "out"}, ${said(h.at[1])} ${h.at[1] > 0 ? "up" : "down"}`;
  return (
    <g
      className={`handle ${held ? "held" : ""}`}
      tabIndex={0}
      role="button"
      aria-label={`${h.label}, ${where}: drag, or move with the arrow keys`}
      data-handle={h.id}
      transform={`translate(${(at[0] + (h.nudge ?? 0)).toFixed(2)} ${at[1].toFixed(2)})`}
      onPointerDown={(e) => drag.down(h, e)}
      onKeyDown={(e) => drag.key(h, e)}
      onBlur={drag.blur}
    >
      <Dot />
    </g>
  );
}

/** What a handle looks like, with room for a finger. */
export const Dot = () => (
  <>
    <circle r={12} fill="transparent" />
    <circle
      className="dot"
      r={8}
      fill="var(--color-accent)"
      fillOpacity={0.35}
      stroke="var(--color-accent)"
      strokeWidth={2}
    />
  </>
);
