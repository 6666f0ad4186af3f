// Schools of the guide's own: changes of the acts kept once, for this plan or for all new ones.
import { type QueryClient, useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, Refusal } from "../api/client";
import { freshId, type PlanEdit } from "./edits";
import type { ActEdit, KeptChange, OwnSchool, Plan, Shed } from "./model";
import { useSession } from "./plan";

export const ownSchools = (of: Plan | { shed: Shed }): readonly OwnSchool[] => of.shed.own_schools ?? [];

export const setSchools = (change: (own: readonly OwnSchool[]) => readonly OwnSchool[]): PlanEdit => {
  return (plan) => ({ ...plan, shed: { ...plan.shed, own_schools: [...change(ownSchools(plan))] } });
};

/** Other kit for a plan, which keeps the schools that it has. */
export const shedWithSchools = (shed: Shed): PlanEdit => {
  return (plan) => {
    const own = ownSchools(plan);
    const more = (shed.own_schools ?? []).filter((s) => !own.some((o) => alike(o, s)));
    return { ...plan, shed: { ...shed, own_schools: [...own, ...more] } };
  };
};

const alike = (a: OwnSchool, b: OwnSchool) => a.id === b.id || a.name.toLowerCase() === b.name.toLowerCase();

/** An id that no school has, here or in the common shed. */
export const freshSchool = (plan: Plan, common: Shed | null) =>
  freshId("school-", [...ownSchools(plan), ...(common?.own_schools ?? [])]);

/** What is kept, once where the same was changed for several people. */
export function oneOfEach(changes: readonly KeptChange[]): ActEdit[] {
  const made: ActEdit[] = [];
  const same = new Map<string, string>();
  const ids = new Map<string, string>();
  for (const { kept } of changes) {
    if (!kept) continue;
    const now = renamed(kept, ids);
    const key = JSON.stringify(now.kind === "add" ? { ...now, id: "" } : now);
    const known = same.get(key);
    if (known === undefined) {
      same.set(key, now.kind === "add" ? now.id : "");
      made.push(now);
    } else if (kept.kind === "add") ids.set(`own:${kept.id}`, `own:${known}`);
  }
  return made;
}

function renamed(e: ActEdit, ids: ReadonlyMap<string, string>): ActEdit {
  const to = (key: string) => ids.get(key) ?? key;
  if (e.kind === "add") return { ...e, after: to(e.after ?? "") };
  if (e.kind === "move") return { ...e, act: to(e.act), after: to(e.after ?? "") };
  return { ...e, act: to(e.act) };
}

/** The common shed's schools, as they are kept for all new plans, and how one is put among them or taken out. */
export function useForNewPlans() {
  const { view } = useSession();
  const client = useQueryClient();
  const key = ["shed", view.id, view.revision];
  const query = useQuery({ queryKey: key, queryFn: () => api.shed(view.id), placeholderData: (before) => before });
  const [refused, setRefused] = useState("");
  const common = query.data?.shed ?? null;
  const change = async (to: (own: readonly OwnSchool[]) => readonly OwnSchool[]) => {
    setRefused("");
    try {
      const now = await api.shed(view.id);
      const shed = { ...now.shed, own_schools: [...to(now.shed.own_schools ?? [])] };
      await api.saveShed(view.id, now.revision, shed);
    } catch (e) {
      setRefused(e instanceof Refusal ? e.message : String(e));
    }
    await refreshed(client);
  };
  return {
    common,
    refused,
    keep: (s: OwnSchool) => change((own) => withIt(own, s)),
    drop: (id: string) => change((own) => own.filter((o) => o.id !== id)),
  };
}

const withIt = (own: readonly OwnSchool[], s: OwnSchool) =>
  own.some((o) => o.id === s.id)
    ? own.map((o) => (o.id === s.id ? { ...s, followed: true } : o))
    : [...own, { ...s, followed: true }];

const refreshed = (client: QueryClient) => client.invalidateQueries({ queryKey: ["shed"] });
