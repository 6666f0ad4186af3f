// What all descents teach: each lesson with its cases, said against was, and what it offers for a figure.

import { freshId, setAt } from "../../state/edits";
import { useLearnt } from "../../state/log";
import type { Lesson, Offer } from "../../state/model";
import { useSession } from "../../state/plan";
import { Num } from "../../ui/Num";
import { Plot } from "../../ui/Plot";

export function LearntView() {
  const { data, error } = useLearnt();
  return (
    <div className="max-w-5xl">
      <h1 className="text-lg font-bold">What the log teaches</h1>
      <p className="quiet mb-2 max-w-2xl text-[13px]">
        From every descent in this library. A day and a place count once: nothing is learnt of times and pulls from
        fewer than five days, of heights from fewer than five places; a figure that is offered counts in this plan only
        once you adopt it, with the log as its reason.
      </p>
      {error && <p role="alert">{error.message}</p>}
      {data?.length === 0 && <p>Nothing was logged yet that teaches anything.</p>}
      {data?.map((l) => (
        <LessonView key={`${l.about} ${l.name}`} l={l} />
      ))}
    </div>
  );
}

const many = (n: number, what: string) => `${n} ${what}${n === 1 ? "" : "s"}`;

function LessonView({ l }: { l: Lesson }) {
  const marks = l.cases.flatMap((c) =>
    c.low && c.high
      ? [{ at: [c.low.value, c.high.value] as const, up: c.was.value, title: `${c.station}, ${c.on}` }]
      : [],
  );
  return (
    <section className="rule-t mt-3 grid grid-cols-[1fr_auto] gap-x-6 pt-2" aria-label={l.name}>
      <div>
        <h2 className="font-bold">
          {l.name[0]?.toUpperCase()}
          {l.name.slice(1)}{" "}
          <span className="quiet font-normal">
            · {many(l.cases.length, "case")}, {many(l.days, "day")}, {many(l.places, "place")}
          </span>
        </h2>
        {l.middle && l.least && l.most && (
          <p>
            half of them up to <Num n={l.middle} />, from <Num n={l.least} /> to <Num n={l.most} />
          </p>
        )}
        {Object.keys(l.counts).length > 0 && <Felt counts={l.counts} />}
        {l.why && <p className="quiet">{l.why}.</p>}
        {l.offers.map((o) => (
          <OfferView key={`${o.table} ${o.key}`} o={o} />
        ))}
        <details className="mt-1">
          <summary className="quiet cursor-pointer text-[13px]">the cases</summary>
          <table className="home-table w-auto">
            <thead>
              <tr>
                <th>day</th>
                <th>station</th>
                <th>said</th>
                <th>was</th>
              </tr>
            </thead>
            <tbody>
              {l.cases.map((c, i) => (
                <tr key={i}>
                  <td>{c.on}</td>
                  <td>
                    {c.station}, {c.plan}
                  </td>
                  <td>
                    {c.low && c.high ? (
                      <>
                        <Num n={c.low} />
                        {c.low.value !== c.high.value && (
                          <>
                            {" "}
                            to <Num n={c.high} />
                          </>
                        )}
                      </>
                    ) : (
                      c.words
                    )}
                  </td>
                  <td>
                    <Num n={c.was} /> {c.low && c.words}
                  </td>
                </tr>
              ))}
            </tbody>
          </table>
        </details>
      </div>
      {marks.length > 1 && (
        <div className="w-80 max-sm:w-full">
          <Plot
            marks={marks}
            quantity={l.cases[0]!.was.quantity}
            along="the plan said"
            up="it was"
            label={`${l.name}: what the plan said against what was, ${marks.length} cases`}
          />
        </div>
      )}
    </section>
  );
}

const BANDS = ["easy", "firm", "hard", "stuck"] as const;
type Band = (typeof BANDS)[number];

/** How often a pull of which band was felt how. */
function Felt({ counts }: { counts: Record<string, number> }) {
  const of = (said: Band, felt: Band) => counts[`${said}, felt ${felt}`] ?? 0;
  const harder = (said: Band, felt: Band) => of(said, felt) > 0 && BANDS.indexOf(felt) > BANDS.indexOf(said);
  return (
    <table className="home-table w-auto">
      <thead>
        <tr>
          <th>the plan said</th>
          {BANDS.map((b) => (
            <th key={b} className="text-right">
              felt {b}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {BANDS.filter((said) => BANDS.some((felt) => of(said, felt))).map((said) => (
          <tr key={said}>
            <td>{said}</td>
            {BANDS.map((felt) => (
              <td key={felt} className={`num text-right ${harder(said, felt) ? "sev-Caution font-bold" : ""}`}>
                {of(said, felt)}
              </td>
            ))}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function OfferView({ o }: { o: Offer }) {
  const { plan, edit } = useSession();
  const own = plan.own_figures ?? [];
  const had = own.find((f) => f.table === o.table && f.key === o.key);
  const range = (low: number, high: number) => (low === high ? `${low}` : `${low} to ${high}`);
  const adopted = had && had.low === o.low && had.high === o.high;
  const adopt = () =>
    edit(
      setAt(
        ["own_figures"],
        [
          ...own.filter((f) => f !== had),
          { id: had?.id ?? freshId("o", own), table: o.table, key: o.key, low: o.low, high: o.high, reason: o.reason },
        ],
      ),
    );
  return (
    <p className="mt-1">
      {o.name}: <b className="num">{range(o.low, o.high)}</b> {o.unit}
      <span className="quiet">
        , the table has {range(o.was_low, o.was_high)}
        {had && !adopted && `, yours ${range(had.low, had.high)}`}
      </span>{" "}
      {adopted ? (
        <span>· adopted in this plan</span>
      ) : (
        <button type="button" className="act" onClick={adopt}>
          Adopt in this plan
        </button>
      )}
    </p>
  );
}
