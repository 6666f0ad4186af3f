// The open plan as the screens see it: its session, connected.
import { useQuery, useQueryClient } from "@tanstack/react-query";
import {
  createContext,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useMemo,
  useRef,
  useState,
  useSyncExternalStore,
} from "react";
import { api } from "../api/client";
import { type PlanEdit, resolved } from "./edits";
import type { Cell, Drop, Fix, Plan, PlanView, Problem } from "./model";
import { useSame } from "./same";
import { type Action, type Done, type State, savingOf, type Which } from "./session";
import { asProblem, keyed, keyOf, type Store, storeOf } from "./store";

export type { Done, Draft } from "./session";

interface Session {
  view: PlanView;
  /** The plan with edits that are still on their way. */
  plan: Plan;
  saving: ReturnType<typeof savingOf>;
  /** Why edits cannot be sent. */
  unsent: Problem | null;
  refused: Problem | null;
  /** What somebody else saved meanwhile, and whether there are edits of one's own. */
  conflict: { problem: Problem; mine: boolean } | null;
  /** The other plan that one's own edits were kept as. */
  copied: string | null;
  /** The revision before the last change that was seen here, null where there was none. */
  since: number | null;
  /** What was done last. */
  done: Done | null;
  /** Why what is shown could not be asked anew, "" where it could: then it may no longer be so. */
  behind: string;
  renew: () => void;
  edit: (...edits: PlanEdit[]) => void;
  retry: () => void;
  step: (which: Which) => void;
  settle: (how: "theirs" | "mine" | "copy") => void;
  dismiss: () => void;
  /** Say what was done, until something else is. */
  tell: (done: Done | null) => void;
  propose: (drop: Drop, index: number) => void;
  commit: () => void;
  cancel: () => void;
}

const Context = createContext<Session | null>(null);
const StoreContext = createContext<(Store & Pick<Session, "edit">) | null>(null);
/** So long what was just read need not be read again. */
const FRESH_MS = 1000;

export function PlanProvider({
  id,
  children,
  loading,
  failed,
}: {
  id: string;
  children: ReactNode;
  loading: ReactNode;
  failed: (p: Problem) => ReactNode;
}) {
  const client = useQueryClient();
  const { data, error, refetch } = useQuery({
    queryKey: keyOf(id),
    queryFn: async () => {
      const had = client.getQueryData<PlanView>(keyOf(id));
      const got = await (had ? api.openSince(had) : api.open(id));
      // A save may have been answered while this was on its way.
      const now = client.getQueryData<PlanView>(keyOf(id));
      return now && now.revision > got.revision ? now : got;
    },
    staleTime: Infinity,
    // Somebody at another screen, or a phone in the room, may have saved or said something meanwhile.
    refetchOnWindowFocus: "always",
    refetchOnMount: (query) => (Date.now() - query.state.dataUpdatedAt > FRESH_MS ? "always" : false),
    structuralSharing: false,
    retry: false,
  });
  const renew = useCallback(() => void refetch(), [refetch]);
  const trouble = error ? asProblem(error) : null;
  // What is on the screen stays, and is said to be behind, while the server is only silent; not where the plan is gone
  // or cannot be read.
  if (trouble && (!data || [404, 422].includes(trouble.status))) return failed(trouble);
  if (!data) return loading;
  return (
    <Connected view={data} behind={trouble?.detail ?? ""} renew={renew}>
      {children}
    </Connected>
  );
}

function Connected({
  view,
  behind,
  renew,
  children,
}: {
  view: PlanView;
  behind: string;
  renew: () => void;
  children: ReactNode;
}) {
  const client = useQueryClient();
  const [store] = useState(() => storeOf(view, client));
  const state = useSyncExternalStore(store.subscribe, store.get);
  useEffect(() => store.act({ kind: "opened", view }), [store, view]);
  const acts = useMemo(() => actsOf(store.act), [store]);
  const since = useSince(state.view, savingOf(state) === "saved");
  // A drag changes the state at every move, and nothing of what most of a screen shows.
  const session = useSame<Session>({ ...shownOf(state), since, behind, renew, ...acts });
  const held = useMemo(() => ({ ...store, edit: acts.edit }), [store, acts]);
  return (
    <StoreContext.Provider value={held}>
      <Context.Provider value={session}>{children}</Context.Provider>
    </StoreContext.Provider>
  );
}

/** The revision that stood before the one that stands. One that passes while something is yet to be saved is a part of
 *  the same change: an edit made again over somebody else's is told with theirs. */
function useSince({ id, revision }: PlanView, saved: boolean): number | null {
  const seen = useRef({ id, revision, before: null as number | null });
  const last = seen.current;
  if (last.id !== id) seen.current = { id, revision, before: null };
  else if (last.revision !== revision) {
    if (!saved) return null;
    seen.current = { id, revision, before: last.revision };
  }
  return seen.current.before;
}

const actsOf = (act: (a: Action) => void) => ({
  edit: (...edits: PlanEdit[]) => act({ kind: "edit", key: keyed(), edits }),
  retry: () => act({ kind: "retry" }),
  step: (which: Which) => act({ kind: "step", key: keyed(), which }),
  settle: (how: "theirs" | "mine" | "copy") => act({ kind: "settle", how }),
  dismiss: () => act({ kind: "dismiss" }),
  tell: (done: Done | null) => act({ kind: "tell", done }),
  propose: (drop: Drop, index: number) => act({ kind: "propose", drop, index }),
  commit: () => act({ kind: "commit", key: keyed() }),
  cancel: () => act({ kind: "cancel" }),
});

/** What of a state the screens show. */
function shownOf(s: State) {
  const { view, plan, unsent, refused, copied, done } = s;
  const conflict = s.conflict && { problem: s.conflict, mine: s.queue.length > 0 };
  return { view, plan, saving: savingOf(s), unsent, refused, conflict, copied, done };
}

function useStore() {
  const store = useContext(StoreContext);
  if (!store) throw new Error("asked outside PlanProvider");
  return store;
}

/** One thing of the session: who asks is drawn anew only where that is another. */
function useOf<T>(select: (s: State) => T): T {
  const store = useStore();
  return useSyncExternalStore(store.subscribe, () => select(store.get()));
}

/** Makes edits of the open plan, for what shows nothing else of it. */
export const useEdit = () => useStore().edit;
export const usePlanId = () => useOf((s) => s.id);

/** A drop as it is dragged, with its own answer; null where nothing is. */
export const useDragged = () => useOf((s) => s.draft);
/** Whether one is. */
export const useDragging = () => useOf((s) => s.draft !== null);

export function useSession(): Session {
  const session = useContext(Context);
  if (!session) throw new Error("useSession outside PlanProvider");
  return session;
}

/** A field's place in the plan as the server names it: by it a finding, a working and a refusal find the field. */
export function useFieldAt(path: readonly (string | number)[]): string {
  return useOf((s) => resolved(s.plan, path));
}

/** The message for one field, if the last edit was refused because of it. */
export function useFieldError(path: readonly (string | number)[]): string | null {
  return useOf(({ refused, plan }) => {
    if (!refused) return null;
    const at = resolved(plan, path);
    const hit = refused.errors?.find((e) => {
      const field = e.field.replace(/^plan\//, "").replace(/^drop\//, "");
      return field === at || field.startsWith(`${at}/`);
    });
    return hit ? hit.message : null;
  });
}

/** How much longer a drop may be than it is written: the one figure for it. Undefined while it is not worked out
 * yet, null where it cannot be. */
export function useLonger(drop: string): Cell | null | undefined {
  const { view } = useSession();
  const query = useQuery({
    queryKey: ["longer", view.id, view.rests, drop],
    queryFn: ({ signal }) => api.longer(view.id, view.revision, drop, signal),
    staleTime: Infinity,
    retry: false,
  });
  return query.isPending ? undefined : (query.data ?? null);
}

const PAUSE_MS = 250;
const NO_ACTS: ReadonlyMap<string, readonly Fix[]> = new Map();

/** The acts that settle findings of the whole plan and of one drop, by the finding's key: each was tried out. */
export function useOffers(drop = ""): ReadonlyMap<string, readonly Fix[]> {
  const { view } = useSession();
  const { findings, drops } = view.assessment;
  // What things have been through, which no revision tells, may bring a finding.
  // Asked once edits have paused: each act is tried out on the whole plan.
  const [paused, setPaused] = useState(-1);
  useEffect(() => {
    const wait = setTimeout(() => setPaused(view.revision), PAUSE_MS);
    return () => clearTimeout(wait);
  }, [view.revision]);
  const told = [...findings, ...(drops.find((d) => d.id === drop)?.findings ?? [])].map((f) => f.key);
  const query = useQuery({
    queryKey: ["offers", view.id, view.rests, drop, told],
    queryFn: async ({ signal }) => {
      const offers = await api.offers(view.id, view.revision, drop, signal);
      return new Map(offers.map((o) => [o.finding, o.fixes]));
    },
    staleTime: Infinity,
    enabled: paused === view.revision,
    retry: false,
  });
  return query.data ?? NO_ACTS;
}
