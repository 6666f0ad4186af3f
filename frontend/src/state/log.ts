// The plan's log: descents as they were, and what all of them teach. Every edit is a revision of its own.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useRef, useState } from "react";
import { api, Refusal } from "../api/client";
import type { PlanLog, Trip, TripView } from "./model";
import { useSession } from "./plan";

export function useLog() {
  const { view } = useSession();
  return useQuery({ queryKey: ["log", view.id, view.revision], queryFn: () => api.log(view.id) });
}

export const useLearnt = () => useQuery({ queryKey: ["learnt"], queryFn: api.learnt });

/** What was not kept: by what was edited, the field that is wrong and why. */
export type Refusals = Readonly<Record<string, { field: string; message: string }>>;

/** What can be done with the log; ``refused``: what was not kept. */
export function useLogging() {
  const { view } = useSession();
  const client = useQueryClient();
  // By what was edited, until it is edited again: what was typed and not kept stays told.
  const [refused, setRefused] = useState<Refusals>({});
  const refusals = useRef<Refusals>({});
  const waiting = useRef<{ what: string; edit: (trip: Trip) => Trip }[]>([]);
  const { id, revision } = view;
  const put = useCallback(
    (made: TripView) => {
      client.setQueryData<PlanLog>(["log", id, revision], (had) => {
        if (!had) return had;
        const trips = had.trips.some((t) => t.id === made.id)
          ? had.trips.map((t) => (t.id === made.id ? made : t))
          : [made, ...had.trips];
        // What came home of a day goes into its log whole.
        const days = had.days.filter((d) => d.on !== made.trip?.on || !made.trip.cards?.length);
        return { days, trips: trips.filter((t) => t.trip) };
      });
      void client.invalidateQueries({ queryKey: ["learnt"] });
      // The log books use, which the plan is held against.
      void client.invalidateQueries({ queryKey: ["gear"] });
      void client.invalidateQueries({ queryKey: ["plan", id] });
    },
    [client, id, revision],
  );
  const tried = async (act: () => Promise<TripView>, what = ""): Promise<TripView | null> => {
    const { [what]: _, ...others } = refusals.current;
    try {
      const made = await act();
      put(made);
      refusals.current = others;
      return made;
    } catch (e) {
      if (!(e instanceof Refusal)) throw e;
      const [first] = e.problem.errors ?? [];
      const why = { field: first?.field ?? "", message: first?.message ?? e.problem.detail };
      refusals.current = { ...others, [what]: why };
      return null;
    } finally {
      setRefused(refusals.current);
    }
  };
  return {
    refused,
    begin: async (on: string) => {
      const made = await tried(async () => api.addTrip(id, await api.beginTrip(id, on)));
      if (made) await client.invalidateQueries({ queryKey: ["log", id] });
      return made;
    },
    /** Edits are made one after the other, each on what the one before left. */
    save: async (tripId: string, what: string, edit: (trip: Trip) => Trip) => {
      waiting.current.push({ what, edit });
      if (waiting.current.length > 1) return;
      while (waiting.current.length > 0) {
        const now = client.getQueryData<PlanLog>(["log", id, revision])?.trips.find((t) => t.id === tripId);
        const [next] = waiting.current;
        if (now?.trip && next) {
          await tried(() => api.saveTrip(id, tripId, now.revision, next.edit(now.trip!)), `${tripId} ${next.what}`);
        }
        waiting.current.shift();
      }
    },
    remove: async (t: TripView) => {
      const made = await tried(() => api.removeTrip(id, t.id, t.revision));
      if (made) await client.invalidateQueries({ queryKey: ["log", id] });
      return made;
    },
    undo: async (t: { id: string; revision: number }) => {
      const made = await tried(() => api.undoTrip(id, t.id, t.revision));
      if (made) await client.invalidateQueries({ queryKey: ["log", id] });
      return made;
    },
  };
}
