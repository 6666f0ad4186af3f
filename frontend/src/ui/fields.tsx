// Fields that hold a plan's values: a number with its unit and method, a choice, a name. Each saves when it is left.
import {
  type ComponentProps,
  createContext,
  memo,
  type ReactNode,
  useContext,
  useEffect,
  useId,
  useRef,
  useState,
} from "react";
import { type Quantity, type Shown, shown } from "../say";
import { alike } from "../state/changes";
import { known, type PlanEdit, setAt, unknown } from "../state/edits";
import { type Capacity, type Figure, type Method, SURVEY_METHODS } from "../state/model";
import { useEdit, useFieldAt, useFieldError, usePlanId } from "../state/plan";
import { usePrefs } from "../state/prefs";
import { draftOf, draftOfParts, keepDraft } from "./drafts";
import { misread as notRead, parseTyped } from "./typed";

export type Path = readonly (string | number)[];

/** Where else what is entered in a field is entered with it: things that were chosen to be set together. */
export const Together = createContext<(path: Path) => readonly Path[]>(() => []);

/** Puts a value at a place, and wherever it is to be set with it, as one edit; ``not``: what is not so then. */
function usePut(not?: Path): (path: Path, value: unknown) => void {
  const edit = useEdit();
  const also = useContext(Together);
  const all = (path: Path) => [path, ...also(path)];
  return (path, value) =>
    edit(...all(path).map((p) => setAt(p, value)), ...(not ? all(not) : []).map((p) => setAt(p, false)));
}

function plain(value: number, factor: number, digits: number): string {
  const shownValue = value * factor;
  // Pounds-force are shown whole; every other unit keeps two decimals that were typed.
  const text = factor > 100 ? shownValue.toFixed(0) : shownValue.toFixed(Math.max(digits, 2)).replace(/\.?0+$/, "");
  return text === "" || text === "-0" ? "0" : text.replace("-", "−");
}

export function Labelled({
  label,
  children,
  error,
  className = "",
  at,
  open = false,
}: {
  label: string;
  children: ReactNode;
  error?: string | null;
  className?: string;
  /** The field's place in the plan, and whether nothing is known there. */
  at?: string | undefined;
  open?: boolean;
}) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is among the children
    <label className={`block min-w-0 ${className}`} data-path={at} data-open={open || undefined}>
      <span className="quiet block truncate text-xs" title={label}>
        {label}
      </span>
      {children}
      {error && (
        <span role="alert" className="sev-Shortfall block text-xs">
          {error}
        </span>
      )}
    </label>
  );
}

/** Under which key what is typed into a field is kept: by the things' ids, wherever they stand. */
export function useDraft(path: Path): string {
  return `${usePlanId()} ${path.join("/")}`;
}

/** A text input that keeps what is typed until it is left or Enter is pressed; Escape takes it back. */
export function Typed({
  value,
  onCommit,
  label,
  className = "",
  bad = false,
  placeholder = "",
  list,
  lines = 1,
  keep = "",
}: {
  value: string;
  onCommit: (text: string) => void;
  label: string;
  className?: string;
  bad?: boolean;
  placeholder?: string;
  list?: string;
  lines?: number;
  /** Under which key what is typed is kept until it is saved. */
  keep?: string;
}) {
  const before = keep ? draftOf(keep) : null;
  const [text, setText] = useState(before ?? value);
  // What comes back from the server while somebody types does not take the place of what is typed.
  const typing = useRef(before !== null);
  const type = (typed: string) => {
    setText(typed);
    typing.current = true;
    if (keep) keepDraft(keep, typed);
  };
  const drafted = before !== null && before !== value && typing.current;
  useEffect(() => {
    if (!bad && !typing.current) setText(value);
  }, [value, bad]);
  const leave = () => {
    if (typing.current) {
      typing.current = false;
      if (keep) keepDraft(keep, null);
      if (text !== value || bad) onCommit(text);
    }
  };
  if (lines > 1) {
    return (
      <textarea
        className={`field h-auto py-1 ${bad ? "bad" : ""} ${className}`}
        aria-label={label}
        rows={lines}
        value={text}
        maxLength={4000}
        onChange={(e) => type(e.target.value)}
        onBlur={leave}
      />
    );
  }
  return (
    <input
      className={`field ${bad ? "bad" : drafted ? "drafted" : ""} ${className}`}
      aria-label={label}
      aria-invalid={bad}
      title={drafted ? NOT_SAVED : text.length > 24 ? text : undefined}
      value={text}
      placeholder={placeholder}
      list={list}
      onChange={(e) => type(e.target.value)}
      onBlur={leave}
      onKeyDown={(e) => {
        if (e.key === "Enter") leave();
        if (e.key === "Escape") {
          setText(value);
          typing.current = false;
          if (keep) keepDraft(keep, null);
          e.stopPropagation();
        }
      }}
    />
  );
}

/** What is typed after ±: the figure's own limit of error, instead of its method's. Undefined if it is none. */
function ownError(
  text: string,
  quantity: Quantity,
  factor: number,
): { kind: "share" | "length"; value: number } | undefined {
  const share = /^\s*(\d*[.,]?\d+)\s*%\s*$/.exec(text);
  const value = share ? Number(share[1]!.replace(",", ".")) / 100 : parseTyped(text, quantity, factor);
  return value === null || value < 0 || value > 100 ? undefined : { kind: share ? "share" : "length", value };
}

/** A surveyed figure's own error, as it was given: a share, or a length. */
function ofError(error: NonNullable<Extract<Figure, { kind: "known" }>["error"]>, unit: Shown): string {
  return error.kind === "share" ? `${plain(error.value, 100, 0)} %` : plain(error.value, unit.factor, unit.digits);
}

/**
 * One measured number. Empty means unknown; a surveyed one has its method beside it, and may carry its own error
 * after ±.
 */
// A field with the same figure is not drawn again while a drag moves others.
export const FigureField = memo(function FigureField({
  label,
  path,
  figure,
  quantity,
  methods,
  why = "not entered",
  className = "",
}: {
  label: string;
  path: Path;
  figure: Figure;
  quantity: Quantity;
  methods?: readonly Method[];
  why?: string;
  className?: string;
}) {
  const put = usePut();
  const { units } = usePrefs();
  const unit = shown(quantity, units);
  const refused = useFieldError(path);
  const at = useFieldAt(path);
  const draft = useDraft(path);
  const [misread, setMisread] = useState<string | null>(() => (draftOf(draft) === null ? null : NOT_SAVED));
  const [method, setMethod] = useState<Method>(methods?.[0] ?? "given");
  useEffect(() => {
    if (figure.kind === "known") setMethod(figure.method);
  }, [figure]);
  const error = misread ?? refused;
  const commit = (text: string) => {
    if (text.trim() === "") {
      setMisread(null);
      put(path, unknown(why));
      return;
    }
    const [figureText = "", errorText] = methods ? text.split(/±|\+\/?-/) : [text];
    const value = parseTyped(figureText, quantity, unit.factor);
    const own = errorText === undefined ? null : ownError(errorText, quantity, unit.factor);
    if (value === null || own === undefined) {
      keepDraft(draft, text);
      setMisread(
        value === null
          ? notRead(text, unit.unit)
          : `“± ${(errorText ?? "").trim().slice(0, 12)}” is no error: a length, or a share in %`,
      );
      return;
    }
    setMisread(null);
    put(path, { ...known(value, method), error: own });
  };
  const off = figure.kind === "known" && figure.error ? ` ± ${ofError(figure.error, unit)}` : "";
  const value = figure.kind === "known" ? plain(figure.value, unit.factor, unit.digits) + off : "";
  return (
    <div className={`min-w-0 ${className}`} data-path={at} data-open={figure.kind === "unknown" || undefined}>
      <span className="quiet block truncate text-xs" title={label}>
        {label}
      </span>
      <span className="flex min-w-0 items-center gap-1">
        <span className="relative min-w-0 grow">
          <Typed
            label={label}
            value={value}
            keep={draft}
            onCommit={commit}
            bad={error !== null}
            placeholder={figure.kind === "unknown" && figure.why === "as the rope runs" ? "as rope" : "unknown"}
            className="num w-full pr-8 text-right"
          />
          <span className="quiet pointer-events-none absolute top-1/2 right-1.5 -translate-y-1/2 text-xs">
            {unit.unit}
          </span>
        </span>
        {methods && (
          <select
            title="its usual error is counted; your own goes after the figure: 18 ± 0.5, or 18 ± 2 %"
            className="field quiet w-[88px] shrink-0 text-xs"
            aria-label={`${label}, measured by`}
            value={method}
            onChange={(e) => {
              const next = e.target.value as Method;
              setMethod(next);
              if (figure.kind === "known") put(path, { ...figure, method: next, error: null, on: null, by: "" });
            }}
          >
            {methods.map((m) => (
              <option key={m} value={m}>
                {m}
              </option>
            ))}
          </select>
        )}
      </span>
      {error && (
        <span role="alert" className="sev-Shortfall block text-xs">
          {error}
        </span>
      )}
    </div>
  );
}, alike);

export function SurveyField(props: Omit<ComponentProps<typeof FigureField>, "methods">) {
  return <FigureField {...props} methods={SURVEY_METHODS} />;
}

/** What something holds: low, high and who says so. All three or unknown. */
const NOT_SAVED = "typed and not saved yet: Enter saves it";
const PARTS = ["low", "high", "source"] as const;
const HALF = "say who judged it, or why: until then it is unknown";

export const CapacityField = memo(function CapacityField({
  label,
  path,
  capacity,
  className = "",
  sources,
  typicalAt,
}: {
  label: string;
  path: Path;
  capacity: Capacity;
  className?: string;
  sources?: readonly string[];
  /** Where it is said that it is only typical: what is entered no longer is. */
  typicalAt?: Path;
}) {
  const put = usePut(typicalAt);
  const { units } = usePrefs();
  const unit = shown("force", units);
  const refused = useFieldError(path);
  const at = useFieldAt(path);
  const draft = useDraft(path);
  const id = useId();
  const known_ = capacity.kind === "range";
  const base = known_
    ? {
        low: plain(capacity.low_kn, unit.factor, unit.digits),
        high: plain(capacity.high_kn, unit.factor, unit.digits),
        source: capacity.source,
      }
    : { low: "", high: "", source: "" };
  // Half of it stays as it was typed, until the rest is there.
  const [half] = useState(() => draftOfParts<typeof base>(draft, PARTS));
  const [text, setText] = useState(half ?? base);
  const [misread, setMisread] = useState<string | null>(() =>
    half ? HALF : PARTS.some((p) => draftOf(`${draft} ${p}`) !== null) ? NOT_SAVED : null,
  );
  const first = useRef(true);
  const stamp = JSON.stringify([capacity, units]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the stamp says when the saved figure changed
  useEffect(() => {
    if (!first.current) {
      setText(base);
      setMisread(null);
    }
    first.current = false;
  }, [stamp]);
  const commit = (next: typeof base) => {
    setText(next);
    keepDraft(draft, JSON.stringify(next));
    const blank = next.low.trim() === "" && next.high.trim() === "";
    if (blank) {
      setMisread(null);
      keepDraft(draft, null);
      if (known_) put(path, unknown(next.source || "not entered"));
      return;
    }
    const low = parseTyped(next.low.trim() || next.high, "force", unit.factor);
    const high = parseTyped(next.high.trim() || next.low, "force", unit.factor);
    if (low === null || high === null) return setMisread("low and high are numbers");
    if (next.source.trim() === "") return setMisread(HALF);
    setMisread(null);
    keepDraft(draft, null);
    put(path, { kind: "range", low_kn: low, high_kn: high, source: next.source.trim() });
  };
  const error = misread ?? refused;
  return (
    <div className={`min-w-0 ${className}`} data-path={at} data-open={!known_ || undefined}>
      <span className="quiet block truncate text-xs" title={label}>
        {label}
      </span>
      <span className="flex items-center gap-1">
        <Typed
          label={`${label}, low`}
          value={text.low}
          keep={`${draft} low`}
          bad={error !== null}
          placeholder="low"
          className="num w-16 text-right"
          onCommit={(v) => commit({ ...text, low: v })}
        />
        <span className="quiet">–</span>
        <Typed
          label={`${label}, high`}
          value={text.high}
          keep={`${draft} high`}
          bad={error !== null}
          placeholder="high"
          className="num w-16 text-right"
          onCommit={(v) => commit({ ...text, high: v })}
        />
        <span className="quiet text-xs">{unit.unit}</span>
        <Typed
          label={`${label}, who says so`}
          value={text.source}
          keep={`${draft} source`}
          bad={error !== null}
          placeholder="who says so, or why"
          className="min-w-0 grow"
          onCommit={(v) => commit({ ...text, source: v })}
          {...(sources ? { list: id } : {})}
        />
        {sources && (
          <datalist id={id}>
            {sources.map((s) => (
              <option key={s} value={s} />
            ))}
          </datalist>
        )}
      </span>
      {error && (
        <span role="alert" className="sev-Shortfall block text-xs">
          {error}
        </span>
      )}
    </div>
  );
}, alike);

export const TextField = memo(function TextField({
  label,
  path,
  value,
  className = "",
  lines = 1,
}: {
  label: string;
  path: Path;
  value: string;
  className?: string;
  lines?: number;
}) {
  const put = usePut();
  const error = useFieldError(path);
  return (
    <Labelled label={label} error={error} className={className} at={useFieldAt(path)}>
      <Typed
        label={label}
        value={value}
        keep={useDraft(path)}
        bad={error !== null}
        className="w-full"
        lines={lines}
        onCommit={(v) => put(path, v)}
      />
    </Labelled>
  );
}, alike);

export const DateField = memo(function DateField({
  label,
  path,
  value,
  className = "",
}: {
  label: string;
  path: Path;
  value: string | null;
  className?: string;
}) {
  const put = usePut();
  const error = useFieldError(path);
  return (
    <Labelled label={label} error={error} className={className} at={useFieldAt(path)}>
      <input
        type="date"
        className="field w-full"
        aria-label={label}
        defaultValue={value ?? ""}
        key={value ?? ""}
        onBlur={(e) => {
          const v = e.target.value || null;
          if (v !== value) put(path, v);
        }}
      />
    </Labelled>
  );
}, alike);

export interface Choice {
  value: string;
  label: string;
}

/** What a choice holds that nobody has made. */
const NOTHING = ["", "unknown", "none", "undecided"];

export function Choose({
  label,
  value,
  choices,
  onChange,
  className = "",
  error = null,
  at,
}: {
  label: string;
  value: string;
  choices: readonly (Choice | string)[];
  onChange: (value: string) => void;
  className?: string;
  error?: string | null;
  at?: string;
}) {
  const all = choices.map((c) => (typeof c === "string" ? { value: c, label: c } : c));
  return (
    <Labelled label={label} className={className} error={error} at={at} open={NOTHING.includes(value)}>
      <select
        className="field w-full"
        aria-label={label}
        title={all.find((c) => c.value === value)?.label}
        value={value}
        onChange={(e) => onChange(e.target.value)}
      >
        {!all.some((c) => c.value === value) && <option value={value}>{value === "" ? "choose…" : "missing"}</option>}
        {all.map((c) => (
          <option key={c.value} value={c.value}>
            {c.label}
          </option>
        ))}
      </select>
    </Labelled>
  );
}

export const ChoiceField = memo(function ChoiceField({
  label,
  path,
  value,
  choices,
  className = "",
}: {
  label: string;
  path: Path;
  value: string;
  choices: readonly (Choice | string)[];
  className?: string;
}) {
  const put = usePut();
  const error = useFieldError(path);
  return (
    <Choose
      label={label}
      value={value}
      choices={choices}
      className={className}
      error={error}
      at={useFieldAt(path)}
      onChange={(v) => put(path, v)}
    />
  );
}, alike);

/** One thing of a list, or nobody has said which. */
export function OneOf({
  label,
  path,
  value,
  things,
  set,
}: {
  label: string;
  path: Path;
  value: string;
  things: readonly { id: string; name: string }[];
  set: (id: string | null) => PlanEdit[];
}) {
  const edit = useEdit();
  const gone = value !== "" && !things.some((x) => x.id === value);
  return (
    <Choose
      label={label}
      value={gone ? "" : value}
      choices={[{ value: "", label: "not said" }, ...things.map((x) => ({ value: x.id, label: x.name }))]}
      error={useFieldError(path)}
      at={useFieldAt(path)}
      onChange={(v) => edit(...set(v === "" ? null : v))}
    />
  );
}

/** Says of a control that is no field by itself which place in the plan it sets. */
export function At({ path, open = false, children }: { path: Path; open?: boolean; children: ReactNode }) {
  return (
    <div className="contents" data-path={useFieldAt(path)} data-open={open || undefined}>
      {children}
    </div>
  );
}
