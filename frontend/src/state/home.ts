// What phones hand back of the plan's cards: what waits, what was accepted, and one of them beside the plan.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useCallback, useState } from "react";
import { api, Refusal } from "../api/client";
import type { CameHome, PlanView, Sentence } from "./model";
import { useSession } from "./plan";

const ROOM = 10_000;

/** All that was handed back, newest first; asked again now and then, as phones in the room may send some. */
export function useHanded() {
  const { view } = useSession();
  return useQuery({ queryKey: ["handed", view.id], queryFn: () => api.handed(view.id), refetchInterval: ROOM });
}

/** One hand-back beside the plan as it is now. */
export function useHomecoming(handedId: string) {
  const { view } = useSession();
  return useQuery({
    queryKey: ["handed", view.id, handedId, view.revision],
    queryFn: () => api.homecoming(view.id, handedId),
    enabled: handedId !== "",
    placeholderData: (before) => before,
  });
}

/** What can be done with what came home; ``refused``: why the last was not done; ``left``: what an undoing let be. */
export function useHome() {
  const { view } = useSession();
  const client = useQueryClient();
  const [refused, setRefused] = useState("");
  const [left, setLeft] = useState<readonly Sentence[]>([]);
  const { id, revision } = view;
  const tried = useCallback(
    async <T>(act: () => Promise<T>): Promise<T | null> => {
      setRefused("");
      setLeft([]);
      try {
        return await act();
      } catch (e) {
        if (!(e instanceof Refusal)) throw e;
        setRefused(e.problem.detail);
        return null;
      } finally {
        await client.invalidateQueries({ queryKey: ["handed", id] });
      }
    },
    [client, id],
  );
  const put = (plan: PlanView) => client.setQueryData(["plan", id], plan);
  return {
    refused,
    left,
    setRefused,
    handIn: (way: CameHome["way"], texts: readonly string[]) => tried(() => api.handIn(id, way, texts)),
    readCodes: (picture: string) => tried(() => api.readCodes(picture)),
    accept: (handedId: string, take: readonly string[]) =>
      tried(async () => put(await api.acceptHanded(id, handedId, revision, take))),
    refuse: (handedId: string) => tried(() => api.refuseHanded(id, handedId)),
    undo: (handedId: string) =>
      tried(async () => {
        const made = await api.undoHanded(id, handedId, revision);
        put(made.plan);
        setLeft(made.left);
      }),
  };
}
