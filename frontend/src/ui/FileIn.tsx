// A file that is read by the server: sent, stopped, refused, or asked back about how its numbers are written.

import { useState } from "react";
import { type FileRead, Refusal } from "../api/client";
import { Underway } from "./Underway";

interface Open {
  file: File;
  readings: Record<string, string>;
}

const SAID: Record<string, string> = { ".": "the point", ",": "the comma" };

/** `ask` sends the file; what is drawn is the way there and what came of it, but for the answer itself. */
export function useFileIn(ask: (file: File, on: FileRead) => Promise<void>) {
  const [said, setSaid] = useState("");
  const [asked, setAsked] = useState<AbortController | null>(null);
  const [part, setPart] = useState(0);
  const [open, setOpen] = useState<Open | null>(null);
  const read = async (file: File, decimal?: string) => {
    const control = new AbortController();
    setSaid("");
    setOpen(null);
    setPart(0);
    setAsked(control);
    try {
      await ask(file, { signal: control.signal, sent: setPart, ...(decimal ? { decimal } : {}) });
    } catch (e) {
      if (e instanceof DOMException) return;
      if (!(e instanceof Refusal)) throw e;
      setSaid(e.problem.detail);
      const readings = e.problem.errors[0]?.readings ?? {};
      if (Object.keys(readings).length > 0) setOpen({ file, readings });
    } finally {
      setAsked(null);
    }
  };
  const drawn = (
    <>
      {asked && <Underway part={part} onCancel={() => asked.abort()} />}
      {said && (
        <p role="alert" className="mt-2 font-semibold">
          {said}
        </p>
      )}
      {open && (
        <p className="mt-1 flex flex-wrap gap-1">
          {Object.entries(open.readings).map(([sign, value]) => (
            <button key={sign} type="button" className="act" onClick={() => void read(open.file, sign)}>
              {value}: {SAID[sign]} is before decimals
            </button>
          ))}
        </p>
      )}
    </>
  );
  return { read: (file: File) => void read(file), drawn };
}

/** The button that chooses a file. */
export function ChooseFile({ label, accept, onFile }: { label: string; accept: string; onFile: (f: File) => void }) {
  return (
    <label className="act file-act">
      {label}
      <input
        type="file"
        accept={accept}
        className="sr-only"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = "";
          if (file) onFile(file);
        }}
      />
    </label>
  );
}
