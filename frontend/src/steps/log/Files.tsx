// Files in and out: a plan's places, times and tables in open formats; what a file would change, before anything is.

import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refusal } from "../../api/client";
import type { ImportView } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { ChooseFile, useFileIn } from "../../ui/FileIn";

const OUT = [
  ["places.gpx", "Places, GPX", "stations as waypoints, the approach as a track"],
  ["places.geojson", "Places, GeoJSON", "the same, for a map"],
  ["times.ics", "Times to turn round, ICS", "for a calendar"],
  ["shots.csv", "Shots, CSV", "of every drop, five figures as the shots they are"],
  ["shed.csv", "Shed, CSV", "ropes, webbing, slings, rings, devices, tethers, loops"],
  ["party.csv", "Party, CSV", ""],
  ["pull-tests.csv", "Pull tests, CSV", "a sample a row"],
  ["log.csv", "Log, CSV", "a station a row"],
] as const;

export function Files() {
  const { view, edit } = useSession();
  const { units } = usePrefs();
  const client = useQueryClient();
  const [look, setLook] = useState<ImportView | null>(null);
  const [said, setSaid] = useState("");
  const [undo, setUndo] = useState<Record<string, number> | null>(null);
  const told = useQuery({
    queryKey: ["log", view.id, "exports", view.revision],
    queryFn: () => api.exports(view.id, view.revision),
  });
  const root = `/api/plans/${view.id}/revisions/${view.revision}/export`;
  const tried = async (act: () => Promise<void>) => {
    setSaid("");
    try {
      await act();
    } catch (e) {
      if (e instanceof DOMException) return;
      if (!(e instanceof Refusal)) throw e;
      setSaid(e.problem.detail);
    }
  };
  const file = useFileIn(async (chosen, on) => {
    setSaid("");
    setLook(null);
    setUndo(null);
    setLook(await api.lookAtFile(view.id, chosen, on));
  });
  const take = () =>
    tried(async () => {
      if (!look) return;
      if (look.trips.length > 0) {
        setUndo((await api.logTogether(view.id, look.trips)).trips);
        await client.invalidateQueries({ queryKey: ["log", view.id] });
      } else {
        edit(() => look.plan);
        setSaid("Taken in; Ctrl Z takes it back.");
      }
      setLook(null);
    });
  const back = () =>
    tried(async () => {
      await api.logApart(view.id, undo ?? {});
      setUndo(null);
      await client.invalidateQueries({ queryKey: ["log", view.id] });
    });
  return (
    <div className="grid max-w-4xl grid-cols-2 gap-8 max-md:grid-cols-1">
      <section aria-label="files out">
        <h1 className="text-lg font-bold">Out</h1>
        <ul>
          {OUT.map(([name, label, about]) => {
            const one = told.data?.find((t) => t.name === name);
            return (
              <li key={name} className="rule-t py-1.5" data-export={name}>
                {one?.why ? (
                  <span className="quiet font-semibold">{label}</span>
                ) : (
                  <a className="font-semibold underline" href={`${root}/${name}?units=${units}`} download>
                    {label}
                  </a>
                )}
                <span className="quiet block text-[13px]">{one?.why ? `Nothing to write: ${one.why}.` : about}</span>
                {one?.left.map((said) => (
                  <span key={said} className="sev-Not-checked block text-[13px]">
                    {said[0]?.toUpperCase() + said.slice(1)}.
                  </span>
                ))}
              </li>
            );
          })}
          <li className="rule-t py-1.5">
            <a className="font-semibold underline" href={`/api/plans/${view.id}/file`} download>
              The plan, JSON
            </a>
            <span className="quiet block text-[13px]">whole, with what a second person said of it</span>
          </li>
        </ul>
      </section>
      <section aria-label="a file in">
        <h1 className="text-lg font-bold">In</h1>
        <p className="quiet mb-2 text-[13px]">
          GPX, CSV or a plan's JSON. What it would change is told first. Things of the same name are changed where they
          stand, others come in; nothing is removed by a table.
        </p>
        <ChooseFile label="Look at a file" accept=".gpx,.csv,.json" onFile={file.read} />
        {file.drawn}
        {said && (
          <p role="alert" className="mt-2 font-semibold">
            {said}
          </p>
        )}
        {undo && (
          <p role="status" className="mt-2">
            {Object.keys(undo).length} logged.{" "}
            <button type="button" className="act plain" onClick={() => void back()}>
              Undo
            </button>
          </p>
        )}
        {look && (
          <div className="mt-2" data-testid="look">
            {look.changes.length === 0 && <p>Nothing would change.</p>}
            <ul className="max-h-96 overflow-y-auto" tabIndex={look.changes.length > 12 ? 0 : -1}>
              {look.changes.map((c) => (
                <li key={c} className="rule-t py-1">
                  {c}
                </li>
              ))}
            </ul>
            {look.left.map((c) => (
              <p key={c} className="sev-Caution mt-1">
                Not taken: {c}.
              </p>
            ))}
            {look.changes.length > 0 && (
              <button type="button" className="act mt-2 mr-1" onClick={() => void take()}>
                Take it in
              </button>
            )}
            <button type="button" className="act plain mt-2" onClick={() => setLook(null)}>
              Leave it
            </button>
          </div>
        )}
      </section>
    </div>
  );
}
