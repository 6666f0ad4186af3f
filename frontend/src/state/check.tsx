// The second check: what there is to look at in this revision, who looks at it, and what was said.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useMemo, useState } from "react";
import { api, Refusal, type Saying } from "../api/client";
import type { Checked, Count, Looked, Mark, PlanView, Tally } from "./model";
import { useSession } from "./plan";

interface Checking {
  checked: Checked | null;
  error: string;
  dropId: string;
  by: string;
  setBy: (name: string) => void;
  /** Says something of items; what is wrong with it, "" if it was kept. */
  say: (...verdicts: Saying[]) => Promise<string>;
}

const Context = createContext<Checking | null>(null);
const keyOf = (of: PlanView, verdicts: number) => ["check", of.id, of.rests, verdicts] as const;

/** Whether it still counts: an objection does until it is taken back. */
export const holds = (m: Mark): boolean => m.verdict === "objected" || m.changed.length === 0;

export function CheckProvider({ dropId, children }: { dropId: string; children: ReactNode }) {
  const { view } = useSession();
  const client = useQueryClient();
  const [by, setName] = useState(() => localStorage.getItem("who checks") ?? "");
  const setBy = useCallback((name: string) => {
    setName(name);
    localStorage.setItem("who checks", name);
  }, []);
  const { id, revision } = view;
  const query = useCheck(true);
  const say = useCallback(
    async (...verdicts: Saying[]) => {
      try {
        const made = await api.say(id, revision, by.trim(), verdicts);
        client.setQueryData(keyOf(view, view.standing.verdicts + verdicts.length), made);
        await client.invalidateQueries({ queryKey: ["plan", id] });
        return "";
      } catch (e) {
        if (!(e instanceof Refusal)) throw e;
        return (e.problem.errors ?? [])[0]?.message ?? e.problem.detail;
      }
    },
    [view, id, revision, by, client],
  );
  const value = useMemo<Checking>(
    () => ({ checked: query.data ?? null, error: query.error?.message ?? "", dropId, by, setBy, say }),
    [query.data, query.error, dropId, by, setBy, say],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useChecking(): Checking {
  const checking = useContext(Context);
  if (!checking) throw new Error("useChecking outside CheckProvider");
  return checking;
}

function useCheck(wanted: boolean) {
  const { view } = useSession();
  return useQuery({
    queryKey: keyOf(view, view.standing.verdicts),
    queryFn: ({ signal }) => api.check(view.id, view.revision, signal),
    enabled: wanted,
    staleTime: Infinity,
    retry: false,
    placeholderData: (before) => before,
  });
}

/** How a finding stands of which somebody said something. Findings of other steps are looked up once somebody did. */
export function useStanding(): (key: string) => Looked | undefined {
  const { view } = useSession();
  const { data } = useCheck(view.standing.verdicts > 0);
  const all = useMemo(
    () => new Map((data?.looked ?? []).filter((x) => x.marks.length > 0).map((x) => [x.item.key, x])),
    [data],
  );
  return (key) => view.standing.findings[key] ?? all.get(`finding:${key}`);
}

/** How the plan stands, in three figures, by all that is worked out of it: with the plan, or since. */
export function useTally(): Tally {
  const { view } = useSession();
  const { id, revision, rests, standing } = view;
  const known = { enabled: false, staleTime: Infinity } as const;
  const ahead = useQuery({ queryKey: ["prospect", id, rests], queryFn: () => api.prospect(id, revision), ...known });
  const acts = useQuery({
    queryKey: ["rehearsal", id, rests],
    queryFn: () => api.rehearsal(id, revision),
    ...known,
  });
  const since = [
    ahead.data !== undefined && standing.tally.descent.pending,
    acts.data !== undefined && standing.tally.acts.pending,
  ];
  const now = useQuery({
    queryKey: ["standing", id, rests, standing.verdicts, ...since],
    queryFn: () => api.standing(id, revision),
    enabled: since.includes(true),
    staleTime: Infinity,
    retry: false,
  });
  const { data: checked } = useCheck(standing.verdicts > 0);
  return checked?.tally ?? now.data?.tally ?? standing.tally;
}

/** A tally of which nobody said anything. */
export const NOBODY = (open: Count["open"]): Count => ({ open, accepted: {}, overruled: 0, objections: 0 });

/** How the findings of a drop stand, "" for the whole plan: the tally where nobody said anything. */
export function useCount(): (drop: string, tally: Count["open"]) => Count {
  const { view } = useSession();
  return (drop, tally) => view.standing.counts[drop] ?? NOBODY(tally);
}
