// The station's record of what was found in place: who looked when, what was seen, what was decided. Each kind asks
// its own questions.
import { useQuery } from "@tanstack/react-query";
import { Plus, Trash2 } from "lucide-react";
import { api } from "../../api/client";
import { freshId, setAt } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { At, CapacityField, ChoiceField, DateField, type Path, TextField } from "../../ui/fields";
import { today } from "./Features";

const GRID = "grid grid-cols-[8.5rem_1fr_6.5rem_7rem_2rem] items-center gap-x-3 gap-y-1";

export function Inspections({ drop }: { drop: Drop }) {
  const { edit } = useSession();
  const query = useQuery({ queryKey: ["questions"], queryFn: api.questions, staleTime: Infinity, retry: false });
  const at: Path = ["drops", `#${drop.id}`, "station", "inspections"];
  const records = drop.station.inspections ?? [];
  const found = (drop.station.features ?? []).filter((f) => f.kind !== "post" && f.in_place !== "no");
  const add = (item: string) =>
    edit(
      setAt(at, [
        ...records,
        {
          id: freshId("i", records),
          on: today(),
          item,
          found: "",
          condition: "unknown",
          answers: {},
          decision: "undecided",
        },
      ]),
    );
  return (
    <section aria-label="inspections">
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
        const feature = drop.station.features?.find((f) => f.name.toLowerCase() === r.item.toLowerCase());
        const asked = feature?.kind === "rated" ? (query.data ?? []).filter((q) => q.what === feature.what) : [];
        return (
          <div key={r.id} className="rule-t pb-1">
            <div className={`${GRID} py-0.5 [&_label>span.block]:hidden [&_label>span[role=alert]]:!block`}>
              <DateField label="looked at on" path={[...at, `#${r.id}`, "on"]} value={r.on ?? null} />
              <TextField label="what was looked at" path={[...at, `#${r.id}`, "item"]} value={r.item} />
              <ChoiceField
                label="its state"
                path={[...at, `#${r.id}`, "condition"]}
                value={r.condition ?? "unknown"}
                choices={["good", "worn", "bad", "unknown"]}
              />
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
              <span />
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
              />
            )}
            {asked.map((q) => {
              const answer = r.answers?.[q.key] ?? "unknown";
              return (
                <fieldset key={q.key} className="grid grid-cols-[1fr_auto] items-start gap-3 pl-[9.25rem] text-[13px]">
                  <legend className="sr-only">{q.question}</legend>
                  <span
                    aria-hidden="true"
                    className={`${answer !== "unknown" && answer !== q.good ? "sev-Shortfall font-semibold" : ""}`}
                  >
                    {q.question}
                  </span>
                  <span className="flex gap-3">
                    {(["yes", "no", "unknown"] as const).map((v) => (
                      <label key={v} className="flex items-center gap-1">
                        <input
                          type="radio"
                          name={`${r.id}-${q.key}`}
                          className="accent-[var(--color-accent)]"
                          checked={answer === v}
                          onChange={() => edit(setAt([...at, `#${r.id}`, "answers"], { ...r.answers, [q.key]: v }))}
                        />
                        {v === "unknown" ? "not seen" : v}
                      </label>
                    ))}
                  </span>
                </fieldset>
              );
            })}
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
  );
}
