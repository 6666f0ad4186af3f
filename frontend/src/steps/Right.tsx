// The right-hand side for a drop: the answer first, then reach, then findings worst first.
import type { DropAssessment, Rope } from "../state/model";
import { useSession } from "../state/plan";
import { useWhich } from "../state/which";
import { STRIPES } from "../cutaway/Scene";
import { Findings, Tally } from "../ui/Findings";
import { Num, Said } from "../ui/Num";

export function Swatch({ rope, width = 22 }: { rope: Pick<Rope, "colour" | "stripe"> | undefined; width?: number }) {
  const stripe = STRIPES[rope?.stripe ?? "plain"];
  return (
    <svg width={width} height={8} className="inline-block shrink-0" aria-hidden="true">
      <path d={`M0 4H${width}`} stroke="#1b1b1b" strokeOpacity={0.55} strokeWidth={7} />
      <path d={`M0 4H${width}`} stroke={rope?.colour ?? "#777777"} strokeWidth={5.6} />
      {stripe.width > 0 && <path d={`M0 4H${width}`} stroke="#fffdf6" strokeWidth={stripe.width} strokeDasharray={stripe.dash} strokeLinecap={stripe.cap} />}
    </svg>
  );
}

export function DropRight({ a: whole, draft }: { a: DropAssessment; draft: boolean }) {
  const { plan, view } = useSession();
  const which = useWhich();
  // Answer and reach are those of the state in view; findings and tally those of the whole station.
  const a = which === 1 && whole.last ? { ...whole.last, findings: whole.findings, tally: whole.tally, verdict: whole.verdict } : whole;
  const ropes = plan.shed.ropes ?? [];
  return (
    <div>
      <h1 className="text-lg font-bold">{a.number} · {a.name}{a.height && <> · <Num n={a.height} /></>}</h1>
      <p className="quiet">{a.system}{whole.last && (which === 1 ? ", for the last person" : ", for the party")}</p>
      <p className="mt-0.5 text-[13px]" data-testid="tally"><Tally tally={a.tally} /></p>
      <p className="my-3 border-l-4 border-accent py-1 pl-3 text-[17px] leading-snug font-medium" data-testid="answer"><Said s={a.answer} /></p>
      {a.reach.length > 0 && (
        <table className="mb-3 w-full text-[13px]" aria-label="reach">
          <thead>
            <tr className="quiet text-left text-xs"><th className="font-normal">to spare at worst</th><th /><th className="text-right font-normal">needs</th></tr>
          </thead>
          <tbody>
            {a.reach.map((r) => (
              <tr key={r.key}>
                <td className="py-0.5"><Swatch rope={ropes.find((x) => x.id === r.rope)} /> <span className="ml-1">{r.name} {r.end.toUpperCase()}</span> <span className="quiet">{r.role === "ride and pull" ? "" : r.role}</span></td>
                {r.spare && r.need
                  ? <><td className={`text-right ${r.spare.value < 0 ? "sev-Shortfall" : ""}`}><Num n={r.spare} /></td><td className="quiet text-right"><Num n={r.need} className="!font-normal" /></td></>
                  : <td colSpan={2} className="sev-Not-checked text-right font-semibold">not checked</td>}
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {a.cut && a.angle && (
        <p className="mb-3 text-[13px]">Takes <Num n={a.cut} />; the legs stand at <Num n={a.angle} />.</p>
      )}
      <Findings findings={a.findings} frozen={draft} />
      <div className="rule-t quiet pt-2.5 text-xs">
        {a.verdict && <p className="mb-1 font-semibold" data-testid="verdict">{a.verdict}</p>}
        <p>Not looked at: {view.assessment.not_covered.join("; ")}.</p>
      </div>
    </div>
  );
}
