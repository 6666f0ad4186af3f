// The whole descent: one figure whose rows are the stops of the strip, and its ropes, kit, times and questions as rows.
import { useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { useAhead } from "../../state/descent";
import { useSession } from "../../state/plan";
import { useWanted } from "../../ui/goto";
import { keyOf, useKeys } from "../../ui/keys";
import { TabPanel, Tabs } from "../../ui/Tabs";
import { Asked } from "./Asked";
import { AtOnce } from "./AtOnce";
import { Carry } from "./Carry";
import { Flow } from "./Flow";
import { Overview } from "./Overview";
import { Ropes } from "./Ropes";
import { Times } from "./Times";
import { Water } from "./Water";

export { DescentRight } from "./DescentRight";

const VIEWS = [
  "At a glance",
  "Ropes",
  "Carry and leave",
  "Times",
  "Date and demands",
  "Water",
  "Several at once",
  "One sheet",
] as const;
type View = (typeof VIEWS)[number];

export function Descent({ dropId }: { dropId: string }) {
  const [at, setAt] = useState<View>("At a glance");
  const { view } = useSession();
  const wanted = useWanted();
  useEffect(() => {
    if (wanted) setAt(/\/threaded|\/run_through/.test(wanted.field) ? "Ropes" : "Date and demands");
  }, [wanted]);
  const go = useNavigate();
  useKeys({ nextView: () => setAt((v) => VIEWS[(VIEWS.indexOf(v) + 1) % VIEWS.length]!) });
  const toStation = (id: string) => go(`/plans/${view.id}/rig/${id}`);
  return (
    <div className="flex h-full flex-col bg-[var(--void)]">
      <TabPanel group="descent" at={at} className="min-h-0 grow">
        {at === "At a glance" ? (
          <Flow dropId={dropId} />
        ) : (
          <div className="h-full overflow-auto p-5">
            {at === "Ropes" && <Ropes onStation={toStation} />}
            {at === "Carry and leave" && <Carry />}
            {at === "Times" && <Times />}
            {at === "Date and demands" && <Asked />}
            {at === "Water" && <Water />}
            {at === "Several at once" && <AtOnce />}
            {at === "One sheet" && <Overview />}
          </div>
        )}
      </TabPanel>
      <Working />
      <Tabs
        group="descent"
        label="views of the descent"
        tabs={VIEWS.map((v) => ({ key: v, name: v, title: `${v} (${keyOf("nextView")} for the next)` }))}
        at={at}
        onPick={setAt}
        className="rule-t bg-base-100 px-2"
      />
    </div>
  );
}

/** How far the working out has come, with a way to stop it. */
function Working() {
  const { working, error, stopped, stop, again } = useAhead();
  if (working) {
    const whole = working.of > 0 && working.done === working.of;
    return (
      <p className="rule-t flex shrink-0 items-center gap-3 bg-base-100 px-4 py-1 text-[13px]" role="status">
        {whole ? "Choosing among sets of ropes…" : `Which ropes serve each station: ${working.done} of ${working.of}`}
        <button type="button" className="act plain" onClick={stop}>
          Stop
        </button>
      </p>
    );
  }
  if (stopped || error) {
    return (
      <p
        className="rule-t flex shrink-0 items-center gap-3 bg-base-100 px-4 py-1 text-[13px]"
        role={error ? "alert" : "status"}
      >
        {error || "Stopped: ropes to carry and what if are not worked out for this revision."}
        <button type="button" className="act" onClick={again}>
          Work it out
        </button>
      </p>
    );
  }
  return null;
}
