// What lies ahead of the plan, asked station by station and then as a whole; what of it is looked at.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useContext, useMemo, useState } from "react";
import { api } from "../api/client";
import type { Cell, Prospect } from "./model";
import { useSession } from "./plan";

export interface Opened {
  drop: string;
  event: Cell["event"];
}
interface Ahead {
  /** What lies ahead, of this revision or, while that is worked out, of the last that was. */
  prospect: Prospect | null;
  /** Whether it belongs to the revision that is shown. */
  fresh: boolean;
  working: { done: number; of: number } | null;
  error: string;
  stopped: boolean;
  stop: () => void;
  again: () => void;
  /** The rope that is lit, "" for none. */
  lit: string;
  light: (rope: string) => void;
  /** The event at a station whose story is open. */
  opened: Opened | null;
  open: (cell: Opened | null) => void;
}

const Context = createContext<Ahead | null>(null);

export function DescentProvider({ children }: { children: ReactNode }) {
  const { view } = useSession();
  const client = useQueryClient();
  const [working, setWorking] = useState<Ahead["working"]>(null);
  const [stopped, setStopped] = useState("");
  const [lit, light] = useState("");
  const [opened, open] = useState<Opened | null>(null);
  const key = ["prospect", view.id, view.rests];
  const query = useQuery({
    queryKey: key,
    queryFn: async ({ signal }) => {
      const drops = view.plan.drops ?? [];
      // Each station by itself: what did not change is known at once, and leaving stops what is under way.
      for (const [i, d] of drops.entries()) {
        setWorking({ done: i, of: drops.length });
        await api.serving(view.id, view.revision, d.id, signal);
      }
      setWorking({ done: drops.length, of: drops.length });
      try {
        return await api.prospect(view.id, view.revision, signal);
      } finally {
        setWorking(null);
      }
    },
    staleTime: Infinity,
    retry: false,
    enabled: stopped !== view.rests,
    placeholderData: (before) => before,
  });
  const value = useMemo<Ahead>(
    () => ({
      prospect: query.data ?? null,
      fresh: query.data !== undefined && !query.isPlaceholderData,
      working: query.isFetching ? (working ?? { done: 0, of: view.plan.drops?.length ?? 0 }) : null,
      error: query.error && !query.isFetching ? query.error.message : "",
      stopped: stopped === view.rests,
      stop: () => {
        setStopped(view.rests);
        void client.cancelQueries({ queryKey: ["prospect", view.id] });
        void api.cancelProspect(view.id).catch(() => undefined);
      },
      again: () => {
        setStopped("");
        void client.refetchQueries({ queryKey: ["prospect", view.id, view.rests] });
      },
      lit,
      light,
      opened,
      open,
    }),
    [query.data, query.isPlaceholderData, query.isFetching, query.error, working, stopped, lit, opened, view, client],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

/** The drops after whose pull there is no way back, where that is looked at. */
export function useNoReturn(): readonly string[] {
  const prospect = useContext(Context)?.prospect;
  return useMemo(() => prospect?.returns.map((r) => r.drop) ?? NOWHERE, [prospect]);
}
const NOWHERE: readonly string[] = [];

export function useAhead(): Ahead {
  const ahead = useContext(Context);
  if (!ahead) throw new Error("useAhead outside DescentProvider");
  return ahead;
}
