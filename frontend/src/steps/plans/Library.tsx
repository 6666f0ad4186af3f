// The whole library: one file out, one file in, looked at before it is put in its place, and had back.

import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api } from "../../api/client";
import type { Offered } from "../../api/types.gen";
import { counted } from "../../ui/terms";
import { Underway } from "../../ui/Underway";
import { Unreadable } from "../../ui/Unreadable";

const told = (c: Offered["holds"]) =>
  `${counted(c.plans, "plan")}, ${counted(c.revisions, "revision")}, ${counted(c.descents, "descent")} in the log, ` +
  `${counted(c.gear, "record")} of gear` +
  (c.newest ? `, last saved ${new Date(c.newest).toLocaleString([], { hour12: false })}` : "");

export function Library({ run }: { run: (f: () => Promise<unknown>) => void }) {
  const [offered, setOffered] = useState<Offered | null>(null);
  const client = useQueryClient();
  const [before, setBefore] = useState("");
  const [asked, setAsked] = useState<AbortController | null>(null);
  const [part, setPart] = useState(0);
  const put = (token: string, undo: boolean) =>
    run(async () => {
      const made = await api.restoreLibrary(token);
      // What was read of the library that was there is not this one's.
      client.removeQueries({ predicate: (q) => q.queryKey[0] !== "plans" && q.queryKey[0] !== "bin" });
      setOffered(null);
      setBefore(undo ? "" : made.before);
    });
  const look = async (file: File) => {
    const control = new AbortController();
    setPart(0);
    setAsked(control);
    setOffered(null);
    try {
      setOffered(await api.lookAtBackup(file, { signal: control.signal, sent: setPart }));
    } catch (e) {
      if (!(e instanceof DOMException)) throw e;
    } finally {
      setAsked(null);
    }
  };
  return (
    <section className="mt-8" aria-label="the whole library">
      <h2 className="quiet mb-1 text-[13px]">The whole library: plans, shed, checks, log</h2>
      <Unreadable />
      <a className="act mr-1" href="/api/backup" download>
        Write a backup
      </a>
      <label className="act file-act">
        Restore from a backup
        <input
          type="file"
          accept=".sqlite3,application/vnd.sqlite3"
          className="sr-only"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) run(() => look(file));
          }}
        />
      </label>
      {asked && <Underway part={part} onCancel={() => asked.abort()} />}
      {offered && (
        <div className="mt-2 rounded border border-[var(--leader)] bg-base-100 p-3" data-testid="offered">
          <p>
            The backup holds <b>{told(offered.holds)}</b>.
          </p>
          <p>
            It would take the place of <b>{told(offered.now)}</b>, which is kept for a day.
          </p>
          {offered.holds.unreadable.length > 0 && (
            <p className="sev-Shortfall">
              This program cannot read {offered.holds.unreadable.join(", ")}; they are kept as they are.
            </p>
          )}
          <button type="button" className="act mr-1" onClick={() => put(offered.token, false)}>
            Put it in the library's place
          </button>
          <button type="button" className="act plain" onClick={() => setOffered(null)}>
            Leave it
          </button>
        </div>
      )}
      {before && (
        <p role="status" className="mt-2">
          Restored.{" "}
          <button type="button" className="act plain" onClick={() => put(before, true)}>
            Undo: have back what was there
          </button>
        </p>
      )}
    </section>
  );
}
