// Instruments on this machine: how one stands, what it says, what it is asked.
import { useCallback, useEffect, useRef, useState } from "react";
import { api, Refusal } from "../api/client";
import type { DeviceView, HeardView } from "./model";

export type DeviceKind = "rangefinder" | "load-cell" | "gauge";
export interface Instrument {
  view: DeviceView | null;
  /** Samples of a load cell's pull so far: seconds and kN. */
  samples: readonly (readonly [number, number])[];
  refused: string;
  connect: (port: number) => void;
  leave: () => void;
  ask: (what: "shoot" | "start" | "stop") => void;
}

/** Listen to an instrument while this is in view, every so many ms; ``onHeard``: what it says from now on. */
export function useInstrument(kind: DeviceKind, every: number, onHeard?: (heard: HeardView) => void): Instrument {
  const [view, setView] = useState<DeviceView | null>(null);
  const [refused, setRefused] = useState("");
  const samples = useRef<[number, number][]>([]);
  const heard = useRef(onHeard);
  heard.current = onHeard;
  const after = useRef<number | null>(null);
  useEffect(() => {
    const control = new AbortController();
    let timer = 0;
    const listen = async () => {
      try {
        const from = after.current ?? 0;
        const made = await api.device(kind, from, samples.current.length, control.signal);
        // Left while the answer was being read: there is nobody to tell.
        if (control.signal.aborted) return;
        if (made.count < samples.current.length) samples.current = [];
        else samples.current.push(...(made.samples as [number, number][]));
        const last = made.heard.at(-1)?.number ?? (made.state === "none" ? 0 : from);
        // What was said before this was opened was for somebody else.
        if (after.current !== null) for (const h of made.heard) heard.current?.(h);
        after.current = last;
        setView({ ...made, samples: [] });
      } catch (e) {
        if (e instanceof DOMException) return;
        if (!(e instanceof Refusal)) throw e;
        setRefused(e.problem.detail);
      }
      timer = window.setTimeout(() => void listen(), every);
    };
    void listen();
    return () => {
      control.abort();
      clearTimeout(timer);
    };
  }, [kind, every]);
  const tried = useCallback(async (act: () => Promise<unknown>) => {
    setRefused("");
    try {
      await act();
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      setRefused(e.problem.errors?.[0]?.message ?? e.problem.detail);
    }
  }, []);
  return {
    view,
    samples: samples.current,
    refused,
    connect: (port) =>
      void tried(async () => {
        after.current = 0;
        samples.current = [];
        setView(await api.connectDevice(kind, port));
      }),
    leave: () => void tried(() => api.leaveDevice(kind)),
    ask: (what) =>
      void tried(async () => {
        if (what === "start") samples.current = [];
        await api.askDevice(kind, what);
      }),
  };
}
