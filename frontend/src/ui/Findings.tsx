// Findings, worst first, each with its reason and, where there is one, its fix.
import { applyEdits } from "../state/edits";
import type { Finding } from "../state/model";
import { useSession } from "../state/plan";
import { Said } from "./Num";

export function Findings({ findings, frozen = false }: { findings: readonly Finding[]; frozen?: boolean }) {
  const { edit } = useSession();
  if (findings.length === 0) return null;
  return (
    <ol aria-label="findings">
      {findings.map((f, i) => (
        <li key={`${f.code}-${f.subject.part}-${i}`} className="rule-t py-2.5" data-code={f.code}>
          <div className={`text-xs font-bold tracking-wide uppercase sev-${f.severity.replace(" ", "-")}`}>{f.severity}{f.subject.state === "last" && <span className="quiet ml-2 font-normal normal-case">for the last person</span>}{f.subject.state === "party" && <span className="quiet ml-2 font-normal normal-case">for the party</span>}</div>
          <div className="font-semibold"><Said s={f.title} /></div>
          <div className={f.severity === "Note" ? "quiet" : ""}><Said s={f.reason} /></div>
          {f.fix && (
            <button type="button" className="act mt-1.5" disabled={frozen} onClick={() => f.fix && edit(applyEdits(f.fix.edits))}>
              <Said s={f.fix.label} />
            </button>
          )}
        </li>
      ))}
    </ol>
  );
}

export function Tally({ tally }: { tally: Record<string, number> }) {
  const short = tally["Shortfall"] ?? 0;
  const open = tally["Not checked"] ?? 0;
  const caution = tally["Caution"] ?? 0;
  return (
    <span>
      <span className={short ? "sev-Shortfall font-bold" : "quiet"}>{short} shortfall{short === 1 ? "" : "s"}</span>
      <span className="quiet"> · </span>
      <span className={open ? "sev-Not-checked font-bold" : "quiet"}>{open} not checked</span>
      {caution > 0 && <><span className="quiet"> · </span><span className="sev-Caution">{caution} caution{caution === 1 ? "" : "s"}</span></>}
    </span>
  );
}
