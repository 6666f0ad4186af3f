// One descent as it was: the day, and station by station what was found, beside what the plan said then.

import { shown } from "../../say";
import { applyEdits } from "../../state/edits";
import type { Refusals } from "../../state/log";
import type { StationBeside, Trip, TripView } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Choose, Labelled, Typed } from "../../ui/fields";
import { Said } from "../../ui/Num";
import { parseTyped } from "../../ui/typed";
import { CameAlong } from "./CameAlong";

type Station = NonNullable<Trip["stations"]>[number];
const CLOCKS = [
  ["arrived", "arrived"],
  ["rigged", "first goes"],
  ["down", "all down"],
  ["gone", "rope down, gone"],
] as const;
const FLOWS = [{ value: "unknown", label: "not noted" }, "dry", "low", "usual", "high", "flood"];
const METHODS = ["known rope", "rangefinder", "tape", "eye"];
const NONE = { value: "unknown", label: "–" };

export function TripForm({
  view,
  refused,
  onSave,
  onUndo,
  onRemove,
}: {
  view: TripView;
  refused: Refusals;
  onSave: (what: string, edit: (trip: Trip) => Trip) => void;
  onUndo: (() => void) | null;
  onRemove: () => void;
}) {
  const trip = view.trip!;
  const set = (more: Partial<Trip>) => onSave(Object.keys(more).join(), (t) => ({ ...t, ...more }));
  const stations = trip.stations ?? [];
  const setStation = (drop: string, more: Partial<Station>) =>
    onSave(`${drop} ${Object.keys(more).join()}`, (t) => ({
      ...t,
      stations: (t.stations ?? []).map((s) => (s.drop === drop ? { ...s, ...more } : s)),
    }));
  const beside = new Map(view.beside.map((b) => [b.drop, b]));
  const wrong = (field: string) =>
    Object.values(refused).find((r) => r.field.startsWith(`trip/${field}`))?.message ?? null;
  return (
    <section className="mt-3" aria-label={`the descent of ${trip.on}`}>
      <div className="flex items-baseline gap-2">
        <h1 className="grow text-lg font-bold">The descent of {trip.on}</h1>
        {onUndo && (
          <button type="button" className="act plain" onClick={onUndo}>
            Undo the last change
          </button>
        )}
        <button type="button" className="act plain" onClick={onRemove}>
          Take it out of the log
        </button>
      </div>
      <div className="grid grid-cols-[8rem_1fr_1fr_5rem] gap-3 max-sm:grid-cols-2">
        <Choose
          label="flow"
          value={trip.flow ?? "unknown"}
          choices={FLOWS}
          onChange={(v) => set({ flow: v as Trip["flow"] })}
        />
        <Labelled label="conditions">
          <Typed
            label="conditions"
            className="w-full"
            value={trip.conditions ?? ""}
            onCommit={(v) => set({ conditions: v })}
          />
        </Labelled>
        <Labelled label="who went">
          <Typed label="who went" className="w-full" value={trip.party ?? ""} onCommit={(v) => set({ party: v })} />
        </Labelled>
        <Labelled label="people" error={wrong("people")}>
          <Typed
            label="people"
            className="num w-full text-right"
            value={String(trip.people ?? 0)}
            onCommit={(v) => set({ people: Number(v) })}
          />
        </Labelled>
        <Labelled label="in words" className="col-span-4 max-sm:col-span-2">
          <Typed
            label="the descent in words"
            className="w-full"
            lines={2}
            value={trip.words ?? ""}
            onCommit={(v) => set({ words: v })}
          />
        </Labelled>
      </div>
      <CameAlong
        trip={trip}
        wrong={wrong}
        onSet={(edit, what) => onSave(`used ${what}`, (t) => ({ ...t, used: edit([...(t.used ?? [])]) }))}
      />
      {stations.map((s, i) => (
        <StationForm
          key={s.drop}
          s={s}
          n={i}
          beside={beside.get(s.drop)}
          wrong={(field) => wrong(`stations/${i}/${field}`)}
          onSet={(more) => setStation(s.drop, more)}
        />
      ))}
    </section>
  );
}

function StationForm({
  s,
  n,
  beside,
  wrong,
  onSet,
}: {
  s: Station;
  n: number;
  beside: StationBeside | undefined;
  wrong: (field: string) => string | null;
  onSet: (more: Partial<Station>) => void;
}) {
  const { units } = usePrefs();
  const { edit } = useSession();
  const length = shown("length", units);
  const of = (name: string) => `${name}, ${s.station}`;
  const height = s.height?.kind === "known" ? s.height : null;
  const inUnits = (m: number) => String(Number((m * length.factor).toFixed(2)));
  const setHeight = (text: string, method: string) => {
    if (text.trim() === "") return onSet({ height: { kind: "unknown", why: "not measured" } });
    const m = parseTyped(text, "length", length.factor);
    onSet({ height: { kind: "known", value: m ?? -1, method: method as never, on: null, by: "", error: null } });
  };
  return (
    <section className="rule-t mt-3 pt-2" aria-label={s.station} data-station={s.drop}>
      <h2 className="font-bold">
        <span className="num mr-1">{n + 1}</span> {s.station}
        {beside?.number === 0 && <span className="sev-Caution ml-2 font-normal">gone from the plan</span>}
      </h2>
      <div className="log-figures">
        <Labelled label={`height, ${length.unit}`} error={wrong("height")}>
          <Typed
            label={of("height")}
            className="num w-full text-right"
            value={height ? inUnits(height.value) : ""}
            onCommit={(v) => setHeight(v, height?.method ?? "known rope")}
          />
        </Labelled>
        <Choose
          label="measured by"
          value={height?.method ?? "known rope"}
          choices={METHODS}
          onChange={(v) => height && setHeight(inUnits(height.value), v)}
        />
        <Choose
          label="the ropes"
          value={s.reached ?? "unknown"}
          choices={[NONE, { value: "yes", label: "reached" }, { value: "no", label: "did not reach" }]}
          onChange={(v) => onSet({ reached: v as Station["reached"] })}
        />
        <Labelled label={`by, ${length.unit}`} error={wrong("by_m")}>
          <Typed
            label={of("by")}
            className="num w-full text-right"
            value={s.by_m === null || s.by_m === undefined ? "" : inUnits(s.by_m)}
            onCommit={(v) => onSet({ by_m: v.trim() ? (parseTyped(v, "length", length.factor) ?? -1) : null })}
          />
        </Labelled>
        <Choose
          label="the pull"
          value={s.pull ?? "unknown"}
          choices={[NONE, "easy", "firm", "hard", "stuck"]}
          onChange={(v) => onSet({ pull: v as Station["pull"] })}
        />
        <Labelled label="left there">
          <Typed
            label={of("left there")}
            className="w-full"
            value={s.left ?? ""}
            onCommit={(v) => onSet({ left: v })}
          />
        </Labelled>
      </div>
      <div className="log-times">
        {CLOCKS.map(([key, label]) => (
          <Labelled key={key} label={label} error={wrong(key)}>
            <input
              type="time"
              className="field w-full"
              aria-label={of(label)}
              key={s[key] ?? ""}
              defaultValue={s[key] ?? ""}
              onBlur={(e) => {
                const v = e.target.value || null;
                if (v !== (s[key] ?? null)) onSet({ [key]: v });
              }}
            />
          </Labelled>
        ))}

        <Choose
          label="incident"
          value={s.incident ?? "none"}
          choices={["none", "near miss", "incident"]}
          onChange={(v) =>
            onSet({ incident: v as Station["incident"], words: s.words || (v === "none" ? "" : "to be told") })
          }
        />
        <Labelled label="in words" error={wrong("words")} className="col-span-full">
          <Typed
            label={of("in words")}
            className="w-full"
            lines={s.words && s.words.length > 60 ? 3 : 1}
            value={s.words ?? ""}
            onCommit={(v) => onSet({ words: v })}
          />
        </Labelled>
      </div>
      {(s.found ?? []).map((f) => (
        <p key={f.item} className="mt-1 text-[13px]">
          <span className="quiet">{f.item}:</span> {f.state}
          {f.words && `, ${f.words}`}
        </p>
      ))}
      {(beside?.rows.length ?? 0) > 0 && (
        <table className="home-table w-auto" aria-label={`${s.station} beside the plan`}>
          <thead>
            <tr>
              <th>of</th>
              <th>the plan said</th>
              <th>it was</th>
              <th>off</th>
            </tr>
          </thead>
          <tbody>
            {beside!.rows.map((r) => (
              <tr key={r.what} data-beside={r.what}>
                <td className="quiet">{r.what}</td>
                <td>{r.said ? <Said s={r.said} /> : <span className="quiet">nothing</span>}</td>
                <td className="font-semibold">{r.was && <Said s={r.was} />}</td>
                <td className={r.worse ? "sev-Caution font-semibold" : ""}>
                  {r.off && <Said s={r.off} />}
                  {r.fix && (
                    <button type="button" className="act ml-2" onClick={() => edit(applyEdits(r.fix!.edits))}>
                      <Said s={r.fix.label} />
                    </button>
                  )}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
