// Something said, or taken over from another station, for several stations at once: what each has now stands beside it.

import { useState } from "react";
import { anchorAs, rigAs, wayAs } from "../../state/copied";
import { editDrop, type PlanEdit } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useSession } from "../../state/plan";
import { HANG, ROCK, SHARPNESS } from "../../ui/choices";
import { type Choice, Choose } from "../../ui/fields";
import { counted } from "../../ui/terms";

/** Something that may be set: what a station has now, whether that is still open, and the edit that sets it. */
interface Thing {
  name: string;
  choices: readonly (Choice | string)[];
  now: (drop: Drop) => string;
  open: (drop: Drop) => boolean;
  set: (drop: Drop, value: string) => PlanEdit;
  about?: string;
}

const edges = (drop: Drop) => (drop.section.kind === "quick" ? [drop.section] : drop.section.shots.slice(0, -1));
const told = (value: string | undefined, choices: readonly (Choice | string)[]) => {
  const found = choices.map((c) => (typeof c === "string" ? { value: c, label: c } : c)).find((c) => c.value === value);
  return !value || value === "unknown" ? "unknown" : (found?.label ?? value);
};

function plain(
  name: string,
  choices: readonly (Choice | string)[],
  get: (d: Drop) => string | undefined,
  put: (d: Drop, v: string) => Drop,
): Thing {
  return {
    name,
    choices,
    now: (d) => told(get(d), choices),
    open: (d) => (get(d) ?? "unknown") === "unknown",
    set: (drop, v) => editDrop(drop.id, (d) => put(d, v)),
  };
}

const ANSWERS: readonly Thing[] = [
  plain(
    "the rig gets wet",
    ["yes", "no", "unknown"],
    (d) => d.station.wet,
    (d, wet) => ({ ...d, station: { ...d.station, wet: wet as "yes" } }),
  ),
  plain(
    "cracks or flakes under the line",
    ["no", "yes", "unknown"],
    (d) => d.cracks,
    (d, cracks) => ({ ...d, cracks: cracks as "no" }),
  ),
  plain(
    "rock under the rope",
    ROCK,
    (d) => d.rock,
    (d, rock) => ({ ...d, rock: rock as "smooth" }),
  ),
  plain(
    "strands hang below the ring",
    HANG,
    (d) => d.station.strands_hang,
    (d, hang) => ({ ...d, station: { ...d.station, strands_hang: hang as "side by side" } }),
  ),
  {
    name: "edges of which nobody has said how sharp",
    choices: SHARPNESS.filter((s) => s !== "unknown"),
    now: (d) => {
      const open = edges(d).filter((e) => (e.edge ?? "unknown") === "unknown").length;
      return open ? `${open} of ${edges(d).length} open` : "all said";
    },
    open: (d) => edges(d).some((e) => (e.edge ?? "unknown") === "unknown"),
    set: (drop, v) =>
      editDrop(drop.id, (d) => {
        const say = <T extends { edge?: string | undefined }>(e: T): T =>
          (e.edge ?? "unknown") === "unknown" ? { ...e, edge: v } : e;
        const { section } = d;
        if (section.kind === "quick") return { ...d, section: say(section) };
        const last = section.shots.length - 1;
        return { ...d, section: { ...section, shots: section.shots.map((s, i) => (i < last ? say(s) : s)) } };
      }),
    about: "What somebody has said of an edge stays.",
  },
];

const TIED: Record<string, string> = {
  none: "nothing",
  wrap: "a post",
  several: "several points",
  "two posts": "two posts",
  direct: "one anchor",
};

/** What may be taken over from another station. */
function taken(drops: readonly Drop[]): readonly Thing[] {
  const from = drops.map((d, i) => ({ value: d.id, label: `as at ${i + 1} · ${d.name}` }));
  const of = (id: string) => drops.find((d) => d.id === id)!;
  const tied = (d: Drop) => [...new Set(d.station.states.map((s) => TIED[s.rig.kind] ?? s.rig.kind))].join(", ");
  const roped = (d: Drop) =>
    [...new Set(d.station.states.map((s) => s.system.kind))].join(", ").replace("none", "no way yet");
  const rule =
    "Taken over is what was decided: of a bolt or chain its rating, not checked until you say that it is so here. " +
    "What is to be measured, looked at or judged here stays open.";
  return [
    {
      name: "same anchor as at another station",
      choices: from,
      now: tied,
      open: (d) => d.station.states.every((s) => s.rig.kind === "none"),
      set: (d, id) => anchorAs(d.id, of(id)),
      about: `${rule} What was entered of the anchor here, and what was seen of it, goes with it.`,
    },
    {
      name: "same way as at another station",
      choices: from,
      now: roped,
      open: (d) => d.station.states.every((s) => s.system.kind === "none"),
      set: (d, id) => wayAs(d.id, of(id)),
      about: rule,
    },
    {
      name: "same anchor and way as at another station",
      choices: from,
      now: (d) => `${tied(d)}; ${roped(d)}`,
      open: (d) => d.station.states.every((s) => s.rig.kind === "none" && s.system.kind === "none"),
      set: (d, id) => rigAs(d, of(id)),
      about: rule,
    },
  ];
}

export function AtOnce() {
  const { plan, edit, tell } = useSession();
  const drops = plan.drops ?? [];
  const things = [...ANSWERS, ...taken(drops)];
  const [name, setName] = useState(things[0]!.name);
  const [picked, setValue] = useState("");
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const thing = things.find((t) => t.name === name) ?? things[0]!;
  // A station that it was to be taken from may be gone by now.
  const value = thing.choices.some((c) => (typeof c === "string" ? c : c.value) === picked) ? picked : "";
  const source = drops.some((d) => d.id === value);
  const on = drops.filter((d) => chosen.includes(d.id) && !(source && d.id === value));
  const flip = (id: string) => setChosen(chosen.includes(id) ? chosen.filter((x) => x !== id) : [...chosen, id]);
  const set = () => {
    edit(...on.map((d) => thing.set(d, value)));
    tell({ text: `${thing.name}: set at ${stations(on.length)}`, where: null, offer: "undo" });
    setChosen([]);
  };
  return (
    <div className="max-w-2xl">
      <h1 className="text-lg font-bold">Several stations at once</h1>
      <div className="mt-2 grid grid-cols-2 gap-x-4 gap-y-2">
        <Choose
          label="what is said or taken over"
          value={thing.name}
          choices={things.map((t) => t.name)}
          onChange={(v) => {
            setName(v);
            setValue("");
          }}
        />
        <Choose label="it is" value={value} choices={thing.choices} onChange={setValue} />
      </div>
      {thing.about && <p className="quiet mt-1 text-[13px]">{thing.about}</p>}
      <p className="mt-3 flex flex-wrap items-center gap-2 text-[13px]">
        <button type="button" className="act" disabled={!value || on.length === 0} onClick={set}>
          Set at {stations(on.length)}
        </button>
        <button type="button" className="act plain" onClick={() => setChosen(drops.map((d) => d.id))}>
          All stations
        </button>
        <button
          type="button"
          className="act plain"
          onClick={() => setChosen(drops.filter((d) => thing.open(d)).map((d) => d.id))}
        >
          Those where it is open
        </button>
        <button type="button" className="act plain" disabled={chosen.length === 0} onClick={() => setChosen([])}>
          None
        </button>
      </p>
      <ul aria-label="stations" className="mt-2">
        {drops.map((d, i) => (
          <li key={d.id} className="rule-t">
            <label className="flex min-h-8 cursor-pointer items-center gap-3 text-[13px]">
              <input
                type="checkbox"
                className="size-4 accent-[var(--color-accent)]"
                checked={chosen.includes(d.id)}
                disabled={source && d.id === value}
                onChange={() => flip(d.id)}
              />
              <span className="grow">
                <b>{i + 1}</b> {d.name}
              </span>
              <span className={thing.open(d) ? "sev-Not-checked" : "quiet"}>now: {thing.now(d)}</span>
            </label>
          </li>
        ))}
      </ul>
    </div>
  );
}

const stations = (n: number) => counted(n, "station");
