// What every bench of an anchor shares: the frame, and the marks of ring, knot, handle and share.

import type { ReactNode } from "react";
import { Dot } from "../../cutaway/drag";
import type { Hold, Move } from "./hold";

/** A bench drawn, with what is said of it below. */
export function BenchFrame({
  label,
  width,
  height,
  said,
  children,
}: {
  label: string;
  width: number;
  height: number;
  said: ReactNode;
  children: ReactNode;
}) {
  return (
    <figure className="shrink-0" style={{ width }} aria-label={label}>
      <svg width={width} height={height} className="block rounded bg-[var(--void)]">
        {children}
      </svg>
      <figcaption className="mt-1 text-xs leading-snug">{said}</figcaption>
    </figure>
  );
}

/** What has to be entered before there is anything to draw. */
export function BenchMissing({ width, children }: { width: number; children: string }) {
  return (
    <p className="quiet shrink-0 text-xs" style={{ width }}>
      {children}
    </p>
  );
}

export function Seen({ y = 16, from }: { y?: number; from: "from above" | "from the side" }) {
  return (
    <text x={8} y={y} fontSize={11.5} fill="var(--color-base-content)">
      {from}
    </text>
  );
}

export function RingMark({ x, y, lit }: { x: number; y: number; lit: boolean }) {
  return (
    <circle
      className={lit ? "lit" : undefined}
      cx={x}
      cy={y}
      r={6}
      fill="none"
      stroke="var(--color-base-content)"
      strokeWidth={2.6}
      role="img"
      aria-label="ring"
    />
  );
}

/** A knot, or a point where something is tied; ``what``: which, "" where it is told beside. */
export function KnotMark({ x, y, what = "" }: { x: number; y: number; what?: string }) {
  return (
    <rect
      x={x - 5}
      y={y - 5}
      width={10}
      height={10}
      rx={2}
      fill="var(--color-base-100)"
      stroke="var(--color-base-content)"
      strokeWidth={1.8}
      {...(what ? { role: "img", "aria-label": what } : {})}
    />
  );
}

/** What part of the load something carries. */
export function Share({ x, y, of }: { x: number; y: number; of: number }) {
  return (
    <text
      x={x}
      y={y}
      textAnchor="end"
      fontSize={11.5}
      fontWeight={700}
      className="num"
      fill="var(--color-base-content)"
    >
      {(of * 100).toFixed(0)} %
    </text>
  );
}

/** What is dragged, or moved by the arrow keys. */
export function Grip({
  id,
  label,
  x,
  y,
  hold,
  move,
}: {
  id: string;
  label: string;
  x: number;
  y: number;
  hold: Hold;
  move: Move;
}) {
  return (
    <g
      className={`handle ${hold.held ? "held" : ""}`}
      tabIndex={0}
      role="button"
      aria-label={`${label}: drag, or move with the arrow keys`}
      data-handle={id}
      onPointerDown={hold.grab(move)}
      onKeyDown={hold.keyed(move)}
      transform={`translate(${x.toFixed(2)} ${y.toFixed(2)})`}
    >
      <Dot />
    </g>
  );
}

/** Points that can be taken away, each by itself. */
export function Without({
  points,
  gone,
  take,
}: {
  points: readonly { id: string; name: string }[];
  gone: string;
  take: (id: string) => void;
}) {
  return (
    <span className="flex flex-wrap items-center gap-x-2 gap-y-1">
      without
      {points.map((p) => (
        <button
          key={p.id}
          type="button"
          aria-pressed={gone === p.id}
          className={`lost-point ${gone === p.id ? "on" : ""}`}
          onClick={() => take(gone === p.id ? "" : p.id)}
        >
          {p.name}
        </button>
      ))}
    </span>
  );
}
