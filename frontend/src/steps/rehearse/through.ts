// Edits of how a station is gone through.
import { editDrop, type PlanEdit } from "../../state/edits";
import type { ActEdit, Drop, GoThrough, OwnSchool } from "../../state/model";
import { setSchools } from "../../state/schools";

const NONE: GoThrough = { order: null, backups: [], edits: [], pauses: [], stowed: false, without: [] };

export const throughOf = (drop: Drop): GoThrough => drop.station.through ?? NONE;

export function changeThrough(id: string, change: (t: GoThrough) => GoThrough): PlanEdit {
  return editDrop(id, (d) => ({ ...d, station: { ...d.station, through: change(throughOf(d)) } }));
}

/** The edit that moves an act after another, "" to the beginning; one move of an act stands for all of them. */
export function moved(drop: string, act: string, after: string): PlanEdit {
  return changeThrough(drop, (t) => ({
    ...t,
    edits: [...(t.edits ?? []).filter((e) => !(e.kind === "move" && e.act === act)), { kind: "move", act, after }],
  }));
}

/** The edit that leaves an act out; one that was added is taken back. */
export function dropped(drop: string, act: string): PlanEdit {
  return changeThrough(drop, (t) => {
    const rest = (t.edits ?? []).filter((e) => !("act" in e && e.act === act));
    // What a school of one's own puts in is left out here like any other act.
    const own = act.startsWith("own:") && !act.includes(".") ? act.slice(4) : null;
    return {
      ...t,
      edits: own ? rest.filter((e) => !(e.kind === "add" && e.id === own)) : [...rest, { kind: "drop", act }],
      pauses: (t.pauses ?? []).filter((p) => p.act !== act),
    };
  });
}

export function reworded(drop: string, act: string, words: string): PlanEdit {
  return changeThrough(drop, (t) => {
    const rest = (t.edits ?? []).filter((e) => !(e.kind === "reword" && e.act === act));
    return { ...t, edits: words ? [...rest, { kind: "reword", act, words }] : rest };
  });
}

export function added(
  drop: string,
  id: string,
  after: string,
  of: { do: string; who: string; what: string },
): PlanEdit {
  return changeThrough(drop, (t) => ({
    ...t,
    edits: [...(t.edits ?? []), { kind: "add", id, after, ...of } as ActEdit],
  }));
}

/** An id that no added act of a station has. */
export function freshAct(drop: Drop | undefined): string {
  const taken = new Set((drop ? throughOf(drop).edits : []).map((e) => (e.kind === "add" ? e.id : "")));
  let n = 1;
  while (taken.has(`a${n}`)) n++;
  return `a${n}`;
}

export function withoutEdit(drop: string, place: number): PlanEdit {
  return changeThrough(drop, (t) => ({ ...t, edits: (t.edits ?? []).filter((_, i) => i !== place) }));
}

export function paused(drop: string, act: string, on: boolean, looks: string | null = null): PlanEdit {
  return changeThrough(drop, (t) => {
    const rest = (t.pauses ?? []).filter((p) => p.act !== act);
    return { ...t, pauses: on ? [...rest, { act, looks, at: "" }] : rest };
  });
}

/** A station's changes kept as a school, and taken out of the station, which follows the school like any other. They
 * are found by what they are: others may have come or gone meanwhile. */
export function keepAs(drop: Drop, school: OwnSchool, places: readonly number[]): PlanEdit[] {
  const kept = new Set(
    throughOf(drop)
      .edits?.filter((_, i) => places.includes(i))
      .map((e) => JSON.stringify(e)),
  );
  return [
    setSchools((own) => [...own, school]),
    changeThrough(drop.id, (t) => ({ ...t, edits: (t.edits ?? []).filter((e) => !kept.has(JSON.stringify(e))) })),
  ];
}

/** A school followed at one station, or not. */
export function followHere(drop: string, school: string, on: boolean): PlanEdit {
  return changeThrough(drop, (t) => {
    const rest = (t.without ?? []).filter((id) => id !== school);
    return { ...t, without: on ? rest : [...rest, school] };
  });
}
