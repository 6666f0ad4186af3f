// All plans: open, make, copy, rename, put in the bin and take out again.
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { useRef, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api } from "../../api/client";
import type { CreateBody, ListedPlan } from "../../api/types.gen";
import { usePrefs } from "../../state/prefs";
import { CAUTION } from "../../ui/Dialogs";
import { Figure, KINDS } from "../../ui/Findings";
import { Num } from "../../ui/Num";
import { Library } from "./Library";
import { found, ORDERS, type Order } from "./order";

function when(iso: string): string {
  return new Date(iso).toLocaleString([], {
    day: "numeric",
    month: "short",
    hour: "2-digit",
    minute: "2-digit",
    hour12: false,
  });
}

/** A file's text, UTF-8 or UTF-16, with a byte order mark or without. */
function written(bytes: ArrayBuffer): string {
  const [a, b] = new Uint8Array(bytes.slice(0, 2));
  const wide =
    (a === 0xff && b === 0xfe) || (a !== 0 && b === 0)
      ? "utf-16le"
      : (a === 0xfe && b === 0xff) || (a === 0 && b !== 0)
        ? "utf-16be"
        : "utf-8";
  return new TextDecoder(wide, { fatal: true }).decode(bytes);
}

const PLAN_FILE =
  "A plan file is what “Save as file” writes: JSON with the plan's title, drops and shed. Tracks, tables and traces " +
  "go in with a plan open, under Log, Files.";

type Source = CreateBody["source"];
type Run = (f: () => Promise<unknown>) => void;
type Create = (source: Source, open?: boolean) => void;

export function PlanList() {
  const client = useQueryClient();
  const go = useNavigate();
  const plans = useQuery({ queryKey: ["plans"], queryFn: api.plans, retry: false });
  const [message, setMessage] = useState<string | null>(null);
  const refresh = () =>
    Promise.all([client.invalidateQueries({ queryKey: ["plans"] }), client.invalidateQueries({ queryKey: ["bin"] })]);
  const act = useMutation({
    mutationFn: (run: () => Promise<unknown>) => run(),
    onMutate: () => setMessage(null),
    onError: (e) => setMessage(e.message),
    onSettled: refresh,
  });
  const run: Run = (f) => act.mutate(f);
  const create: Create = (source, open = true) =>
    run(async () => {
      const made = await api.create(source);
      if (open) go(`/plans/${made.id}/${made.plan.drops?.length ? "rig" : "survey"}`);
    });
  return (
    <div className="flex min-h-full flex-col bg-base-200">
      <Bar />
      <main className="mx-auto w-full max-w-5xl grow px-5 py-6">
        <Begin create={create} tell={setMessage} />
        {message && (
          <p role="alert" className="sev-Shortfall mb-4 rounded border border-error bg-base-100 px-3 py-2">
            {message}
          </p>
        )}
        {plans.isPending && <p className="quiet">Reading the plans…</p>}
        {plans.error && (
          <p role="alert" className="sev-Shortfall">
            {plans.error.message}{" "}
            <button type="button" className="act ml-2" onClick={() => void plans.refetch()}>
              Try again
            </button>
          </p>
        )}
        {plans.data?.length === 0 && (
          <div className="rounded border border-dashed border-[var(--leader)] p-8 text-center">
            <p className="text-lg font-semibold">No plans yet</p>
            <p className="quiet mt-1">Name a descent and start it, or look round in a demonstration.</p>
          </div>
        )}
        <Plans all={plans.data ?? []} run={run} create={create} />
        <Bin run={run} />
        <Library run={run} />
      </main>
      <footer className="quiet mx-auto w-full max-w-5xl px-5 pb-5 text-xs">{CAUTION}</footer>
    </div>
  );
}

function Bar() {
  const prefs = usePrefs();
  return (
    <header className="flex h-[46px] shrink-0 items-center gap-4 bg-neutral px-5 text-neutral-content">
      <span className="text-[17px] font-bold">Reamer</span>
      <h1 className="grow opacity-80">plans</h1>
      <Link to="/reference" className="text-xs">
        figures and their sources
      </Link>
      <button type="button" className="cursor-pointer text-xs" onClick={prefs.flipUnits}>
        {prefs.units === "metric" ? "m kN kg" : "ft lbf lb"}
      </button>
      <button type="button" className="cursor-pointer text-xs" onClick={prefs.flipTheme}>
        {prefs.theme === "day" ? "headlamp theme" : "day theme"}
      </button>
    </header>
  );
}

/** A plan begun: by its name, from a file, from a demonstration. */
function Begin({ create, tell }: { create: Create; tell: (message: string) => void }) {
  const go = useNavigate();
  const file = useRef<HTMLInputElement>(null);
  const [title, setTitle] = useState("");
  const [style, setStyle] = useState<"canyon" | "multi-pitch">("canyon");
  const [twice, setTwice] = useState<{ id: string; title: string; source: Source } | null>(null);
  const read = async (chosen: File) => {
    const got = await planIn(chosen);
    if (typeof got === "string") return tell(got);
    const source = { kind: "file" as const, plan: got, of: "" };
    // Whatever is wrong with it is told when it is opened.
    const known = await api.known(source.plan).catch(() => null);
    if (known?.id) setTwice({ ...known, source });
    else create(source);
  };
  return (
    <>
      <form
        className="mb-5 flex flex-wrap items-end gap-3"
        onSubmit={(e) => {
          e.preventDefault();
          if (title.trim()) create({ kind: "empty", title: title.trim(), style });
        }}
      >
        <label className="grow">
          <span className="quiet block text-xs">new plan</span>
          <input
            className="field h-9 w-full"
            aria-label="title of a new plan"
            placeholder="name of the descent"
            value={title}
            maxLength={80}
            onChange={(e) => setTitle(e.target.value)}
          />
        </label>
        <label>
          <span className="quiet block text-xs">choices of</span>
          <select
            className="field h-9"
            aria-label="which choices it starts with"
            value={style}
            onChange={(e) => setStyle(e.target.value as typeof style)}
          >
            <option value="canyon">canyons</option>
            <option value="multi-pitch">multi-pitch climbs</option>
          </select>
        </label>
        <button type="submit" className="act h-9" disabled={!title.trim()}>
          Start it
        </button>
        <button type="button" className="act h-9" onClick={() => file.current?.click()}>
          Open a plan file
        </button>
        <span className="flex basis-full items-center gap-2">
          <span className="quiet text-xs">or look round in a demonstration:</span>
          {(["canyon", "buttress", "gully"] as const).map((n) => (
            <button
              key={n}
              type="button"
              className="act plain"
              aria-label={`Demonstration ${n}`}
              onClick={() => create({ kind: "demo", name: n })}
            >
              {n}
            </button>
          ))}
        </span>
        <input
          ref={file}
          type="file"
          accept=".json,application/json"
          className="hidden"
          aria-label="plan file"
          onChange={(e) => {
            const f = e.target.files?.[0];
            if (f) void read(f);
            e.target.value = "";
          }}
        />
      </form>
      {twice && (
        <div role="alert" className="mb-4 flex flex-wrap items-center gap-3 rounded border bg-base-100 px-3 py-2">
          <span className="grow">
            This file is here already, as <b>{twice.title}</b>. Nothing was opened anew.
          </span>
          <button type="button" className="act" autoFocus onClick={() => go(`/plans/${twice.id}/rig`)}>
            Open {twice.title}
          </button>
          <button
            type="button"
            className="act plain"
            onClick={() => {
              setTwice(null);
              create(twice.source);
            }}
          >
            Open the file as another plan
          </button>
        </div>
      )}
    </>
  );
}

/** What a file says as a plan, or why it is none. */
async function planIn(file: File): Promise<Record<string, unknown> | string> {
  if (file.size > 2_500_000)
    return `${file.name} has ${file.size.toLocaleString("en")} bytes; a plan has at most 2,500,000`;
  try {
    const plan: unknown = JSON.parse(written(await file.arrayBuffer()));
    if (typeof plan === "object" && plan !== null && !Array.isArray(plan)) return plan as Record<string, unknown>;
    return `${file.name} is no plan file. ${PLAN_FILE}`;
  } catch {
    return `${file.name} is no plan file: it is not JSON. ${PLAN_FILE}`;
  }
}

/** The plans that are wanted, in the order that is. */
function Plans({ all, run, create }: { all: readonly ListedPlan[]; run: Run; create: Create }) {
  const [wanted, setWanted] = useState("");
  const [order, setOrder] = useState<Order>("last saved");
  const [aside, setAside] = useState(false);
  const put = all.filter((p) => p.archived_at).length;
  const shown = found([...all], wanted, aside).sort(ORDERS[order]);
  return (
    <>
      {all.length > 1 && (
        <div className="mb-2 flex flex-wrap items-center gap-3 text-[13px]">
          <input
            className="field w-56"
            type="search"
            aria-label="find a plan"
            placeholder="title, place or date"
            value={wanted}
            onChange={(e) => setWanted(e.target.value)}
          />
          <label>
            by{" "}
            <select
              className="field"
              aria-label="in which order"
              value={order}
              onChange={(e) => setOrder(e.target.value as Order)}
            >
              {Object.keys(ORDERS).map((o) => (
                <option key={o}>{o}</option>
              ))}
            </select>
          </label>
          {put > 0 && (
            <label className="inline-flex min-h-6 items-center gap-1.5">
              <input type="checkbox" checked={aside} onChange={(e) => setAside(e.target.checked)} />
              {put} put aside
            </label>
          )}
          <span className="quiet" aria-live="polite">
            {shown.length} of {all.length}
          </span>
        </div>
      )}
      <ul aria-label="plans">
        {shown.map((p) => (
          <PlanRow key={p.id} p={p} run={run} create={create} />
        ))}
      </ul>
    </>
  );
}

function Bin({ run }: { run: Run }) {
  const bin = useQuery({ queryKey: ["bin"], queryFn: api.bin, retry: false });
  if (!bin.data || bin.data.length === 0) return null;
  return (
    <details className="mt-8">
      <summary className="quiet cursor-pointer">
        Bin, {bin.data.length} plan{bin.data.length === 1 ? "" : "s"}
      </summary>
      <ul aria-label="bin">
        {bin.data.map((p) => (
          <li key={p.id} className="rule-b flex items-center gap-4 py-2">
            <span className="grow">
              {p.title} <span className="quiet text-xs">put here {p.deleted_at ? when(p.deleted_at) : ""}</span>
            </span>
            <button type="button" className="act" onClick={() => run(() => api.restore(p.id))}>
              Put back
            </button>
          </li>
        ))}
      </ul>
    </details>
  );
}

const WIDE = 84;
const TALL = 52;

/** The descent in miniature: its rock from the first tie down, both ways to one scale. */
function Outline({ points }: { points: readonly [number, number][] }) {
  if (points.length < 2) return <span className="outline-mini" aria-hidden="true" />;
  const xs = points.map((p) => p[0]);
  const zs = points.map((p) => p[1]);
  const [left, low] = [Math.min(...xs), Math.min(...zs)];
  const scale = Math.min(
    (WIDE - 12) / Math.max(1, Math.max(...xs) - left),
    (TALL - 8) / Math.max(1, Math.max(...zs) - low),
  );
  const at = ([x, z]: readonly [number, number]) =>
    `${(6 + (x - left) * scale).toFixed(1)} ${(TALL - 4 - (z - low) * scale).toFixed(1)}`;
  const end = at(points[points.length - 1]!);
  return (
    <svg className="outline-mini" viewBox={`0 0 ${WIDE} ${TALL}`} aria-hidden="true">
      <path d={`M0 4L${points.map(at).join("L")}L${WIDE} ${end.split(" ")[1]}V${TALL}H0Z`} fill="var(--rock)" />
      <path
        d={`M0 4L${points.map(at).join("L")}L${WIDE} ${end.split(" ")[1]}`}
        fill="none"
        stroke="var(--color-base-content)"
        strokeWidth={1.4}
        strokeLinejoin="round"
      />
    </svg>
  );
}

function PlanRow({ p, run, create }: { p: ListedPlan; run: Run; create: Create }) {
  const [naming, setNaming] = useState<string | null>(null);
  const [from, setFrom] = useState(false);
  return (
    <li className="plan-row">
      <Outline points={p.outline as [number, number][]} />
      <div className="min-w-0">
        {naming === null ? (
          <Link to={`/plans/${p.id}/${p.drops ? "rig" : "survey"}`} className="text-lg font-bold hover:underline">
            {p.title}
          </Link>
        ) : (
          <form
            className="flex gap-2"
            onSubmit={(e) => {
              e.preventDefault();
              if (naming.trim()) {
                run(() => api.rename(p.id, p.revision, naming.trim()));
                setNaming(null);
              }
            }}
          >
            <input
              className="field w-72"
              aria-label="new title"
              autoFocus
              value={naming}
              maxLength={80}
              onChange={(e) => setNaming(e.target.value)}
              onKeyDown={(e) => e.key === "Escape" && setNaming(null)}
            />
            <button type="submit" className="act">
              Rename
            </button>
          </form>
        )}
        <div className="text-[13px]">
          {p.trouble && (
            <span role="alert" className="sev-Shortfall font-bold">
              {p.trouble} Step back to what it was before, save it as a file, or put it in the bin.{" "}
            </span>
          )}
          {p.place && <span>{p.place} · </span>}
          {p.on && <span>{p.on} · </span>}
          {!p.trouble && (
            <>
              {p.drops ? (
                <>
                  <Num n={p.total_height} /> in {p.drops} drop{p.drops === 1 ? "" : "s"} ·{" "}
                </>
              ) : (
                <span className="quiet">no drops · </span>
              )}
              {p.tally &&
                KINDS.map((k, n) => (
                  <span key={k.key}>
                    {n > 0 && <span className="quiet"> — </span>}
                    <span className="quiet">{k.name} </span>
                    <Figure part={p.tally![k.key]} yet={k.yet} bare />
                  </span>
                ))}
            </>
          )}
        </div>
        <div className="quiet truncate text-xs" title={p.what}>
          {p.archived_at && <b>put aside · </b>}revision {p.revision}, {when(p.saved_at)}: {p.what}
        </div>
        {from && <NewFrom p={p} create={create} />}
      </div>
      <div className="flex flex-wrap justify-end gap-1">
        {p.trouble ? (
          <button type="button" className="act plain" onClick={() => run(() => api.stepBack(p.id, p.revision))}>
            Undo
          </button>
        ) : (
          <>
            <button type="button" className="act plain" onClick={() => setNaming(p.title)}>
              Rename
            </button>
            <button type="button" className="act plain" onClick={() => create({ kind: "copy", of: p.id }, false)}>
              Copy
            </button>
            <button type="button" className="act plain" aria-expanded={from} onClick={() => setFrom(!from)}>
              New from it
            </button>
            <button
              type="button"
              className="act plain"
              onClick={() => run(() => api.archive(p.id, p.archived_at === null))}
            >
              {p.archived_at === null ? "Put aside" : "Take up again"}
            </button>
          </>
        )}
        <a className="act plain" href={`/api/plans/${p.id}/file`} download>
          Save as file
        </a>
        <button type="button" className="act plain sev-Shortfall" onClick={() => run(() => api.remove(p.id))}>
          Bin
        </button>
      </div>
    </li>
  );
}

const PARTS = ["drops", "kit", "party"] as const;

/** A new plan made of some of another's parts. */
function NewFrom({ p, create }: { p: ListedPlan; create: (s: CreateBody["source"], open?: boolean) => void }) {
  const [title, setTitle] = useState("");
  const [parts, setParts] = useState<readonly (typeof PARTS)[number][]>(["kit", "party"]);
  return (
    <form
      className="mt-1 flex flex-wrap items-center gap-3 text-[13px]"
      aria-label={`a new plan from ${p.title}`}
      onSubmit={(e) => {
        e.preventDefault();
        create({ kind: "parts", of: p.id, title: title.trim(), parts: [...parts] });
      }}
    >
      {PARTS.map((part) => (
        <label key={part} className="inline-flex min-h-6 items-center gap-1.5">
          <input
            type="checkbox"
            checked={parts.includes(part)}
            onChange={(e) => setParts(PARTS.filter((x) => (x === part ? e.target.checked : parts.includes(x))))}
          />
          its {part}
        </label>
      ))}
      <input
        className="field w-56"
        aria-label="title of the new plan"
        placeholder="name of the descent"
        value={title}
        maxLength={80}
        onChange={(e) => setTitle(e.target.value)}
      />
      <button type="submit" className="act" disabled={!title.trim() || parts.length === 0}>
        Start it
      </button>
    </form>
  );
}
