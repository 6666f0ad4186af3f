// What the rules say anew of a plan that nobody changed, until it is read.
import { useState } from "react";
import { Link } from "react-router";
import { api } from "../api/client";
import { useSession } from "../state/plan";
import { Said } from "./Num";

export function Ruled() {
  const { view, plan } = useSession();
  const [read, setRead] = useState(false);
  if (read || view.ruled.length === 0) return null;
  const drops = plan.drops ?? [];
  return (
    <section aria-label="new by rule" className="rule-b mb-3 pb-3">
      <h2 className="text-[15px] font-bold">New by rule: {view.ruled.length}</h2>
      <p className="quiet text-[13px]">
        Reamer was updated. What it says here it did not say of this plan before; the plan is the same.
      </p>
      <ul className="my-1.5">
        {view.ruled.map((r, i) => {
          const n = drops.findIndex((d) => d.id === r.drop) + 1;
          const where = n > 0 ? `drop ${n}` : "whole plan";
          return (
            <li key={i} className="py-0.5 text-[13px]">
              <span className={`sev-${r.severity.replace(" ", "-")} font-bold`}>{r.severity.toLowerCase()}</span>{" "}
              <Link className="underline" to={`/plans/${view.id}/${n > 0 ? `rig/${r.drop}` : "shed"}`}>
                {where}
              </Link>
              : <Said s={r.title} />
            </li>
          );
        })}
      </ul>
      <button
        type="button"
        className="act"
        // It goes once that is kept: whoever leaves at once is not told it again.
        onClick={() =>
          void api.readRuled(view.id).then(
            () => setRead(true),
            () => undefined,
          )
        }
      >
        I have read it
      </button>
    </section>
  );
}
