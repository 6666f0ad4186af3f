// The second check: a second person goes through stations, findings and acts, and says of each what they think.

import { type ReactNode, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { words } from "../../say";
import { holds, useChecking } from "../../state/check";
import { useHanded } from "../../state/home";
import type { Looked, Mark, Move } from "../../state/model";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { useWorking } from "../../state/working";
import { useGo } from "../../ui/goto";
import { useKeys } from "../../ui/keys";
import { MarkLine } from "../../ui/MarkLine";
import { Said } from "../../ui/Num";
import { TabPanel, Tabs } from "../../ui/Tabs";
import { Unreadable } from "../../ui/Unreadable";
import { CameHome } from "./CameHome";
import { GoesAlong } from "./GoesAlong";

export { CardRight } from "./CardRight";

/** So much is said at once. */
const MOST_SAID = 200;
/** Views in which nothing is checked. */
const NOT_CHECKED: readonly string[] = ["What goes along", "What came home"];
const VIEWS = ["This station", "The plan as a whole", "All that is open", "What goes along", "What came home"] as const;
type View = (typeof VIEWS)[number];
type Verdict = Mark["verdict"];
const DO: Record<Verdict, string> = {
  agreed: "Agree",
  objected: "Object",
  accepted: "Accept",
  overruled: "Overrule",
  withdrawn: "Take back",
};
const WHY: Partial<Record<Verdict, string>> = {
  objected: "What is wrong with it?",
  accepted: "Why may it be accepted?",
  overruled: "Why is it done all the same? It stays a shortfall.",
};

export function Card() {
  const { view, plan } = useSession();
  const { checked, error, dropId } = useChecking();
  const working = useWorking(!checked && !error);
  const waiting = (useHanded().data ?? []).filter((h) => h.state === "waiting").length;
  const [which, setWhich] = useState<View>("This station");
  const [at, setAt] = useState("");
  const shown = useMemo(() => {
    const looked = checked?.looked ?? [];
    const of = (x: Looked) => x.item.drop === dropId;
    if (which === "This station") return looked.filter(of);
    if (NOT_CHECKED.includes(which)) return [];
    if (which === "The plan as a whole") return looked.filter((x) => x.item.drop === "" || x.item.kind === "gone");
    return looked.filter((x) => x.state === "objected" || (x.state === "open" && x.item.kind !== "act"));
  }, [checked, which, dropId]);
  const [chosen, setChosen] = useState<readonly string[]>([]);
  const flip = (key: string) => setChosen(chosen.includes(key) ? chosen.filter((k) => k !== key) : [...chosen, key]);
  const keys = useMemo(() => shown.map((x) => x.item.key), [shown]);
  // What was chosen in one view is not spoken of in another.
  // biome-ignore lint/correctness/useExhaustiveDependencies: chosen anew in each
  useEffect(() => setChosen([]), [which, dropId]);
  const step = (by: number) => {
    const next = keys[Math.max(0, Math.min(keys.length - 1, keys.indexOf(at) + by))];
    if (next) setAt(next);
  };
  const list = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (at) list.current?.querySelector(`[data-item="${CSS.escape(at)}"]`)?.scrollIntoView({ block: "nearest" });
  }, [at]);
  const press = (verdict: string) =>
    list.current?.querySelector<HTMLButtonElement>(`[data-item="${CSS.escape(at)}"] [data-say="${verdict}"]`)?.click();
  useKeys({
    nextItem: () => step(1),
    previousItem: () => step(-1),
    agree: () => press("agreed"),
    object: () => press("objected"),
    acceptIt: () => press("accepted"),
  });
  const drop = (plan.drops ?? []).findIndex((d) => d.id === dropId);
  const others = shown.filter((x) => x.item.kind !== "act");
  const acts = shown.filter((x) => x.item.kind === "act");
  return (
    <div className="flex h-full flex-col bg-base-100">
      <Tabs
        group="card"
        label="what is looked at"
        tabs={VIEWS.map((v) =>
          v === "What came home" && waiting > 0
            ? { key: v, name: v, aside: `${waiting} waiting` }
            : { key: v, name: v },
        )}
        at={which}
        onPick={setWhich}
        className="rule-b px-4"
      />
      <TabPanel ref={list} group="card" at={which} className="min-h-0 grow overflow-y-auto px-5 py-3" testId="items">
        {which === "This station" && (
          <h1 className="mb-1 text-lg font-bold">
            {drop + 1} · {plan.drops?.[drop]?.name}
          </h1>
        )}
        {!NOT_CHECKED.includes(which) && <Unreadable kinds={["verdict"]} plan={view.id} />}
        {which === "What goes along" && <GoesAlong />}
        {which === "What came home" && <CameHome />}
        {error && <p role="alert">{error}</p>}
        {!checked && !error && <p className="quiet">Gathering what there is to look at… {working}</p>}
        {checked && shown.length === 0 && !NOT_CHECKED.includes(which) && <p>Nothing.</p>}
        {others.length > 1 && <Several of={others} chosen={chosen} onChoose={setChosen} />}
        {others.map((x) => (
          <Row
            chosen={others.length > 1 ? chosen.includes(x.item.key) : null}
            onChoose={() => flip(x.item.key)}
            key={x.item.key}
            x={x}
            on={x.item.key === at}
            onSelect={() => setAt(x.item.key)}
            where={which !== "This station"}
          />
        ))}
        {acts.length > 0 && (
          <section aria-label="acts" className="mt-2">
            <h2 className="rule-t quiet pt-2 text-xs">Move by move; an act can be spoken of by itself</h2>
            {(checked?.moves[dropId] ?? []).map((m, i) => {
              const some = acts.slice(m.begin - 1, m.end);
              return (
                <MoveRow key={m.begin} m={m} n={i + 1} acts={some} open={some.some((x) => x.item.key === at)}>
                  {some.map((x, j) => (
                    <Row
                      key={x.item.key}
                      x={x}
                      n={m.begin + j}
                      on={x.item.key === at}
                      onSelect={() => setAt(x.item.key)}
                    />
                  ))}
                </MoveRow>
              );
            })}
          </section>
        )}
        {checked && !NOT_CHECKED.includes(which) && (
          <p className="rule-t quiet mt-4 pt-2 text-xs">
            What is said lies beside the plan, at revision {view.revision}. A later change opens again just what it
            touches; an objection stands until whoever made it takes it back.
          </p>
        )}
      </TabPanel>
    </div>
  );
}

/** A move of a station: what is done in it, how many of its acts are agreed with, and all of them at once. */
function MoveRow({
  m,
  n,
  acts,
  open,
  children,
}: {
  m: Move;
  n: number;
  acts: readonly Looked[];
  open: boolean;
  children: ReactNode;
}) {
  const { units } = usePrefs();
  const { say, by } = useChecking();
  const [unfolded, setUnfolded] = useState(false);
  const [refused, setRefused] = useState("");
  const name = by.trim().toLowerCase();
  const mine = (x: Looked) => x.marks.some((k) => k.by.toLowerCase() === name && k.verdict === "agreed" && holds(k));
  const left = acts.filter((x) => x.may.includes("agreed") && !mine(x));
  const agreed = acts.filter((x) => x.marks.some((k) => k.verdict === "agreed" && holds(k))).length;
  const objected = acts.filter((x) => x.state === "objected").length;
  const title = words(m.title, units);
  return (
    <div className="rule-t py-1.5" data-move={m.kind}>
      <div className="flex items-start gap-2">
        <div className="min-w-0 grow">
          <div className="font-semibold">
            <span className="quiet mr-2 inline-block w-6 text-right font-normal">{n}</span>
            <span className="inline-block first-letter:uppercase">{title}</span>
          </div>
          <div className="pl-8 text-[13px]">
            {m.lines.map((x, i) => (
              <span key={i}>
                <Said s={x} />{" "}
              </span>
            ))}
            {m.otherwise.map((x, i) => (
              <p key={i}>
                <span className="quiet">otherwise </span>
                <Said s={x} />
              </p>
            ))}
            {m.needs
              .filter((x) => !x.met)
              .map((x, i) => (
                <p key={i} className="sev-Not-checked font-semibold">
                  Before it: <Said s={x.said} />
                </p>
              ))}
            <button
              type="button"
              className="quiet min-h-6 cursor-pointer text-xs underline"
              aria-expanded={unfolded || open}
              onClick={() => setUnfolded(!unfolded)}
            >
              {acts.length} {acts.length === 1 ? "act" : "acts"}
              {agreed > 0 && `, ${agreed} agreed with`}
            </button>
            {m.hazards.length > 0 && (
              <span className="ml-2 font-semibold">
                {m.hazards.length === 1 ? "a hazard begins" : `${m.hazards.length} hazards begin`} in it
              </span>
            )}
            {objected > 0 && <span className="sev-Shortfall ml-2 text-xs font-semibold">{objected} objected to</span>}
            {refused && (
              <p role="alert" className="sev-Shortfall font-semibold">
                Not kept. {refused}
              </p>
            )}
          </div>
        </div>
        {left.length > 0 && (
          <button
            type="button"
            className="act plain shrink-0"
            aria-label={`Agree with the move: ${title}`}
            disabled={name === ""}
            title={name ? "" : "Say first who checks, at the right"}
            onClick={async () =>
              setRefused(
                await say(
                  ...left
                    .slice(0, MOST_SAID)
                    .map((x) => ({ item: x.item.key, verdict: "agreed" as const, remark: "" })),
                ),
              )
            }
          >
            Agree
          </button>
        )}
      </div>
      {(unfolded || open) && children}
    </div>
  );
}

/** Asks for the reason of a verdict; ``how``: of how many it is kept. */
function Reasoned({
  verdict,
  how = { note: "", of: "" },
  remark,
  onType,
  onSay,
  onLeave,
}: {
  verdict: Verdict;
  how?: { note: string; of: string };
  remark: string;
  onType: (text: string) => void;
  onSay: () => void;
  onLeave: () => void;
}) {
  const { by } = useChecking();
  const may = remark.trim() !== "";
  return (
    <form
      className="mt-1"
      onSubmit={(e) => {
        e.preventDefault();
        if (may) onSay();
      }}
    >
      <label className="quiet block text-xs">
        {WHY[verdict]}
        {how.note}
        <textarea
          autoFocus
          aria-label={WHY[verdict]}
          className="field !h-14 w-full max-w-xl py-1 text-base-content"
          value={remark}
          maxLength={1000}
          onChange={(e) => onType(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Escape") onLeave();
            if (e.key === "Enter" && (e.ctrlKey || e.metaKey) && may) onSay();
          }}
        />
      </label>
      <button type="submit" className="act mr-1" disabled={!may}>
        {DO[verdict]} {how.of}as {by.trim()}
      </button>
      <button type="button" className="act plain" onClick={onLeave}>
        Leave it
      </button>
    </form>
  );
}

/** Several of them spoken of at once, with one reason; each is kept, and opens again, by itself. */
function Several({
  of,
  chosen,
  onChoose,
}: {
  of: readonly Looked[];
  chosen: readonly string[];
  onChoose: (keys: readonly string[]) => void;
}) {
  const { say, by } = useChecking();
  const [saying, setSaying] = useState<Verdict | null>(null);
  const [remark, setRemark] = useState("");
  const [refused, setRefused] = useState("");
  const may = of.filter((x) => x.item.kind !== "gone");
  const some = may.filter((x) => chosen.includes(x.item.key));
  const can = (v: Verdict) => some.filter((x) => x.may.includes(v));
  const send = async (verdict: Verdict, why: string) => {
    const items = can(verdict).map((x) => ({ item: x.item.key, verdict, remark: why }));
    for (let i = 0; i < items.length; i += MOST_SAID) {
      const wrong = await say(...items.slice(i, i + MOST_SAID));
      setRefused(wrong);
      if (wrong) return;
    }
    setSaying(null);
    setRemark("");
    onChoose([]);
  };
  const offered = (["agreed", "objected", "accepted", "overruled"] as const).filter((v) => can(v).length > 0);
  const asked = may.filter((x) => x.may.includes("accepted"));
  return (
    <section aria-label="several at once" className="rule-b pb-1.5">
      <div className="flex flex-wrap items-center gap-x-2 gap-y-1 text-[13px]">
        <button type="button" className="act plain px-1" onClick={() => onChoose(may.map((x) => x.item.key))}>
          Choose all {may.length}
        </button>
        {asked.length > 0 && asked.length < may.length && (
          <button type="button" className="act plain px-1" onClick={() => onChoose(asked.map((x) => x.item.key))}>
            Choose the {asked.length} that may be accepted
          </button>
        )}
        {some.length > 0 && (
          <>
            <button type="button" className="act plain px-1" onClick={() => onChoose([])}>
              Choose none
            </button>
            <b className="ml-2">{some.length} chosen</b>
            {offered.map((v) => (
              <button
                key={v}
                type="button"
                className="act plain px-1"
                disabled={by.trim() === ""}
                title={by.trim() ? "" : "Say first who checks, at the right"}
                onClick={() => (WHY[v] ? setSaying(v) : void send(v, ""))}
              >
                {DO[v]} {can(v).length === some.length ? "" : `${can(v).length} of them`}
              </button>
            ))}
          </>
        )}
      </div>
      {saying && some.length > 0 && (
        <Reasoned
          verdict={saying}
          how={{ note: ` Kept with each of the ${can(saying).length}.`, of: `${can(saying).length} ` }}
          remark={remark}
          onType={setRemark}
          onSay={() => void send(saying, remark)}
          onLeave={() => setSaying(null)}
        />
      )}
      {refused && (
        <p role="alert" className="sev-Shortfall font-semibold">
          Not kept. {refused}
        </p>
      )}
    </section>
  );
}

function Row({
  x,
  on,
  onSelect,
  n = 0,
  where = false,
  chosen = null,
  onChoose,
}: {
  x: Looked;
  on: boolean;
  onSelect: () => void;
  n?: number;
  where?: boolean;
  /** Whether it is among those that are spoken of at once; null where it cannot be. */
  chosen?: boolean | null;
  onChoose?: () => void;
}) {
  const { plan, view } = useSession();
  const { units } = usePrefs();
  const { say, by } = useChecking();
  const go = useNavigate();
  const goTo = useGo();
  const [saying, setSaying] = useState<Verdict | null>(null);
  const [remark, setRemark] = useState("");
  const [refused, setRefused] = useState("");
  const { item } = x;
  const mine = x.marks.some((m) => m.by.toLowerCase() === by.trim().toLowerCase());
  const number = (plan.drops ?? []).findIndex((d) => d.id === item.drop) + 1;
  const send = async (verdict: Verdict, why: string) => {
    const wrong = await say({ item: item.key, verdict, remark: why });
    setRefused(wrong);
    if (!wrong) {
      setSaying(null);
      setRemark("");
    }
  };
  const may = (item.kind === "gone" ? [] : x.may.filter((v) => v !== "withdrawn")) as Verdict[];
  const kind = item.kind === "station" ? "The station" : item.kind === "acts" ? "The acts" : item.severity;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys choose a row too
    // biome-ignore lint/a11y/noStaticElementInteractions: a larger target for what its buttons do
    <div
      className={`check-row ${on ? "on" : ""} ${item.kind === "act" ? "act-row" : ""}`}
      data-item={item.key}
      data-state={x.state}
      onClick={onSelect}
    >
      {chosen !== null && item.kind !== "gone" && (
        <input
          type="checkbox"
          className="mt-1 size-4 shrink-0 accent-[var(--color-accent)]"
          aria-label={`choose: ${words(item.title, units)}`}
          checked={chosen}
          onChange={onChoose}
        />
      )}
      <div className="min-w-0 grow">
        {item.kind !== "act" && (
          <div
            className={`text-xs font-bold tracking-wide uppercase sev-${(item.severity ?? "Note").replace(" ", "-")}`}
          >
            {item.kind === "gone" ? "No longer there" : kind}
            {where && number > 0 && (
              <button
                type="button"
                className="ml-2 cursor-pointer font-normal text-base-content normal-case underline"
                onClick={() => go(`/plans/${view.id}/card/${item.drop}`)}
              >
                drop {number}
              </button>
            )}
          </div>
        )}
        <div className={item.kind === "act" ? "" : "font-semibold"}>
          {n > 0 && <span className="quiet mr-2 inline-block w-6 text-right">{n}</span>}
          {item.kind === "station" && item.reason ? <Said s={item.reason} /> : <Said s={item.title} />}
        </div>
        {item.reason && item.kind !== "station" && (
          <div className={item.severity === "Note" ? "quiet" : ""}>
            <Said s={item.reason} />
          </div>
        )}
        {item.field && ["Shortfall", "Not checked"].includes(item.severity ?? "") && (
          <button type="button" className="act plain go px-0" onClick={() => goTo(item.field!)}>
            Go to “{item.field_name}”
          </button>
        )}
        {x.marks.map((m) => (
          <MarkLine key={m.by} m={m} />
        ))}
        {saying && (
          <Reasoned
            verdict={saying}
            remark={remark}
            onType={setRemark}
            onSay={() => void send(saying, remark)}
            onLeave={() => setSaying(null)}
          />
        )}
        {refused && (
          <p role="alert" className="sev-Shortfall font-semibold">
            Not kept. {refused}
          </p>
        )}
      </div>
      <div className="flex shrink-0 items-start gap-1" title={by.trim() ? "" : "Say first who checks, at the right"}>
        {may.map((v) => (
          <button
            key={v}
            type="button"
            data-say={v === "overruled" ? "accepted" : v}
            aria-label={`${DO[v]}: ${words(item.title, units)}`}
            disabled={by.trim() === ""}
            className="act plain"
            onClick={() => (WHY[v] ? setSaying(v) : void send(v, ""))}
          >
            {DO[v]}
          </button>
        ))}
        {mine && (
          <button
            type="button"
            className="act plain"
            aria-label={`Take back: ${words(item.title, units)}`}
            onClick={() => void send("withdrawn", "")}
          >
            Take back
          </button>
        )}
      </div>
    </div>
  );
}
