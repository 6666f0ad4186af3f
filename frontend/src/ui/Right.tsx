// The right-hand side for a drop: the answer first, then reach, then findings worst first.

import { Link } from "react-router";
import { Swatch } from "../cutaway/Swatch";
import { NOBODY, useCount } from "../state/check";
import type { Drop, DropAssessment } from "../state/model";
import { useLonger, useSession } from "../state/plan";
import { useSystems } from "../state/systems";
import { useWhich } from "../state/which";
import { CountLine, Findings } from "./Findings";
import { Num, Said } from "./Num";

/** What the pull takes, and the best way beside the one in use. */
function Pulling({ a, drop }: { a: DropAssessment; drop: Drop }) {
  const { data, isPlaceholderData: old, isFetching } = useSystems(drop);
  const ways = data?.ways ?? [];
  const next = ways.find((w) => !w.in_use && w.ruled_out === null);
  const p = a.pull;
  return (
    <div className="mb-1 grid gap-0.5 text-[13px]" data-testid="pulling">
      {p.low && p.worst && (
        <p>
          It takes <Num n={p.low} /> to <Num n={p.worst} /> to pull:{" "}
          <span className={p.band === "stuck" ? "sev-Shortfall" : p.band === "hard" ? "sev-Caution" : ""}>
            {p.band === "stuck" ? "expect it to stick" : p.band}
          </span>
          .
        </p>
      )}
      {/* What comes later has its room from the first: no act moves away under a finger. */}
      {next ? (
        <p className="min-h-[2lh]" aria-busy={old}>
          <span className="quiet">{ways[0]?.in_use ? "Next best here" : "Best here"}:</span> {next.kind},{" "}
          {next.ropes.join(" and ")}
          {next.not_checked > 0 && <span className="sev-Not-checked">, {next.not_checked} not checked</span>}.
        </p>
      ) : (
        <p className="quiet min-h-[2lh]" aria-busy={old}>
          {ways.length > 1 ? "Every other way has a shortfall here." : isFetching && "Other ways are being compared."}
        </p>
      )}
    </div>
  );
}

/** What each end has to spare at its worst. */
function Reaches({ a }: { a: DropAssessment }) {
  const { plan } = useSession();
  const ropes = plan.shed.ropes ?? [];
  if (a.reach.length === 0) return null;
  return (
    <table className="mb-3 w-full text-[13px]" aria-label="reach">
      <thead>
        <tr className="quiet text-left text-xs">
          <th className="font-normal">to spare at worst</th>
          <td />
          <th className="text-right font-normal">needs</th>
        </tr>
      </thead>
      <tbody>
        {a.reach.map((r) => (
          <tr key={r.key}>
            <td className="h-[26px]">
              <Swatch rope={ropes.find((x) => x.id === r.rope)} />{" "}
              <span className="ml-1">
                {r.name} {r.end.toUpperCase()}
              </span>{" "}
              <span className="quiet">{r.role === "ride and pull" ? "" : r.role}</span>
            </td>
            {r.spare && r.need ? (
              <>
                <td className={`text-right ${r.spare.value < 0 ? "sev-Shortfall" : ""}`}>
                  <Num n={r.spare} />
                </td>
                <td className="quiet text-right">
                  <Num n={r.need} className="font-normal" />
                </td>
              </>
            ) : r.at_surface ? (
              <td colSpan={2} className="quiet text-right">
                to be set at the surface
              </td>
            ) : (
              <td colSpan={2} className="sev-Not-checked text-right font-semibold">
                not checked
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </table>
  );
}

export function DropRight({ a: whole, drop, draft }: { a: DropAssessment; drop?: Drop; draft: boolean }) {
  const { view } = useSession();
  const count = useCount();
  const which = useWhich();
  const asSaved = useLonger(whole.id);
  const longer = draft ? null : asSaved;
  // Answer and reach are those of the state in view; findings and tally those of the whole station.
  const a =
    which === 1 && whole.last
      ? { ...whole.last, findings: whole.findings, tally: whole.tally, verdict: whole.verdict }
      : whole;
  const later = longer === undefined && a.reach.some((r) => r.spare);
  return (
    <div>
      <h1 className="text-lg font-bold">
        {a.number} · {a.name}
        {a.height && (
          <>
            {" "}
            · <Num n={a.height} />
          </>
        )}
      </h1>
      <p className="quiet">
        {a.system}
        {whole.last && (which === 1 ? ", for the last person" : ", for the party")}
      </p>
      <p className="mt-0.5 text-[13px]" data-testid="tally">
        <CountLine count={draft ? NOBODY(a.tally) : count(a.id, a.tally)} />
      </p>
      <p
        className="mt-3 border-l-4 border-accent py-1 pl-3 text-[17px] leading-snug font-medium"
        data-testid="answer"
        aria-live="polite"
      >
        <Said s={a.answer} />
      </p>
      {whole.last && which === 0 && JSON.stringify(whole.last.answer) !== JSON.stringify(a.answer) && (
        <p className="mt-1 border-l-4 border-[var(--rule)] pl-3 text-[13px]" data-testid="last-answer">
          The last person: <Said s={whole.last.answer} />
        </p>
      )}
      <div className="mb-2" />
      {drop && <Pulling a={a} drop={drop} />}
      <Reaches a={a} />
      {(later || longer?.number || a.water || a.reach.some((r) => r.highest)) && (
        <div className="mb-3 grid gap-0.5 text-[13px]" data-testid="margins">
          {later && <p className="quiet">How much longer the drop could be is being worked out.</p>}
          {longer?.number &&
            (longer.mark === "figure" ? (
              <p>
                The drop could be <Num n={longer.number} /> longer.
              </p>
            ) : (
              <p className="sev-Shortfall">
                The drop is <Num n={{ ...longer.number, value: -longer.number.value, toward: "up" }} /> too long for it.
              </p>
            ))}
          {a.water && (
            <p>
              {a.water.on_site ? (
                <>
                  Begin with <Num n={a.water.out} /> from the ring and set the length on site.
                </>
              ) : (
                <>
                  Pay out <Num n={a.water.out} /> from the ring.
                </>
              )}
              {a.water.reserve && (
                <>
                  {" "}
                  <Num n={a.water.reserve} /> stays in the bag at the station.
                </>
              )}{" "}
              The first is lowered or belayed.
            </p>
          )}
          {a.reach
            .filter((r) => r.highest)
            .map((r) => (
              <p key={r.key}>
                {r.highest!.value > 0 ? (
                  <>
                    A lower reaches the landing from <Num n={r.highest!} /> below the ring and lower down.
                  </>
                ) : (
                  "A lower reaches the landing from anywhere."
                )}
              </p>
            ))}
        </div>
      )}
      {a.cut && a.angle && (
        <p className="mb-3 text-[13px]">
          Takes <Num n={a.cut} />; the legs stand at <Num n={a.angle} />.
        </p>
      )}
      <Findings findings={a.findings} frozen={draft} drop={a.id} />
      {view.assessment.findings.some((f) => (f.drops ?? []).includes(a.id)) && (
        <section aria-label="for the whole descent" className="mt-1">
          <h2 className="rule-t pt-2 text-[13px] font-bold">For the whole descent</h2>
          <Findings
            findings={view.assessment.findings.filter((f) => (f.drops ?? []).includes(a.id))}
            frozen={draft}
            drop={a.id}
            about=", of the plan"
          />
        </section>
      )}
      <div className="rule-t quiet pt-2.5 text-xs">
        {a.verdict && (
          <p className="mb-1 font-semibold" data-testid="verdict">
            {a.verdict}
          </p>
        )}
        <p>Not looked at: {view.assessment.not_covered.join("; ")}.</p>
        <p className="mt-1">
          What a rope that sticks or is lost leaves, and when you are out, stands under{" "}
          <Link className="underline" to={`/plans/${view.id}/descent/${a.id}`}>
            Whole descent
          </Link>
          .
        </p>
      </div>
    </div>
  );
}
