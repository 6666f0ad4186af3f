// The descent gone through act by act: stations as they come, the act and the person in view, what is broken or tried.
import { queryOptions, useQueries, useQuery, useQueryClient } from "@tanstack/react-query";
import { createContext, type ReactNode, useCallback, useContext, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api } from "../api/client";
import { applyEdits } from "./edits";
import type { Broken, Fault, Fix, Move, PlanView, Rehearsal, Span, StationRun, Step } from "./model";
import { useSession } from "./plan";
import { useSame } from "./same";

export interface StationAt {
  drop: string;
  /** Null until it has been gone through once. */
  run: StationRun | null;
  /** It belongs to an older revision; a newer one is on its way. */
  stale: boolean;
}
interface Tried {
  fix: Fix;
  run: StationRun | null;
}
interface Going {
  stations: readonly StationAt[];
  /** Place of the station in view. */
  k: number;
  /** Its acts as they are shown: as planned, or with what is tried. */
  run: StationRun | null;
  stale: boolean;
  error: string;
  /** The act in view, from 0; its step. */
  n: number;
  step: Step | null;
  go: (n: number, drop?: string) => void;
  /** Brings an act into view by its key, also one that is only being added, right after the one in view. */
  show: (key: string) => void;
  /** An act on or back, over the stations' ends. */
  walk: (by: 1 | -1) => void;
  /** The move in view, and how one gets to the next or the one before. */
  move: Move | null;
  walkMove: (by: 1 | -1) => void;
  /** The person in view, and whether somebody chose them; "" lets it follow whoever acts. */
  who: string;
  chosen: boolean;
  setWho: (who: string) => void;
  /** Every single fault of the act in view, once it is there. */
  state: Broken | null;
  broken: Fault | null;
  breakIt: (key: string) => void;
  whole: Rehearsal | null;
  /** What is said of the whole is of an older revision; it is being gone through again. */
  behind: boolean;
  /** Hazards that stand after the act in view. */
  spans: readonly Span[];
  tried: Tried | null;
  tryFix: (fix: Fix | null) => void;
  takeFix: () => void;
}

const Context = createContext<Going | null>(null);
const wholeKey = (of: PlanView) => ["rehearsal", of.id, of.rests] as const;

const runOf = (of: PlanView, drop: string) =>
  queryOptions({
    queryKey: ["run", of.id, of.rests, drop],
    queryFn: ({ signal }) => api.stationRun(of.id, of.revision, drop, signal),
    staleTime: Infinity,
    retry: false,
  });

const answers = (results: readonly { data: StationRun | undefined }[]) => results.map((r) => r.data);

/** Whether a hazard stands after an act, from 1. */
export const stands = (s: Span, n: number): boolean => s.begin <= n && (s.end === 0 || n < s.end);

/** Every station's run as far as it is there, and what is said of all. */
function useRuns(view: PlanView, drops: readonly string[], dropId: string) {
  const { id, revision, rests } = view;
  // The station in view first, then what is said of all, then the others.
  const first = useQuery(runOf(view, dropId));
  const ready = first.data !== undefined;
  const others = useQueries({
    queries: drops.map((d) => ({ ...runOf(view, d), enabled: false })),
    combine: answers,
  });
  const whole = useQuery({
    queryKey: wholeKey(view),
    queryFn: ({ signal }) => api.rehearsal(id, revision, signal),
    staleTime: Infinity,
    retry: false,
    enabled: ready,
    placeholderData: (before) => before,
  });
  const client = useQueryClient();
  // A save is asked for at once, while the rest of the screen is drawn anew.
  useEffect(
    () =>
      client.getQueryCache().subscribe(({ type, query }) => {
        const [of, whose] = query.queryKey;
        const saved = query.state.data as PlanView | undefined;
        if (type === "updated" && of === "plan" && whose === id && saved && saved.rests !== rests)
          void client.prefetchQuery(runOf(saved, dropId));
      }),
    [client, id, rests, dropId],
  );
  // The others one by one, once this one is seen.
  useEffect(() => {
    if (!ready) return;
    let on = true;
    const fill = async () => {
      for (const d of drops) if (on) await client.prefetchQuery(runOf(view, d));
    };
    const later = setTimeout(() => void fill(), 50);
    return () => {
      on = false;
      clearTimeout(later);
    };
  }, [client, view, drops, ready]);
  // What was last known of each station stays in sight, marked, until the new revision's is there.
  const last = useRef<Record<string, StationRun>>({});
  const stations = useMemo(
    () =>
      drops.map((drop, i): StationAt => {
        const now = (drop === dropId ? first.data : undefined) ?? others[i];
        if (now) last.current[drop] = now;
        return { drop, run: now ?? last.current[drop] ?? null, stale: !now };
      }),
    [drops, dropId, first.data, others],
  );

  const error = first.error && !first.isFetching ? first.error.message : "";
  return { stations, error, whole: whole.data ?? null, behind: whole.isPlaceholderData };
}

/** What is tried of one station: an act that settles a finding, and the station's run with it. */
function useTrial({ id, revision, rests, plan }: PlanView, dropId: string) {
  const [fix, setFix] = useState<Fix | null>(null);
  const after = useMemo(() => (fix ? applyEdits(fix.edits)(plan) : null), [fix, plan]);
  const trial = useQuery({
    queryKey: ["tried", id, rests, dropId, fix?.edits],
    queryFn: ({ signal }) => api.tried(id, revision, dropId, after!, signal),
    staleTime: Infinity,
    retry: false,
    enabled: fix !== null,
  });
  const tried = useMemo(() => (fix ? { fix, run: trial.data ?? null } : null), [fix, trial.data]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is tried belongs to one revision and one station
  useEffect(() => setFix(null), [rests, dropId]);

  return { tried, tryFix: setFix };
}

/** Which act is in view, at each station the one that was seen last; and how one gets to others. */
function usePlace(plan: string, stations: readonly StationAt[], k: number, dropId: string, run: StationRun | null) {
  const navigate = useNavigate();
  const [places, setPlaces] = useState<Readonly<Record<string, { key: string; n: number }>>>({});
  const place = places[dropId];
  const found = run && place ? run.steps.findIndex((s) => s.key === place.key) : -1;
  const n = run ? Math.max(0, Math.min(run.steps.length - 1, found >= 0 ? found : (place?.n ?? 0))) : 0;
  const where = useRef({ n, dropId, k, stations, run });
  where.current = { n, dropId, k, stations, run };
  const go = useCallback(
    (to: number, drop?: string) => {
      const now = where.current;
      const at = drop ?? now.dropId;
      const acts = (at === now.dropId ? now.run : now.stations.find((s) => s.drop === at)?.run)?.steps ?? [];
      const m = Math.max(0, Math.min(acts.length - 1, to));
      now.n = at === now.dropId ? m : now.n;
      setPlaces((p) => ({ ...p, [at]: { key: acts[m]?.key ?? "", n: m } }));
      if (at !== now.dropId) navigate(`/plans/${plan}/rehearse/${at}`);
    },
    [plan, navigate],
  );
  const walk = useCallback(
    (by: 1 | -1) => {
      const now = where.current;
      const to = now.n + by;
      const next = now.stations[now.k + by];
      if (now.run && to >= 0 && to < now.run.steps.length) go(to);
      else if (next) go(by > 0 ? 0 : (next.run?.steps.length ?? 1) - 1, next.drop);
    },
    [go],
  );

  const walkMove = useCallback(
    (by: 1 | -1) => {
      const now = where.current;
      const moves = now.run?.moves ?? [];
      const at = moves.findIndex((m) => now.n + 1 <= m.end);
      const here = moves[at];
      // Back goes first to where the move in view begins.
      const to = by < 0 && here && now.n + 1 > here.begin ? here : moves[at + by];
      const next = now.stations[now.k + by];
      if (to) go(to.begin - 1);
      else if (next) go(by > 0 ? 0 : (next.run?.moves.at(-1)?.begin ?? 1) - 1, next.drop);
    },
    [go],
  );

  const show = useCallback((to: string) => {
    const now = where.current;
    setPlaces((p) => ({ ...p, [now.dropId]: { key: to, n: now.n + 1 } }));
  }, []);
  return { n, go, walk, walkMove, show };
}

/** Every single fault of the acts as they are planned, once they are there, and the one in view. */
function useBroken({ id, revision, rests }: PlanView, dropId: string, n: number, fresh: boolean) {
  const [key, breakIt] = useState("");
  const faults = useQuery({
    queryKey: ["broken", id, rests, dropId],
    queryFn: ({ signal }) => api.broken(id, revision, dropId, signal),
    staleTime: Infinity,
    retry: false,
    enabled: fresh,
  });
  const state = fresh ? (faults.data?.[n] ?? null) : null;
  const broken = useMemo(
    () => (key && state ? ([...state.faults, ...state.accepted].find((f) => f.key === key) ?? null) : null),
    [key, state],
  );
  return { state, broken, breakIt };
}

export function RehearsalProvider({ dropId, children }: { dropId: string; children: ReactNode }) {
  const { view, edit } = useSession();
  const drops = useMemo(() => (view.plan.drops ?? []).map((d) => d.id), [view.plan.drops]);
  const k = Math.max(0, drops.indexOf(dropId));
  const { stations, error, whole, behind } = useRuns(view, drops, dropId);
  const { tried, tryFix } = useTrial(view, dropId);
  const planned = stations[k]?.run ?? null;
  const stale = stations[k]?.stale ?? true;
  const run = tried?.run ?? planned;
  const { n, go, walk, walkMove, show } = usePlace(view.id, stations, k, dropId, run);
  const { state, broken, breakIt } = useBroken(view, dropId, n, planned !== null && !stale && tried === null);
  const [chosen, setWho] = useState("");
  const step = run?.steps[n] ?? null;
  const move = (step && run?.moves.find((m) => n + 1 <= m.end)) ?? null;
  const order = run?.order ?? [];
  // Until somebody is chosen, whoever acts is in view.
  const who = [chosen, step?.who ?? ""].find((w) => order.includes(w)) ?? order[0] ?? "";
  const spans = useMemo(() => (run?.spans ?? []).filter((s) => stands(s, n + 1)), [run, n]);
  const fix = tried?.fix;
  const takeFix = useCallback(() => {
    if (fix) edit(applyEdits(fix.edits));
  }, [fix, edit]);
  const value: Going = useSame({
    ...{ stations, k, run, stale, error, n, step, move, go, show, walk, walkMove, who, chosen: chosen !== "", setWho },
    ...{ state, broken, breakIt, whole, behind, spans, tried, tryFix, takeFix },
  });
  return <Context.Provider value={value}>{children}</Context.Provider>;
}

export function useGoing(): Going {
  const going = useContext(Context);
  if (!going) throw new Error("useGoing outside RehearsalProvider");
  return going;
}
