// The station's record of what was found in place: who looked when, what was seen, what was decided. Each kind asks
// its own questions.
import { Plus, Trash2 } from "lucide-react";
import { useState } from "react";
import { freshId, setAt } from "../../state/edits";
import type { Drop, Feature, Inspection } from "../../state/model";
import { useSession } from "../../state/plan";
import { At, CapacityField, ChoiceField, Choose, DateField, type Path, TextField, Together } from "../../ui/fields";
import { today } from "./Features";
import { type Answers, decidedOf, Questions, STATES } from "./Questions";

const GRID = "grid grid-cols-[8.5rem_1fr_6.5rem_7rem_2rem] items-center gap-x-3 gap-y-1";

const LIST = new Intl.ListFormat("en-GB");
const listed = (names: readonly string[]) => LIST.format(names);
/** What a thing is, as far as what is asked of it goes. */
const kindOf = (f: Feature | undefined) => (f?.kind === "rated" ? f.what : f?.kind);

export function Inspections({ drop }: { drop: Drop }) {
  const { edit } = useSession();
  const at: Path = ["drops", `#${drop.id}`, "station", "inspections"];
  const records = drop.station.inspections ?? [];
  const features: readonly Feature[] = drop.station.features ?? [];
  const found = features.filter((f) => f.kind !== "post" && f.in_place !== "no");
  const [together, setTogether] = useState<readonly string[]>([]);
  const some = records.filter((r) => together.includes(r.id));
  const featureOf = (item: string) => features.find((f) => f.name.toLowerCase() === item.toLowerCase());
  const add = (...items: string[]) => {
    const made = [...records];
    for (const item of items)
      made.push({
        id: freshId("i", made),
        on: today(),
        item,
        found: "",
        condition: "unknown",
        answers: {},
        decision: "undecided",
      });
    edit(setAt(at, made));
    setTogether(items.length > 1 ? made.slice(-items.length).map((r) => r.id) : []);
  };
  /** A record, with the others that were chosen with it of things of its kind. */
  const alikeTo = (of: Inspection) =>
    together.includes(of.id) ? some.filter((r) => kindOf(featureOf(r.item)) === kindOf(featureOf(of.item))) : [of];
  /** The same of the others that were chosen, where one is entered; what a thing holds goes to its kind alone. */
  const also = (path: Path): readonly Path[] => {
    const [, , , list, key] = path.map(String);
    const rest = path.slice(5);
    const own = some.find((r) => (list === "features" ? `#${featureOf(r.item)?.id}` : `#${r.id}`) === key);
    if (!own || rest[0] === "item") return [];
    if (list !== "features") return some.filter((r) => r !== own).map((r) => [...at, `#${r.id}`, ...rest]);
    const things = new Set(alikeTo(own).map((r) => `#${featureOf(r.item)?.id}`));
    return [...things].filter((id) => id !== key).map((id) => [...path.slice(0, 4), id, ...rest]);
  };
  const say = (of: Inspection, said: Answers, open: boolean) =>
    edit(
      ...alikeTo(of).map((r) => {
        // What was answered of one of them by itself stays where only what is open is answered.
        const kept = Object.entries(r.answers ?? {}).filter(([, v]) => open && v !== "unknown");
        return setAt([...at, `#${r.id}`, "answers"], { ...r.answers, ...said, ...Object.fromEntries(kept) });
      }),
    );
  const judge = (of: Inspection, condition: string) =>
    edit(
      ...(together.includes(of.id) ? some : [of]).flatMap((r) => [
        setAt([...at, `#${r.id}`, "condition"], condition),
        setAt([...at, `#${r.id}`, "decision"], decidedOf(condition, r.decision)),
      ]),
    );
  const groups = [...new Set(found.map(kindOf))]
    .map((what) => ({ what, of: found.filter((f) => kindOf(f) === what).map((f) => f.name) }))
    .filter((g) => g.of.length > 1);
  return (
    <Together.Provider value={also}>
      <section aria-label="inspections">
        {some.length > 1 && (
          <p role="status" className="mb-1 text-[13px]">
            <b>{listed(some.map((r) => r.item))} together</b>: what is entered for one is entered for each of them.{" "}
            <button type="button" className="act plain" onClick={() => setTogether([])}>
              Each by itself
            </button>
          </p>
        )}
        {records.length > 0 && (
          <div className={`${GRID} quiet text-xs`}>
            <span>looked at on</span>
            <span>what, and what was seen</span>
            <span>state</span>
            <span>decision</span>
            <span />
          </div>
        )}
        {records.map((r) => {
          const feature = featureOf(r.item);
          return (
            <div key={r.id} className="rule-t pb-1">
              <div className={`${GRID} py-0.5 [&_label>span.block]:hidden [&_label>span[role=alert]]:!block`}>
                <DateField label="looked at on" path={[...at, `#${r.id}`, "on"]} value={r.on ?? null} />
                <TextField label="what was looked at" path={[...at, `#${r.id}`, "item"]} value={r.item} />
                <At path={[...at, `#${r.id}`, "condition"]} open={(r.condition ?? "unknown") === "unknown"}>
                  <Choose
                    label="its state"
                    value={r.condition ?? "unknown"}
                    choices={STATES}
                    onChange={(v) => judge(r, v)}
                  />
                </At>
                <ChoiceField
                  label="decision"
                  path={[...at, `#${r.id}`, "decision"]}
                  value={r.decision ?? "undecided"}
                  choices={["use", "back up", "replace", "undecided"]}
                />
                <button
                  type="button"
                  className="act plain px-1"
                  aria-label="remove this record"
                  onClick={() =>
                    edit(
                      setAt(
                        at,
                        records.filter((x) => x.id !== r.id),
                      ),
                    )
                  }
                >
                  <Trash2 size={15} />
                </button>
                {records.length > 1 ? (
                  <label className="quiet flex items-center gap-1 text-xs">
                    <input
                      type="checkbox"
                      className="size-4 accent-[var(--color-accent)]"
                      aria-label={`${r.item} together with others`}
                      checked={together.includes(r.id)}
                      onChange={() =>
                        setTogether(together.includes(r.id) ? together.filter((x) => x !== r.id) : [...together, r.id])
                      }
                    />
                    together
                  </label>
                ) : (
                  <span />
                )}
                <TextField
                  label="what was seen"
                  path={[...at, `#${r.id}`, "found"]}
                  value={r.found ?? ""}
                  className="col-span-3"
                />
              </div>
              {feature?.kind === "rated" && (
                <CapacityField
                  className="mb-1 pl-[9.25rem]"
                  label="what it holds, and by whom it is given"
                  path={["drops", `#${drop.id}`, "station", "features", `#${feature.id}`, "holds"]}
                  capacity={feature.holds}
                  typicalAt={["drops", `#${drop.id}`, "station", "features", `#${feature.id}`, "typical"]}
                />
              )}
              {feature?.kind === "rated" && (
                <Questions what={feature.what ?? "other"} record={r} onSay={(said, open) => say(r, said, open)} />
              )}
            </div>
          );
        })}
        {records.length === 0 && (
          <p className="quiet mb-2">
            Nothing recorded. What is found in place stays unknown until somebody has looked at it.
          </p>
        )}
        <At path={at}>
          <div className="mt-1 flex flex-wrap gap-2">
            {groups.map((g) => (
              <button key={g.what} type="button" className="act" onClick={() => add(...g.of)}>
                <Plus size={14} className="inline" /> I looked at {listed(g.of)} together
              </button>
            ))}
            {found.map((f) => (
              <button key={f.id} type="button" className="act" onClick={() => add(f.name)}>
                <Plus size={14} className="inline" /> I looked at {f.name}
              </button>
            ))}
            {found.length === 0 && (
              <button type="button" className="act" onClick={() => add("in-place item")}>
                <Plus size={14} className="inline" /> I looked at something
              </button>
            )}
          </div>
        </At>
      </section>
    </Together.Provider>
  );
}
