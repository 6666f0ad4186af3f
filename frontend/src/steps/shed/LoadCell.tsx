// A pull on a load cell, drawn as it is pulled, and a trace from a file: the peak goes among the samples.
import { useEffect, useRef, useState } from "react";
import { api } from "../../api/client";
import { figure, shown } from "../../say";
import { type Instrument, useInstrument } from "../../state/devices";
import type { Trace } from "../../state/model";
import { usePrefs } from "../../state/prefs";
import { Connection } from "../../ui/Connection";
import { ChooseFile, useFileIn } from "../../ui/FileIn";

const W = 560;
const H = 170;
const SECONDS = 10;
const EDGE = { left: 44, right: 22, top: 10, bottom: 20 };

export function LoadCell({ onPeak }: { onPeak: (kn: number) => void }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="rule-t mt-3 pt-2" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer text-[13px] font-bold">Pull it on a load cell, or read a trace</summary>
      {open && (
        <div className="mt-1 grid gap-3">
          <Live onPeak={onPeak} />
          <FromFile onPeak={onPeak} />
        </div>
      )}
    </details>
  );
}

function useForce() {
  const { units } = usePrefs();
  return (kn: number) => figure({ value: kn, quantity: "force", toward: "down", working: "" }, units).join(" ");
}

function Live({ onPeak }: { onPeak: (kn: number) => void }) {
  const instrument = useInstrument("load-cell", 100);
  const [pulling, setPulling] = useState(false);
  const force = useForce();
  const { view, samples } = instrument;
  const on = view?.state === "connected" || view?.state === "silent";
  const peak = view?.peak_kn ?? null;
  return (
    <div className="grid gap-2">
      <Connection kind="load-cell" of={instrument} />
      {(on || samples.length > 0) && <LivePlot samples={samples} running={on && pulling} />}
      {on && (
        <div className="flex items-center gap-3">
          <button
            type="button"
            className="act"
            onClick={() => {
              instrument.ask(pulling ? "stop" : "start");
              setPulling(!pulling);
            }}
          >
            {pulling ? "Stop" : "Start a pull"}
          </button>
          <span role="status">
            {peak === null ? "nothing pulled yet" : `peak ${force(peak)}`}
            <span className="quiet num"> · {view?.count ?? 0} samples</span>
          </span>
        </div>
      )}
      {!pulling && peak !== null && peak > 0 && (
        <button type="button" className="act justify-self-start" onClick={() => onPeak(Math.floor(peak * 100) / 100)}>
          Put {force(peak)} among the samples
        </button>
      )}
    </div>
  );
}

/** The last seconds of a pull, moving on between what is heard: a frame each time the screen has one. */
function LivePlot({ samples, running }: { samples: Instrument["samples"]; running: boolean }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const { units } = usePrefs();
  const unit = shown("force", units);
  const data = useRef(samples);
  data.current = samples;
  useEffect(() => {
    const at = canvas.current;
    const draw = at?.getContext("2d");
    if (!at || !draw) return;
    const ratio = window.devicePixelRatio || 1;
    at.width = W * ratio;
    at.height = H * ratio;
    const style = getComputedStyle(at);
    const [ink, rule, accent] = ["--color-base-content", "--rule", "--color-accent"].map((v) =>
      style.getPropertyValue(v).trim(),
    ) as [string, string, string];
    let frame = 0;
    let met = { count: 0, t: 0, when: performance.now() };
    let shownTo = 0;
    const paint = () => {
      const all = data.current;
      const now = performance.now();
      const heard = all.at(-1)?.[0] ?? 0;
      if (all.length !== met.count) met = { count: all.length, t: heard, when: now };
      // What was heard is shown a moment late, so that it comes in evenly.
      const wanted = running ? met.t - 0.2 + (now - met.when) / 1000 : heard;
      shownTo = running ? Math.min(heard, Math.max(shownTo, wanted)) : heard;
      if (shownTo > heard || all.length === 0) shownTo = heard;
      const from = Math.max(0, shownTo - SECONDS);
      let first = all.length;
      while (first > 0 && all[first - 1]![0] >= from) first--;
      let most = 1;
      for (let i = first; i < all.length; i++) most = Math.max(most, all[i]![1]);
      const top = Math.ceil((most * unit.factor * 1.1) / niceStep(most * unit.factor)) * niceStep(most * unit.factor);
      const x = (t: number) => EDGE.left + ((t - from) / SECONDS) * (W - EDGE.left - EDGE.right);
      const y = (v: number) => H - EDGE.bottom - (Math.max(0, v) / top) * (H - EDGE.top - EDGE.bottom);
      draw.setTransform(ratio, 0, 0, ratio, 0, 0);
      draw.clearRect(0, 0, W, H);
      draw.font = `11px ${style.fontFamily}`;
      draw.fillStyle = ink;
      draw.strokeStyle = rule;
      draw.lineWidth = 1;
      for (let v = 0; v <= top + 1e-9; v += niceStep(top)) {
        draw.beginPath();
        draw.moveTo(EDGE.left, y(v));
        draw.lineTo(W - EDGE.right, y(v));
        draw.stroke();
        draw.textAlign = "right";
        draw.fillText(`${Math.round(v)}`, EDGE.left - 6, y(v) + 4);
      }
      draw.textAlign = "center";
      for (let s = Math.ceil(from); s <= from + SECONDS; s += 2) draw.fillText(`${s} s`, x(s), H - 5);
      draw.strokeStyle = accent;
      draw.lineWidth = 2;
      draw.beginPath();
      for (let i = first; i < all.length && all[i]![0] <= shownTo; i++)
        draw.lineTo(x(all[i]![0]), y(all[i]![1] * unit.factor));
      draw.stroke();
      frame = requestAnimationFrame(paint);
    };
    paint();
    return () => cancelAnimationFrame(frame);
  }, [running, unit]);
  return (
    <canvas
      ref={canvas}
      className="w-full max-w-xl"
      role="img"
      aria-label={`force in ${unit.unit}, the last ${SECONDS} seconds of the pull`}
    />
  );
}

/** A step that gives some four lines up to a value. */
function niceStep(most: number): number {
  const raw = most / 4;
  const ten = 10 ** Math.floor(Math.log10(raw));
  return ([1, 2, 5, 10].find((n) => n * ten >= raw) ?? 10) * ten;
}

function FromFile({ onPeak }: { onPeak: (kn: number) => void }) {
  const [trace, setTrace] = useState<Trace | null>(null);
  const force = useForce();
  const file = useFileIn(async (chosen, on) => {
    setTrace(null);
    setTrace(await api.trace(chosen, on));
  });
  const seconds = trace ? trace.seconds.toFixed(1) : "";
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-3">
        <ChooseFile label="Read a trace, CSV" accept=".csv" onFile={file.read} />
        <span className="quiet text-xs">columns headed time (s) and force (kN, N, lbf or kgf)</span>
      </div>
      {file.drawn}
      {trace && (
        <>
          <LivePlot samples={squeezed(trace)} running={false} />
          <p>
            {trace.samples} samples over {seconds} s
            {trace.peak ? `, peak ${force(trace.peak.kn)}` : ": nothing was pulled"}
            {trace.peak?.alone != null && (
              <span className="sev-Caution">
                {" "}
                · one sample of {force(trace.peak.alone)} stands alone and is not taken for it
              </span>
            )}
          </p>
          {trace.peak && (
            <button
              type="button"
              className="act justify-self-start"
              onClick={() => {
                onPeak(Math.floor(trace.peak!.kn * 100) / 100);
                setTrace(null);
              }}
            >
              Put {force(trace.peak.kn)} among the samples
            </button>
          )}
        </>
      )}
    </div>
  );
}

/** A whole trace on the width of the live plot. */
function squeezed(trace: Trace): [number, number][] {
  const points = trace.points as [number, number][];
  const from = points[0]?.[0] ?? 0;
  return points.map(([t, kn]) => [((t - from) / Math.max(trace.seconds, 1e-9)) * SECONDS, kn]);
}
