// One thing's record: what it has been through, how its owner's rules stand, and what is noted of it.
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { shown } from "../../say";
import { freshId } from "../../state/edits";
import { type GearEntry, useGear, useKeeping } from "../../state/gear";
import type { GearRecord, GearView, Rope, Rule, Total } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Choose, Labelled, Typed } from "../../ui/fields";
import { Num, Said } from "../../ui/Num";
import { parseTyped } from "../../ui/typed";
import { Unreadable, useUnread } from "../../ui/Unreadable";
import { Lengths } from "./Lengths";
import { NewEntry } from "./NewEntry";

type List = GearRecord["list"];
/** As the core tells names apart. */
const plainly = (name: string) => name.toLowerCase().split(/\s+/).filter(Boolean).join(" ");
const NOTHING = { days: 0, descents: 0, metres: 0, falls: 0, wet_days: 0 };
const TOTALS = [
  ["days", "days"],
  ["descents", "descents"],
  ["metres", "ridden"],
  ["falls", "falls"],
  ["wet_days", "wet days"],
] as const;
const RULES = [
  ["years_made", "years since made", ""],
  ["years_used", "years of use", ""],
  ["days", "days", ""],
  ["descents", "descents", ""],
  ["metres", "ridden", "length"],
  ["falls", "falls", ""],
  ["wet_days", "wet days", ""],
  ["shrunk_pct", "shrunk by, %", ""],
  ["inspect_days", "look over after, days", ""],
] as const;

const OF_THINGS = ["gear record", "records of a file", "descent"] as const;

export function Record({ list, item }: { list: List; item: { id: string; name: string } }) {
  const { view } = useSession();
  const { data, error } = useGear();
  const unread = useUnread(OF_THINGS, view.id).length > 0;
  const keeping = useKeeping();
  const [gone, setGone] = useState<{ id: string; revision: number } | null>(null);
  if (!data) return error && <p role="alert">{error.message}</p>;
  const places = data.things.find((t) => t.list === list && t.item === item.id)?.records ?? [];
  const own = places.map((i) => data.records[i]!);
  const free = data.records.filter((r) => r.id && r.record?.list === list && !own.includes(r));
  const label = list === "ropes" ? (item as Rope).nominal_m : null;
  const blank = (isNew: boolean): GearRecord => ({
    list,
    names: [item.name],
    made_on: null,
    first_used: null,
    label_m: label?.kind === "known" ? label.value : null,
    before: isNew ? NOTHING : null,
    entries: [],
    rules: Object.fromEntries(RULES.map(([key]) => [key, null])) as GearRecord["rules"],
    note: "",
  });
  return (
    <section className="mt-6" aria-label={`record of ${item.name}`}>
      <Unreadable kinds={OF_THINGS} plan={view.id} />
      {own.length === 0 && (
        <>
          <h3 className="text-[13px] font-bold">Its record</h3>
          <p className="quiet mb-2">
            {unread ? "Nothing that can be read" : "Nothing"} is recorded of it: use, lengths, inspections, when to
            retire it.
          </p>
          <div className="flex flex-wrap items-end gap-2">
            <button type="button" className="act" onClick={() => void keeping.begin(blank(true))}>
              Begin a record: it is new
            </button>
            <button type="button" className="act" onClick={() => void keeping.begin(blank(false))}>
              Begin a record: it was used before
            </button>
            {free.length > 0 && (
              <Choose
                label="or it is the one recorded as"
                value=""
                choices={free.map((r) => ({ value: r.id, label: r.record!.names.join(", ") }))}
                onChange={(id) => void keeping.save(id, (r) => ({ ...r, names: [...r.names, item.name] }))}
              />
            )}
          </div>
        </>
      )}
      {gone && (
        <p role="status" className="mt-2">
          The record was removed.{" "}
          <button
            type="button"
            className="act plain"
            onClick={() => void keeping.undo(gone.id, gone.revision).then((made) => made && setGone(null))}
          >
            Undo
          </button>
        </p>
      )}
      {keeping.refused && (
        <p role="alert" className="sev-Shortfall mt-2 font-semibold">
          {keeping.refused.message}
        </p>
      )}
      {own.map((v, i) => (
        <One
          key={v.id || i}
          view={v}
          name={item.name}
          keeping={keeping}
          onOther={() => {
            const not = plainly(item.name);
            void keeping.save(v.id, (r) => ({ ...r, names: r.names.filter((n) => plainly(n) !== not) }));
          }}
          onGone={() => {
            void keeping.remove(v.id).then((made) => made && setGone({ id: made.id, revision: made.revision }));
          }}
        />
      ))}
    </section>
  );
}

function One({
  view,
  name,
  keeping,
  onGone,
  onOther,
}: {
  view: GearView;
  name: string;
  keeping: ReturnType<typeof useKeeping>;
  onGone: () => void;
  onOther: () => void;
}) {
  const record = view.record!;
  const status = view.status!;
  const out = status.totals.out;
  const due = [...status.rules, ...(status.inspection ? [status.inspection] : [])];
  return (
    <div className="rule-t mt-3 pt-2">
      <div className="flex items-baseline gap-2">
        <h3 className="grow text-[13px] font-bold">{view.id ? "Its record" : "The record that came with this plan"}</h3>
        {view.id ? (
          <>
            {view.revision > 1 && (
              <button type="button" className="act plain" onClick={() => void keeping.undo(view.id, view.revision)}>
                Undo the last change
              </button>
            )}
            <button type="button" className="act plain" onClick={onGone}>
              Remove
            </button>
          </>
        ) : (
          <button type="button" className="act" onClick={() => void keeping.begin(record)}>
            Keep it with your own records
          </button>
        )}
      </div>
      {record.names.length > 1 && (
        <p className="quiet text-[13px]">
          of whatever is called {record.names.join(" or ")}{" "}
          {view.id && (
            <button type="button" className="act plain" onClick={onOther}>
              {name} is another thing
            </button>
          )}
        </p>
      )}
      {out && (
        <p className="sev-Shortfall text-[15px] font-bold">
          {out.kind === "retired" ? "Retired" : "Condemned"} on {out.on}. {out.words}
        </p>
      )}
      <dl className="my-2 flex flex-wrap gap-x-6 gap-y-1">
        {TOTALS.map(([key, label]) => (
          <div key={key}>
            <dt className="quiet text-xs">{label}</dt>
            <dd className="num text-[15px] font-semibold">
              <Counted of={status.totals[key]} />
            </dd>
          </div>
        ))}
        {status.shrunk && (
          <div>
            <dt className="quiet text-xs">shrunk by</dt>
            <dd className="num text-[15px] font-semibold">
              <Num n={status.shrunk[0]!} /> to <Num n={status.shrunk[1]!} />
            </dd>
          </div>
        )}
      </dl>
      {!out && due.length > 0 && (
        <ul aria-label="own rules">
          {due.map((r) => (
            <RuleLine key={r.key} r={r} />
          ))}
        </ul>
      )}
      <Lengths view={view} record={record} />
      {view.id && (
        <>
          <NewEntry
            list={record.list}
            onAdd={(e) =>
              keeping.save(view.id, (r) => ({
                ...r,
                entries: [...(r.entries ?? []), { ...e, id: freshId("e", r.entries ?? []) } as GearEntry],
              }))
            }
          />
          <Entries view={view} keeping={keeping} />
          <Facts record={record} onSet={(more) => void keeping.save(view.id, (r) => ({ ...r, ...more }))} />
        </>
      )}
    </div>
  );
}

function Counted({ of }: { of: Total }) {
  if (!of.high)
    return (
      <>
        <span className="quiet text-xs font-normal">at least</span> <Num n={of.low} />
      </>
    );
  return of.high.value === of.low.value ? (
    <Num n={of.low} />
  ) : (
    <>
      <Num n={of.low} /> to <Num n={of.high} />
    </>
  );
}

const STANDS: Record<Rule["stands"], string> = {
  reached: "sev-Shortfall font-semibold",
  "may be reached": "sev-Not-checked font-semibold",
  "not reached": "",
};

function RuleLine({ r }: { r: Rule }) {
  const look = r.key === "inspect_days" && r.stands === "reached";
  return (
    <li className={look ? "sev-Not-checked font-semibold" : STANDS[r.stands]} data-rule={r.key}>
      <Said s={r.said} />
      {r.stands !== "not reached" && ` · ${look ? "to be looked over" : r.stands}`}
    </li>
  );
}

function Entries({ view, keeping }: { view: GearView; keeping: ReturnType<typeof useKeeping> }) {
  const entries = [...(view.record!.entries ?? [])].sort((a, b) => (a.on < b.on ? 1 : -1));
  const { units } = usePrefs();
  const length = shown("length", units);
  const m = (v: number) => `${(v * length.factor).toFixed(length.digits)} ${length.unit}`;
  const told = (e: GearEntry): string => {
    switch (e.kind) {
      case "used": {
        const far = e.metres === null || e.metres === undefined ? "nobody knows how far" : m(e.metres);
        const wet = { yes: "wet", no: "dry", unknown: "wet or dry not noted" }[e.wet ?? "unknown"];
        const falls = e.falls ? `, ${e.falls} ${e.falls === 1 ? "fall" : "falls"}` : "";
        return `used: ${e.descents} ${e.descents === 1 ? "descent" : "descents"}, ${far}, ${wet}${falls}`;
      }
      case "measured":
        return `measured: ${m(e.length_m)}, ${e.method}`;
      case "inspected":
        return `looked over: ${e.found}`;
      case "damaged":
        return "damage";
      case "retired":
        return "retired";
    }
  };
  return (
    <ul className="mt-2" aria-label="what is noted">
      {entries.map((e) => (
        <li key={e.id} className="rule-t flex items-baseline gap-3 py-1 text-[13px]">
          <span className="num quiet shrink-0">{e.on}</span>
          <span className="grow">
            {told(e)}
            {e.words && <span className="quiet"> · {e.words}</span>}
            {"by" in e && e.by && <span className="quiet"> · {e.by}</span>}
          </span>
          <button
            type="button"
            className="act plain px-1"
            aria-label={`remove: ${told(e)}, ${e.on}`}
            onClick={() =>
              void keeping.save(view.id, (r) => ({ ...r, entries: (r.entries ?? []).filter((x) => x.id !== e.id) }))
            }
          >
            <Trash2 size={14} />
          </button>
        </li>
      ))}
    </ul>
  );
}

function Facts({ record, onSet }: { record: GearRecord; onSet: (more: Partial<GearRecord>) => void }) {
  const { units } = usePrefs();
  const length = shown("length", units);
  const rules = record.rules ?? {};
  const before = record.before ?? null;
  const isNew = before !== null && Object.values(before).every((n) => n === 0);
  const date = (key: "made_on" | "first_used", label: string) => (
    <Labelled label={label}>
      <input
        type="date"
        className="field w-full"
        aria-label={label}
        key={record[key] ?? ""}
        defaultValue={record[key] ?? ""}
        onBlur={(e) => (e.target.value || null) !== (record[key] ?? null) && onSet({ [key]: e.target.value || null })}
      />
    </Labelled>
  );
  const number = (text: string, quantity: "" | "length") =>
    text.trim() === "" ? null : (parseTyped(text, quantity || "count", quantity ? length.factor : 1) ?? -1);
  const written = (v: number | null | undefined, quantity: "" | "length") =>
    v === null || v === undefined ? "" : String(Number((quantity ? v * length.factor : v).toFixed(1)));
  return (
    <>
      <div className="mt-3 grid grid-cols-3 gap-x-4 gap-y-2 max-sm:grid-cols-2">
        {date("made_on", "made on")}
        {date("first_used", "first used")}
        <Choose
          label="before this record"
          value={before === null ? "unknown" : isNew ? "new" : "counted"}
          choices={[
            { value: "new", label: "it was new" },
            { value: "counted", label: "use counted" },
            { value: "unknown", label: "use not counted" },
          ]}
          onChange={(v) =>
            onSet({ before: v === "unknown" ? null : v === "new" ? NOTHING : { ...NOTHING, days: 1, descents: 1 } })
          }
        />
        {before !== null &&
          !isNew &&
          TOTALS.map(([key, label]) => (
            <Labelled key={key} label={`${label} before${key === "metres" ? `, ${length.unit}` : ""}`}>
              <Typed
                label={`${label} before`}
                className="num w-full text-right"
                value={written(before[key], key === "metres" ? "length" : "")}
                onCommit={(v) =>
                  onSet({ before: { ...before, [key]: number(v, key === "metres" ? "length" : "") ?? 0 } })
                }
              />
            </Labelled>
          ))}
      </div>
      <h4 className="mt-3 text-[13px] font-bold">Own rules: when to retire it, and to look it over</h4>
      <div className="grid grid-cols-3 gap-x-4 gap-y-2 max-sm:grid-cols-2">
        {RULES.filter(([key]) => record.list === "ropes" || key !== "shrunk_pct").map(([key, label, quantity]) => (
          <Labelled key={key} label={quantity ? `${label}, ${length.unit}` : label}>
            <Typed
              label={label}
              className="num w-full text-right"
              value={written(rules[key], quantity)}
              onCommit={(v) => onSet({ rules: { ...rules, [key]: number(v, quantity) } })}
            />
          </Labelled>
        ))}
      </div>
    </>
  );
}
