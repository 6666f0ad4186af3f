// The log: a descent as it was, beside what the plan said then; what came home goes into it; what all of it teaches.
import { useState } from "react";
import { Link } from "react-router";
import { useLog, useLogging } from "../../state/log";
import type { TripView } from "../../state/model";
import { useSession } from "../../state/plan";
import { Said } from "../../ui/Num";
import { TabPanel, Tabs } from "../../ui/Tabs";
import { Unreadable } from "../../ui/Unreadable";
import { Files } from "./Files";
import { LearntView } from "./Learnt";
import { TripForm } from "./TripForm";

const VIEWS = ["Descents", "What the log teaches", "Files"] as const;
type View = (typeof VIEWS)[number];
const today = () => {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
};

export function Log() {
  const [which, setWhich] = useState<View>("Descents");
  return (
    <div className="flex h-full flex-col bg-base-100">
      <Tabs
        group="log"
        label="the log"
        tabs={VIEWS.map((v) => ({ key: v, name: v }))}
        at={which}
        onPick={setWhich}
        className="rule-b px-4"
      />
      <TabPanel group="log" at={which} className="min-h-0 grow overflow-y-auto px-5 py-3" testId="log">
        {which === "Descents" && <Descents />}
        {which === "What the log teaches" && <LearntView />}
        {which === "Files" && <Files />}
      </TabPanel>
    </div>
  );
}

function Descents() {
  const { view } = useSession();
  const { data, error } = useLog();
  const logging = useLogging();
  const [at, setAt] = useState("");
  const [on, setOn] = useState(today());
  const [removed, setRemoved] = useState<TripView | null>(null);
  const trips = data?.trips ?? [];
  const shown = trips.find((t) => t.id === at) ?? trips[0];
  const begin = async (day: string) => {
    const made = await logging.begin(day);
    if (made) setAt(made.id);
  };
  return (
    <>
      <Unreadable kinds={["descent"]} plan={view.id} />
      <div className="flex flex-wrap items-center gap-2">
        <input
          type="date"
          className="field"
          aria-label="the day of the descent"
          value={on}
          onChange={(e) => setOn(e.target.value)}
        />
        <button type="button" className="act" onClick={() => void begin(on)}>
          Log a descent
        </button>
        {data?.days.map((d) => (
          <button key={d.on} type="button" className="act" onClick={() => void begin(d.on)}>
            Log {d.on}: {d.corrections} noted by {d.by.join(", ")}
          </button>
        ))}
      </div>
      {error && <p role="alert">{error.message}</p>}
      {Object.entries(logging.refused).map(([what, why]) => (
        <p key={what} role="alert" className="sev-Shortfall my-1 font-semibold">
          Not kept. {why.message}
        </p>
      ))}
      {removed && (
        <p role="status" className="my-1">
          The descent of {removed.trip?.on ?? "that day"} is out of the log.{" "}
          <button
            type="button"
            className="act plain"
            onClick={async () => {
              const made = await logging.undo({ id: removed.id, revision: removed.revision + 1 });
              if (made) setAt(made.id);
              setRemoved(null);
            }}
          >
            Undo
          </button>
        </p>
      )}
      {data && trips.length === 0 && (
        <p className="mt-3 max-w-xl">
          Nothing is logged yet. What was noted on a phone's card and accepted under Card goes in with one act; the rest
          is typed here.
        </p>
      )}
      {trips.length > 1 && (
        <ul className="mt-2 flex flex-wrap gap-x-1" aria-label="descents">
          {trips.map((t) => (
            <li key={t.id}>
              <button
                type="button"
                className={`shed-row ${shown?.id === t.id ? "on" : ""}`}
                aria-pressed={shown?.id === t.id}
                onClick={() => setAt(t.id)}
              >
                {t.trip?.on}
              </button>
            </li>
          ))}
        </ul>
      )}
      {shown?.trip && (
        <TripForm
          key={shown.id}
          view={shown}
          refused={logging.refused}
          onSave={(what, edit) => void logging.save(shown.id, what, edit)}
          onUndo={shown.revision > 1 ? () => void logging.undo(shown) : null}
          onRemove={async () => {
            if (await logging.remove(shown)) setRemoved(shown);
          }}
        />
      )}
    </>
  );
}

const BAD = { none: "", "near miss": "sev-Caution", incident: "sev-Shortfall" };

/** What happened here, and what was worse than planned, over all descents of this plan. */
export function LogRight() {
  const { view } = useSession();
  const { data } = useLog();
  const trips = (data?.trips ?? []).filter((t) => t.trip);
  const happened = trips.flatMap((t) =>
    (t.trip?.stations ?? [])
      .filter((s) => s.incident !== "none")
      .map((s) => ({ key: `${t.id} ${s.drop}`, on: t.trip?.on, s })),
  );
  const worse = trips.flatMap((t) =>
    t.beside.flatMap((b) =>
      b.rows.filter((r) => r.worse).map((r) => ({ key: `${t.id} ${b.drop} ${r.what}`, t, b, r })),
    ),
  );
  return (
    <section aria-label="over all descents">
      <h1 className="text-lg font-bold">Over all descents</h1>
      <p className="quiet text-[13px]">
        {trips.length} {trips.length === 1 ? "descent" : "descents"} of this plan in the log
      </p>
      {happened.length > 0 && <h2 className="mt-3 font-bold">Incidents and near misses</h2>}
      <ul>
        {happened.map(({ key, on, s }) => (
          <li key={key} className="rule-t py-1.5 text-[13px]">
            <b className={BAD[s.incident ?? "none"]}>{s.incident}</b>,{" "}
            <Link className="underline" to={`/plans/${view.id}/survey/${s.drop}`}>
              {s.station}
            </Link>
            , {on}
            <span className="block whitespace-pre-line">{s.words}</span>
          </li>
        ))}
      </ul>
      {worse.length > 0 && <h2 className="mt-3 font-bold">Worse than planned</h2>}
      <ul>
        {worse.map(({ key, t, b, r }) => (
          <li key={key} className="rule-t py-1.5 text-[13px]">
            <Link className="underline" to={`/plans/${view.id}/survey/${b.drop}`}>
              {b.station}
            </Link>
            , {r.what}: <b>{r.was && <Said s={r.was} />}</b>
            <span className="quiet">
              {" "}
              {r.said ? (
                <>
                  · the plan said <Said s={r.said} />
                </>
              ) : (
                ""
              )}{" "}
              · {t.trip?.on}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
