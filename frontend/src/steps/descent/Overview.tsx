// The whole descent on one sheet, as the core draws it: to be looked at with the party, kept, and printed.
import { useAhead } from "../../state/descent";
import { useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";

export function Overview() {
  const { view, plan } = useSession();
  const { fresh } = useAhead();
  const { units } = usePrefs();
  // What is said of it and what its things have been through is on it: asked for again whenever that changes.
  const of = `${view.rests}-${view.standing.verdicts}`;
  const at = (form: string) =>
    `/api/plans/${view.id}/revisions/${view.revision}/overview.${form}?units=${units}&of=${of}`;
  return (
    <div>
      <p className="mb-2 flex items-center gap-3 text-[13px]">
        <a className="act" href={at("svg")} download={`${plan.title} overview.svg`}>
          Keep as SVG
        </a>
        <a className="act" href={at("png")} download={`${plan.title} overview.png`}>
          Keep as PNG
        </a>
        <a className="act plain" href={at("svg")} target="_blank" rel="noreferrer">
          Open it large
        </a>
        <span className="quiet">made to be looked at with the party</span>
      </p>
      {fresh ? (
        <img
          src={at("svg")}
          alt={`${plan.title}: profile, ropes, times, what if, points of no return`}
          className="w-full max-w-[1280px] border border-[var(--rule)]"
        />
      ) : (
        <p className="quiet">It is drawn once what lies ahead is worked out.</p>
      )}
    </div>
  );
}
