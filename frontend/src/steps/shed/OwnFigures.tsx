// Figures of the guide's own in place of a table's, each with its reason. They are named in every working that uses
// them.
import { useQuery } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../../api/client";
import type { Row } from "../../api/types.gen";
import { freshId, setAt } from "../../state/edits";
import type { Plan } from "../../state/model";
import { useFieldError, useSession } from "../../state/plan";
import { TextField, Typed } from "../../ui/fields";

interface Figure extends Row {
  table: string;
}

function Plain({ label, path, value }: { label: string; path: readonly (string | number)[]; value: number }) {
  const { edit } = useSession();
  const refused = useFieldError(path);
  const [misread, setMisread] = useState<string | null>(null);
  const error = misread ?? refused;
  const commit = (text: string) => {
    const number = Number(text.replace(",", ".").replace("−", "-"));
    if (text.trim() === "" || !Number.isFinite(number)) return setMisread("a number");
    setMisread(null);
    edit(setAt(path, number));
  };
  return (
    <span className="block">
      <Typed
        label={label}
        value={String(value)}
        bad={error !== null}
        className="num w-20 text-right"
        onCommit={commit}
      />
      {error && (
        <span role="alert" className="sev-Shortfall block text-xs">
          {error}
        </span>
      )}
    </span>
  );
}

type Own = NonNullable<Plan["own_figures"]>[number];

/** Where figures of one's own stand: in the plan or in the shed. */
const listsOf = (plan: Plan) =>
  [
    { at: ["own_figures"], own: plan.own_figures ?? [], where: "for this plan" },
    { at: ["shed", "own_figures"], own: plan.shed.own_figures ?? [], where: "for the shed" },
  ] as const;
type List = ReturnType<typeof listsOf>[number];

export function OwnFigures() {
  const { plan } = useSession();
  const query = useQuery({ queryKey: ["tables"], queryFn: api.tables, staleTime: Infinity, retry: false });
  const figures: Figure[] = (query.data ?? []).flatMap((t) =>
    t.rows.filter((r) => t.replaceable.includes(r.key)).map((r) => ({ ...r, table: t.name })),
  );
  return (
    <div className="max-w-3xl">
      <h2 className="text-base font-bold">Figures of your own</h2>
      <p className="quiet mb-3">
        They stand in place of a table's, and are named in every working that uses them: for this plan only, or for the
        shed, from where other plans can take them. Of two for one figure the plan's counts. All tables:{" "}
        <Link className="underline" to="/reference">
          figures and their sources
        </Link>
        .
      </p>
      {listsOf(plan).flatMap((list) =>
        list.own.map((o) => <OwnRow key={`${list.where} ${o.id}`} o={o} list={list} figures={figures} />),
      )}
      <NewFigure figures={figures} />
    </div>
  );
}

function OwnRow({ o, list, figures }: { o: Own; list: List; figures: readonly Figure[] }) {
  const { edit } = useSession();
  const was = figures.find((f) => f.table === o.table && f.key === o.key);
  const at = [...list.at, `#${o.id}`];
  return (
    <div className="rule-t grid grid-cols-[5rem_5rem_1fr_2rem] items-end gap-x-3 py-2">
      <span className="col-span-4 font-semibold">
        {was?.name ?? o.key}
        <span className="quiet ml-2 text-xs font-normal">
          {list.where}; table: {was ? (was.low === was.high ? was.low : `${was.low}–${was.high}`) : "?"}{" "}
          {was && was.unit !== "-" ? was.unit : ""}
        </span>
      </span>
      <Plain label={`low of ${was?.name ?? o.key}`} path={[...at, "low"]} value={o.low} />
      <Plain label={`high of ${was?.name ?? o.key}`} path={[...at, "high"]} value={o.high} />
      <TextField label="reason" path={[...at, "reason"]} value={o.reason} />
      <button
        type="button"
        className="act plain px-1"
        aria-label={`drop the own figure for ${was?.name ?? o.key}`}
        onClick={() =>
          edit(
            setAt(
              list.at,
              list.own.filter((x) => x.id !== o.id),
            ),
          )
        }
      >
        <Trash2 size={15} />
      </button>
    </div>
  );
}

function NewFigure({ figures }: { figures: readonly Figure[] }) {
  const { plan, edit } = useSession();
  const lists = listsOf(plan);
  const [chosen, setChosen] = useState("");
  const [low, setLow] = useState("");
  const [high, setHigh] = useState("");
  const [reason, setReason] = useState("");
  const [message, setMessage] = useState<string | null>(null);
  const [scope, setScope] = useState(0);
  const label = (f: Figure) => {
    const range = f.low === f.high ? `${f.low}` : `${f.low}–${f.high}`;
    return `${f.name} (${f.unit === "-" ? range : `${range} ${f.unit}`})`;
  };
  const found = figures.find((f) => label(f) === chosen);
  const add = () => {
    const [a, b] = [Number(low.replace(",", ".")), Number((high.trim() || low).replace(",", "."))];
    if (!found) return setMessage("choose a figure from the list");
    if (low.trim() === "" || !Number.isFinite(a) || !Number.isFinite(b)) return setMessage("low and high are numbers");
    if (reason.trim() === "") return setMessage("a figure of your own needs its reason");
    setMessage(null);
    const { at, own } = lists[scope]!;
    edit(
      setAt(at, [
        ...own,
        { id: freshId("o", own), table: found.table, key: found.key, low: a, high: b, reason: reason.trim() },
      ]),
    );
    setChosen("");
    setLow("");
    setHigh("");
    setReason("");
  };
  return (
    <>
      <form
        className="rule-t mt-3 grid grid-cols-[5rem_5rem_1fr] items-end gap-x-3 gap-y-2 pt-3"
        onSubmit={(e) => {
          e.preventDefault();
          add();
        }}
      >
        <label className="col-span-3 min-w-0">
          <span className="quiet block text-xs">figure</span>
          <input
            className="field w-full"
            list="all-figures"
            aria-label="figure to replace"
            value={chosen}
            onChange={(e) => setChosen(e.target.value)}
            placeholder="type to search"
          />
          <datalist id="all-figures">
            {figures.map((f) => (
              <option key={`${f.table}/${f.key}`} value={label(f)} />
            ))}
          </datalist>
        </label>
        <label>
          <span className="quiet block text-xs">low</span>
          <input
            className="field num w-full text-right"
            aria-label="own low"
            value={low}
            onChange={(e) => setLow(e.target.value)}
          />
        </label>
        <label>
          <span className="quiet block text-xs">high</span>
          <input
            className="field num w-full text-right"
            aria-label="own high"
            value={high}
            onChange={(e) => setHigh(e.target.value)}
            placeholder="as low"
          />
        </label>
        <label>
          <span className="quiet block text-xs">where</span>
          <select
            className="field w-full"
            aria-label="own figure for"
            value={scope}
            onChange={(e) => setScope(Number(e.target.value))}
          >
            {lists.map((l, i) => (
              <option key={l.where} value={i}>
                {l.where}
              </option>
            ))}
          </select>
        </label>
        <label className="col-span-2">
          <span className="quiet block text-xs">reason</span>
          <input
            className="field w-full"
            aria-label="own reason"
            value={reason}
            maxLength={300}
            onChange={(e) => setReason(e.target.value)}
          />
        </label>
        <button type="submit" className="act">
          Use it
        </button>
      </form>
      {message && (
        <p role="alert" className="sev-Shortfall mt-1 text-xs">
          {message}
        </p>
      )}
    </>
  );
}
