// What is asked of a thing found in place, by what it is, and what follows for it from its state.
import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import type { Inspection } from "../../state/model";

export const STATES = ["good", "worn", "bad", "unknown"];
export type Answers = NonNullable<Inspection["answers"]>;
type Decision = NonNullable<Inspection["decision"]>;

/** Good is used and bad replaced, unless something else was decided; of anything else it is decided anew. */
export function decidedOf(condition: string, was: Decision = "undecided"): Decision {
  if (condition === "bad") return "replace";
  const open = was === "undecided" || was === "use";
  return !open ? was : condition === "good" ? "use" : "undecided";
}

export function Questions({
  what,
  record,
  onSay,
  className = "pl-[9.25rem]",
}: {
  what: string;
  record: Inspection;
  /** ``open``: only what is still open is answered. */
  onSay: (answers: Answers, open: boolean) => void;
  className?: string;
}) {
  const query = useQuery({ queryKey: ["questions"], queryFn: api.questions, staleTime: Infinity, retry: false });
  const asked = (query.data ?? []).filter((q) => q.what === what);
  const said = (key: string) => record.answers?.[key] ?? "unknown";
  const open = asked.filter((q) => said(q.key) === "unknown");
  if (asked.length === 0) return null;
  return (
    <div className={`${className} text-[13px]`}>
      {asked.map((q) => (
        <fieldset key={q.key} className="grid grid-cols-[1fr_auto] items-start gap-3">
          <legend className="sr-only">{q.question}</legend>
          <span
            aria-hidden="true"
            className={`${said(q.key) !== "unknown" && said(q.key) !== q.good ? "sev-Shortfall font-semibold" : ""}`}
          >
            {q.question}
          </span>
          <span className="flex gap-3">
            {(["yes", "no", "unknown"] as const).map((v) => (
              <label key={v} className="flex items-center gap-1">
                <input
                  type="radio"
                  name={`${record.id}-${q.key}`}
                  className="accent-[var(--color-accent)]"
                  checked={said(q.key) === v}
                  onChange={() => onSay({ [q.key]: v }, false)}
                />
                {v === "unknown" ? "not seen" : v}
              </label>
            ))}
          </span>
        </fieldset>
      ))}
      {open.length > 1 && (
        <button
          type="button"
          className="act plain"
          title={open.map((q) => `${q.question} ${q.good}`).join(" ")}
          onClick={() => onSay(Object.fromEntries(open.map((q) => [q.key, q.good as "yes" | "no"])), true)}
        >
          I looked for all {open.length}: {open.map((q) => q.good).join(", ")}
        </button>
      )}
    </div>
  );
}
