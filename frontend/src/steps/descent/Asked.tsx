// What the guide says of the descent as a whole: when and where, what is to be met, the ways between and off.
import { Plus, Trash2 } from "lucide-react";
import { freshId, setAt, unknown } from "../../state/edits";
import type { Contingencies, Drop, Escape, Onward } from "../../state/model";
import { useFieldError, useSession } from "../../state/plan";
import { ChoiceField, Choose, DateField, FigureField, Labelled, SurveyField, TextField, Typed } from "../../ui/fields";

const MEET: { key: keyof Contingencies; said: string; more: string }[] = [
  { key: "lost", said: "any one rope lost or cut", more: "once the last is down anywhere, the rest serves all below" },
  { key: "stuck", said: "the rope stuck", more: "every rope in use there is gone; the rest serves all below" },
  {
    key: "lower",
    said: "a lower from anywhere",
    more: "wherever a novice rides, a releasable rope with reserve enough",
  },
  { key: "spare", said: "a spare for the longest drop", more: "it is served with any one of its ridden ropes gone" },
  { key: "two_sets", said: "two sets going by turns", more: "one station is rigged while the one above is in use" },
];

export function Asked() {
  const { plan, edit, view } = useSession();
  const ropes = plan.shed.ropes ?? [];
  const carried = plan.carry?.ropes ?? null;
  const now = carried ?? view.assessment.descent.ledger.ropes;
  return (
    <div className="grid max-w-4xl gap-6">
      <When />
      <section aria-label="what is to be met">
        <h2 className="text-base font-bold">What the ropes are to meet</h2>
        {MEET.map((m) => (
          <label key={m.key} className="flex min-h-7 items-center gap-2" data-path={`contingencies/${m.key}`}>
            <input
              type="checkbox"
              checked={plan.contingencies?.[m.key] ?? false}
              onChange={(e) => edit(setAt(["contingencies", m.key], e.target.checked))}
            />
            {m.said} <span className="quiet text-[13px]">{m.more}</span>
          </label>
        ))}
      </section>
      <section aria-label="ropes that are carried">
        <h2 className="text-base font-bold">Ropes that are carried</h2>
        <p className="quiet text-[13px]">
          {carried === null ? "Nobody has said: those that the stations use." : "Picked by hand, or adopted."}
        </p>
        <div className="mt-1 flex flex-wrap gap-x-5" data-path="carry/ropes">
          {ropes.map((r) => (
            <label key={r.id} className="flex min-h-7 items-center gap-2">
              <input
                type="checkbox"
                checked={now.includes(r.id)}
                onChange={(e) =>
                  edit(
                    setAt(
                      ["carry", "ropes"],
                      ropes.filter((x) => (x.id === r.id ? e.target.checked : now.includes(x.id))).map((x) => x.id),
                    ),
                  )
                }
              />
              {r.name}
            </label>
          ))}
          {carried !== null && (
            <button type="button" className="act plain" onClick={() => edit(setAt(["carry", "ropes"], null))}>
              those that the stations use
            </button>
          )}
        </div>
      </section>
      <section aria-label="ways between and off">
        <h2 className="text-base font-bold">From landing to station, and off</h2>
        {(plan.drops ?? []).map((d, i) => (
          <Below key={d.id} drop={d} number={i + 1} last={i === (plan.drops ?? []).length - 1} />
        ))}
      </section>
    </div>
  );
}

function Clock({ label, field }: { label: string; field: "start" | "last_light" }) {
  const { plan, edit } = useSession();
  const error = useFieldError([field]);
  const value = plan[field] ?? "";
  return (
    <Labelled label={label} error={error} at={field}>
      <input
        type="time"
        className="field w-full"
        aria-label={label}
        defaultValue={value}
        key={value}
        onBlur={(e) => {
          const v = e.target.value || null;
          if (v !== (plan[field] ?? null)) edit(setAt([field], v));
        }}
      />
    </Labelled>
  );
}

function When() {
  const { plan, edit } = useSession();
  const spot = plan.spot ?? null;
  const error = useFieldError(["spot"]);
  // What nobody has said stays unknown: a place on the equator or the clock of this machine would be a guess.
  const put = (key: "latitude_deg" | "longitude_deg" | "zone", text: string) => {
    const said = text.trim();
    const number = Number(said.replace(",", ".").replace("−", "-"));
    const value = key === "zone" ? said : said === "" ? null : Number.isNaN(number) ? text : number;
    const now = { ...(spot ?? { latitude_deg: null, longitude_deg: null, zone: "" }), [key]: value };
    edit(setAt(["spot"], now.latitude_deg === null && now.longitude_deg === null && now.zone === "" ? null : now));
  };
  return (
    <section aria-label="when and where">
      <h2 className="text-base font-bold">When and where</h2>
      <div className="mt-1 grid grid-cols-3 gap-x-5 gap-y-3">
        <DateField label="date" path={["on"]} value={plan.on ?? null} />
        <Clock label="start, at the first station" field="start" />
        <Clock label="be out by, where that is before sunset" field="last_light" />
        <Labelled label="latitude, north positive" error={error} at="spot">
          <Typed
            label="latitude"
            value={String(spot?.latitude_deg ?? "")}
            onCommit={(v) => put("latitude_deg", v)}
            className="num w-full text-right"
            placeholder="unknown"
            bad={error !== null}
          />
        </Labelled>
        <Labelled label="longitude, east positive">
          <Typed
            label="longitude"
            value={String(spot?.longitude_deg ?? "")}
            onCommit={(v) => put("longitude_deg", v)}
            className="num w-full text-right"
            placeholder="unknown"
          />
        </Labelled>
        <Labelled label="time zone there">
          <Typed
            label="time zone"
            value={spot?.zone ?? ""}
            onCommit={(v) => put("zone", v)}
            className="w-full"
            placeholder="unknown, as Europe/Oslo"
          />
        </Labelled>
      </div>
      {spot && (
        <button type="button" className="act plain mt-1" onClick={() => edit(setAt(["spot"], null))}>
          Forget the place on the map
        </button>
      )}
    </section>
  );
}

const KINDS = ["walk", "scramble", "wade", "swim", "halt"];

/** What lies below one drop: the stretches to the next station, and a way off at its landing. */
function Below({ drop, number, last }: { drop: Drop; number: number; last: boolean }) {
  const { plan, edit } = useSession();
  const at = ["drops", `#${drop.id}`] as const;
  const legs = drop.onward ?? null;
  const add = () => {
    const leg: Onward = {
      id: freshId("w", legs ?? []),
      kind: "walk",
      length_m: unknown("not measured"),
      minutes: unknown("not timed"),
      helped_by: null,
    };
    edit(setAt([...at, "onward"], [...(legs ?? []), leg]));
  };
  const way: Escape = { to: "way off", minutes: unknown("not timed"), goes: "unknown" };
  return (
    <div className="rule-t py-2" data-below={drop.id}>
      <div className="flex items-center gap-3">
        <b>
          {number} · {drop.name}
        </b>
        {!last && legs === null && (
          <span className="sev-Not-checked text-[13px]">nobody has said how far it is to the next station</span>
        )}
        {!last && legs?.length === 0 && <span className="quiet text-[13px]">the next station is at the landing</span>}
        <span className="grow" />
        {!last && legs === null && (
          <button
            type="button"
            className="act plain"
            data-path={`drops/${number - 1}/onward`}
            data-open
            onClick={() => edit(setAt([...at, "onward"], []))}
          >
            it is at the landing
          </button>
        )}
        {!last && (
          <button type="button" className="act plain" onClick={add}>
            <Plus size={14} className="inline" /> a stretch
          </button>
        )}
        {!drop.escape && (
          <button type="button" className="act plain" onClick={() => edit(setAt([...at, "escape"], way))}>
            <Plus size={14} className="inline" /> a way off
          </button>
        )}
      </div>
      {(legs ?? []).map((leg) => {
        const path = [...at, "onward", `#${leg.id}`];
        return (
          <div key={leg.id} className="mt-1 grid grid-cols-[110px_190px_110px_130px_auto] items-end gap-3">
            <ChoiceField label="stretch" path={[...path, "kind"]} value={leg.kind} choices={KINDS} />
            <SurveyField
              label="length"
              path={[...path, "length_m"]}
              figure={leg.length_m!}
              quantity="length"
              why="not measured"
            />
            <FigureField
              label="takes"
              path={[...path, "minutes"]}
              figure={leg.minutes!}
              quantity="minutes"
              why="not timed"
            />
            <Choose
              label="who helps"
              value={leg.helped_by ?? ""}
              choices={[
                { value: "", label: "nobody" },
                ...(plan.party ?? []).map((p) => ({ value: p.id, label: p.name })),
              ]}
              onChange={(v) => edit(setAt([...path, "helped_by"], v || null))}
            />
            <button
              type="button"
              className="act plain sev-Shortfall"
              aria-label={`remove the ${leg.kind} below ${drop.name}`}
              onClick={() =>
                edit(
                  setAt(
                    [...at, "onward"],
                    (legs ?? []).filter((l) => l.id !== leg.id),
                  ),
                )
              }
            >
              <Trash2 size={14} className="inline" />
            </button>
          </div>
        );
      })}
      {drop.escape && (
        <div className="mt-1 grid grid-cols-[300px_110px_130px_auto] items-end gap-3">
          <TextField label="way off, to" path={[...at, "escape", "to"]} value={drop.escape.to} />
          <FigureField
            label="takes"
            path={[...at, "escape", "minutes"]}
            figure={drop.escape.minutes!}
            quantity="minutes"
            why="not timed"
          />
          <ChoiceField
            label="known to go"
            path={[...at, "escape", "goes"]}
            value={drop.escape.goes ?? "unknown"}
            choices={["yes", "no", { value: "unknown", label: "nobody has said" }]}
          />
          <button
            type="button"
            className="act plain sev-Shortfall"
            aria-label={`remove the way off below ${drop.name}`}
            onClick={() => edit(setAt([...at, "escape"], null))}
          >
            <Trash2 size={14} className="inline" />
          </button>
        </div>
      )}
    </div>
  );
}
