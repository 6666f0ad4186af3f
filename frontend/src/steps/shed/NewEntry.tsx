// Something to note in a thing's record: looked over, measured, damage, use outside the log, retired.
import { useState } from "react";
import { shown } from "../../say";
import type { GearEntry } from "../../state/gear";
import type { GearRecord, GearView } from "../../state/model";
import { usePrefs } from "../../state/prefs";
import { Choose, Labelled } from "../../ui/fields";
import { parseTyped } from "../../ui/typed";

type Kind = GearEntry["kind"];
const KINDS: readonly (readonly [Kind, string])[] = [
  ["inspected", "Looked over"],
  ["measured", "Measured"],
  ["damaged", "Damage"],
  ["used", "Used outside the log"],
  ["retired", "Retire it"],
];
const today = () => {
  const now = new Date();
  return new Date(now.getTime() - now.getTimezoneOffset() * 60_000).toISOString().slice(0, 10);
};

export function NewEntry({
  list,
  onAdd,
}: {
  list: GearRecord["list"];
  onAdd: (entry: Omit<GearEntry, "id">) => Promise<GearView | null>;
}) {
  const [kind, setKind] = useState<Kind | null>(null);
  return (
    <div className="mt-2">
      <div className="flex flex-wrap gap-1.5" role="group" aria-label="note">
        {KINDS.filter(([k]) => k !== "measured" || list === "ropes").map(([k, label]) => (
          <button
            key={k}
            type="button"
            className={`act ${kind === k ? "" : "plain"}`}
            aria-expanded={kind === k}
            onClick={() => setKind(kind === k ? null : k)}
          >
            {label}
          </button>
        ))}
      </div>
      {kind && (
        <Form
          key={kind}
          kind={kind}
          onAdd={async (e) => {
            if (await onAdd(e)) setKind(null);
          }}
        />
      )}
    </div>
  );
}

function Form({ kind, onAdd }: { kind: Kind; onAdd: (entry: Omit<GearEntry, "id">) => Promise<void> }) {
  const { units } = usePrefs();
  const length = shown("length", units);
  const [on, setOn] = useState(today);
  const [text, setText] = useState<Record<string, string>>({
    found: "good",
    method: "tape",
    wet: "unknown",
    descents: "1",
    falls: "0",
  });
  const set = (key: string) => (v: string) => setText((t) => ({ ...t, [key]: v }));
  const field = (key: string, label: string, className = "") => (
    <Labelled label={label} className={className}>
      <input
        className={`field w-full ${key === "words" || key === "by" ? "" : "num text-right"}`}
        aria-label={label}
        value={text[key] ?? ""}
        onChange={(e) => set(key)(e.target.value)}
      />
    </Labelled>
  );
  const metres = (key: string) => parseTyped(text[key] ?? "", "length", length.factor);
  const said = { on, words: text.words ?? "" };
  const made = (): Omit<GearEntry, "id"> => {
    const by = text.by ?? "";
    switch (kind) {
      case "inspected":
        return { kind, ...said, by, found: text.found as "good" } as Omit<GearEntry, "id">;
      case "measured":
        return { kind, ...said, by, length_m: metres("m") ?? -1, method: text.method } as Omit<GearEntry, "id">;
      case "used":
        return {
          kind,
          ...said,
          descents: Number(text.descents),
          metres: text.m?.trim() ? (metres("m") ?? -1) : null,
          falls: Number(text.falls),
          wet: text.wet,
        } as Omit<GearEntry, "id">;
      default:
        return { kind, ...said, by } as Omit<GearEntry, "id">;
    }
  };
  return (
    <form
      className="mt-2 grid grid-cols-[9rem_repeat(4,minmax(0,1fr))] items-end gap-2 max-sm:grid-cols-2"
      aria-label={KINDS.find(([k]) => k === kind)![1]}
      onSubmit={(e) => {
        e.preventDefault();
        void onAdd(made());
      }}
    >
      <Labelled label="on">
        <input
          type="date"
          className="field w-full"
          aria-label="on"
          value={on}
          onChange={(e) => setOn(e.target.value)}
        />
      </Labelled>
      {kind === "inspected" && (
        <Choose
          label="found"
          value={text.found!}
          choices={["good", { value: "worn", label: "worn, still used" }, "condemned"]}
          onChange={set("found")}
        />
      )}
      {kind === "measured" && (
        <>
          {field("m", `length, ${length.unit}`)}
          <Choose
            label="measured with"
            value={text.method!}
            choices={["tape", "rangefinder", "known rope", "eye"]}
            onChange={set("method")}
          />
        </>
      )}
      {kind === "used" && (
        <>
          {field("descents", "descents")}
          {field("m", `ridden, ${length.unit}`)}
          {field("falls", "falls")}
          <Choose
            label="it got wet"
            value={text.wet!}
            choices={["yes", "no", { value: "unknown", label: "not noted" }]}
            onChange={set("wet")}
          />
        </>
      )}
      {kind !== "used" && field("by", "by")}
      {field("words", kind === "damaged" ? "what, and where" : "in words", "col-span-2")}
      <button type="submit" className="act justify-self-start">
        Note it
      </button>
    </form>
  );
}
