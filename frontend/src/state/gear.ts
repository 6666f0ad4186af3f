// The gear record: what things have been through. It lies beside the plans and counts in all of them.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { api, Refusal } from "../api/client";
import type { GearRecord, GearView, PlanGear } from "./model";
import { useSession } from "./plan";

export type GearEntry = NonNullable<GearRecord["entries"]>[number];

export function useGear() {
  const { view } = useSession();
  // Which thing a record is of follows from names in the plan.
  return useQuery({ queryKey: ["gear", view.id, view.revision], queryFn: () => api.gear(view.id) });
}

/** What can be done with records; ``refused``: why the last act was not done, by its field. */
export function useKeeping() {
  const { view } = useSession();
  const client = useQueryClient();
  const { id } = view;
  const [refused, setRefused] = useState<{ field: string; message: string } | null>(null);
  const last = useRef<Promise<unknown>>(Promise.resolve());
  const tried = useCallback(
    (act: () => Promise<GearView>): Promise<GearView | null> => {
      // One after the other: each is made on what the one before left.
      const next = last.current.then(async () => {
        try {
          const made = await act();
          setRefused(null);
          await client.invalidateQueries({ queryKey: ["gear"] });
          // What the plan says of its things rests on their records.
          await client.invalidateQueries({ queryKey: ["plan", id] });
          return made;
        } catch (e) {
          if (!(e instanceof Refusal)) throw e;
          const [first] = e.problem.errors ?? [];
          setRefused({ field: first?.field ?? "", message: first?.message ?? e.problem.detail });
          return null;
        }
      });
      last.current = next;
      return next;
    },
    [client, id],
  );
  const now = (gear: string): GearView | undefined =>
    client
      .getQueriesData<PlanGear>({ queryKey: ["gear", id] })
      .flatMap(([, data]) => data?.records ?? [])
      .filter((r) => r.id === gear)
      .sort((a, b) => b.revision - a.revision)[0];
  return {
    refused,
    begin: (record: GearRecord) => tried(() => api.addGear(id, record)),
    save: (gear: string, edit: (record: GearRecord) => GearRecord) =>
      tried(() => {
        const had = now(gear)!;
        return api.saveGear(id, gear, had.revision, edit(had.record!));
      }),
    remove: (gear: string) => tried(() => api.removeGear(id, gear, now(gear)!.revision)),
    undo: (gear: string, revision: number) => tried(() => api.undoGear(id, gear, revision)),
  };
}
