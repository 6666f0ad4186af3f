// Findings, worst first, each with its reason and, where there is one, its fix.
import { Link } from "react-router";
import { useStanding } from "../state/check";
import { applyEdits } from "../state/edits";
import type { Count, Counted, Finding, Fix, Tally as TallyOf } from "../state/model";
import { useOffers, useSession } from "../state/plan";
import { More, useDid } from "./Did";
import { focusAfter, useGo } from "./goto";
import { MarkLine } from "./MarkLine";
import { Said } from "./Num";

const WORST = ["Shortfall", "Not checked", "Caution", "Note"];
const WHO = {
  "at home": "To settle at home",
  "at the edge": "To settle at the edge",
  "from below": "Only from below",
} as const;

const BRINGS: Record<Finding["severity"], string> = {
  Shortfall: "It brings a shortfall",
  "Not checked": "It leaves not checked",
  Caution: "It brings a caution",
  Note: "It brings a note",
};
type Act = Pick<Fix, "label" | "edits"> & Partial<Pick<Fix, "brings">>;

/** Findings by who can settle them, the place with the worst first. */
export function Findings({
  findings: every,
  frozen = false,
  about = "",
  drop = "",
}: {
  findings: readonly Finding[];
  frozen?: boolean;
  /** The drop whose own they are, "" for those of the whole plan. */
  drop?: string;
  /** What tells these from others on the same screen. */
  about?: string;
}) {
  const standing = useStanding();
  const tried = useOffers(drop);
  const accepted = every.filter((f) => standing(f.key)?.state === "accepted");
  const findings = every.filter((f) => !accepted.includes(f));
  const groups = (Object.keys(WHO) as (keyof typeof WHO)[])
    .map((who) => ({ who, of: findings.filter((f) => (f.settled ?? "at home") === who) }))
    .filter((g) => g.of.length > 0)
    .sort(
      (a, b) =>
        Math.min(...a.of.map((f) => WORST.indexOf(f.severity))) -
        Math.min(...b.of.map((f) => WORST.indexOf(f.severity))),
    );
  return (
    <>
      {groups.map((g) => (
        <section key={g.who} aria-label={`${WHO[g.who]}${about}`}>
          <h2 className="rule-t quiet pt-2 text-xs">{WHO[g.who]}</h2>
          <List findings={g.of} frozen={frozen} tried={tried} label={`findings ${g.who}${about}`} />
        </section>
      ))}
      {accepted.length > 0 && (
        <section aria-label={`accepted by name${about}`}>
          <h2 className="rule-t quiet pt-2 text-xs">Accepted by name</h2>
          <List findings={accepted} frozen={frozen} tried={tried} label={`findings accepted${about}`} />
        </section>
      )}
    </>
  );
}

function List({
  findings,
  frozen,
  label,
  tried,
}: {
  findings: readonly Finding[];
  frozen: boolean;
  label: string;
  tried: ReadonlyMap<string, readonly Fix[]>;
}) {
  const { edit, view, plan } = useSession();
  const go = useGo();
  const standing = useStanding();
  const acts = (f: Finding): readonly Act[] => [...(tried.get(f.key) ?? (f.fix ? [f.fix] : [])), ...(f.others ?? [])];
  const stations = (f: Finding) =>
    (f.drops ?? [])
      .map((id) => ({ id, n: (plan.drops ?? []).findIndex((d) => d.id === id) + 1 }))
      .filter((d) => d.n > 0);
  return (
    <ol aria-label={label}>
      {findings.map((f, i) => (
        <li key={`${f.code}-${f.subject.part}-${i}`} className={`${i ? "rule-t " : ""}py-2`} data-code={f.code}>
          <div className={`text-xs font-bold tracking-wide uppercase sev-${f.severity.replace(" ", "-")}`}>
            {f.severity}
            {f.subject.state === "last" && (
              <span className="quiet ml-2 font-normal normal-case">for the last person</span>
            )}
            {f.subject.state === "party" && <span className="quiet ml-2 font-normal normal-case">for the party</span>}
          </div>
          <div className="font-semibold">
            <Said s={f.title} />
          </div>
          <div className={f.severity === "Note" ? "quiet" : ""}>
            <Said s={f.reason} />
          </div>
          {standing(f.key)?.marks.map((m) => (
            <MarkLine key={m.by} m={m} />
          ))}
          {stations(f).length > 0 && (
            <div className="quiet mt-1 text-xs">
              at{" "}
              {stations(f).map((d) => (
                <Link
                  key={d.id}
                  className="mr-1.5 inline-block min-w-6 px-1 text-center font-semibold text-base-content underline"
                  to={`/plans/${view.id}/rig/${d.id}`}
                  aria-label={`go to drop ${d.n}`}
                >
                  {d.n}
                </Link>
              ))}
            </div>
          )}
          {acts(f).map((fix, n) => (
            <span key={n}>
              <button
                type="button"
                className="act mt-1.5 mr-1.5 !whitespace-normal text-left"
                disabled={frozen}
                onClick={(e) => {
                  edit(applyEdits(fix.edits));
                  focusAfter(e.currentTarget);
                }}
              >
                <Said s={fix.label} />
              </button>
              {(fix.brings ?? []).map((b, m) => (
                <span key={m} className="quiet block text-xs">
                  {BRINGS[b.severity]}: <Said s={b.title} />.
                </span>
              ))}
            </span>
          ))}
          {(acts(f).length === 0 || isMeasured(f)) && f.field && ["Shortfall", "Not checked"].includes(f.severity) && (
            <button type="button" className="act plain go mt-1.5" onClick={() => go(f.field!)}>
              Go to “{f.field_name}”
            </button>
          )}
        </li>
      ))}
    </ol>
  );
}

/** Whether it rests on what can be measured instead of judged, beside any act. */
const isMeasured = (f: Finding) => f.field?.endsWith("/widths") ?? false;

export const KINDS = [
  { key: "stations", name: "stations", yet: "" },
  { key: "descent", name: "descent", yet: "not worked out yet" },
  { key: "acts", name: "acts", yet: "not gone through yet" },
] as const;

/** One of the three figures: never 0 while it is not known. */
export function Figure({ part, yet, bare = false }: { part: Counted; yet: string; bare?: boolean }) {
  const { count, pending } = part;
  const told = bare ? { ...count, open: { ...count.open, Caution: 0 } } : count;
  if (!pending) return <CountLine count={told} />;
  return (
    <>
      <CountLine count={told} known />
      <span className="sev-Not-checked">{yet}</span>
    </>
  );
}

/** How a plan stands: stations, whole descent and acts, side by side. */
export function Standing({ tally, bare = false }: { tally: TallyOf; bare?: boolean }) {
  const { did } = useDid();
  return (
    <dl className="grid grid-cols-[auto_1fr] gap-x-1.5 text-xs" data-testid="standing">
      {KINDS.map((k) => (
        <div key={k.key} className="contents">
          <dt className="quiet">{k.name}</dt>
          <dd data-testid={`standing-${k.key}`}>
            <Figure part={tally[k.key]} yet={k.yet} bare={bare} />
            <More of={did?.more[k.key]} />
          </dd>
        </div>
      ))}
    </dl>
  );
}

/** ``known``: there may be more, so what is 0 is not said. */
export function Tally({ tally, known = false }: { tally: Record<string, number>; known?: boolean }) {
  const short = tally.Shortfall ?? 0;
  const open = tally["Not checked"] ?? 0;
  const caution = tally.Caution ?? 0;
  return (
    <span>
      {(short > 0 || !known) && (
        <span className={short ? "sev-Shortfall font-bold" : "quiet"}>
          {short} shortfall{short === 1 ? "" : "s"}
        </span>
      )}
      {(short > 0 || !known) && <span className="quiet"> · </span>}
      {(open > 0 || !known) && <span className={open ? "sev-Not-checked font-bold" : "quiet"}>{open} not checked</span>}
      {open > 0 && known && <span className="quiet"> · </span>}
      {caution > 0 && (
        <>
          {!known && <span className="quiet"> · </span>}
          <span className="sev-Caution">
            {caution} caution{caution === 1 ? "" : "s"}
          </span>
          {known && <span className="quiet"> · </span>}
        </>
      )}
    </span>
  );
}

/** How findings stand: what is open as a tally; accepted, overruled and objected to apart. */
export function CountLine({ count, known = false }: { count: Count; known?: boolean }) {
  const accepted = Object.values(count.accepted).reduce((a, b) => a + b, 0);
  const more = [
    accepted > 0 && `${accepted} accepted by name`,
    count.overruled > 0 && `${count.overruled} of the shortfalls overruled`,
    count.objections > 0 && `${count.objections} objection${count.objections === 1 ? "" : "s"}`,
  ].filter((x) => x !== false);
  return (
    <>
      <Tally tally={count.open} known={known} />
      {more.map((m) => (
        <span key={m} className={m.includes("objection") ? "sev-Shortfall font-bold" : ""}>
          {!known && <span className="quiet"> · </span>}
          {m}
          {known && <span className="quiet"> · </span>}
        </span>
      ))}
    </>
  );
}
