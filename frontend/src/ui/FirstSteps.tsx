// The way to a first checked drop: what is still open of it, until nothing is; then it is gone.
import { Link } from "react-router";
import type { State } from "../state/model";
import { useSession } from "../state/plan";

export function FirstSteps() {
  const { plan, view } = useSession();
  const drops = plan.drops ?? [];
  const of = (open: (d: (typeof drops)[number]) => boolean) => drops.find(open)?.id ?? drops[0]?.id ?? "";
  const bare = (id: string) => (view.assessment.drops.find((d) => d.id === id)?.geometry.missing.length ?? 1) > 0;
  const untied = (d: (typeof drops)[number]) => d.station.states.some((s) => s.rig.kind === "none");
  const ropeless = (d: (typeof drops)[number]) => d.station.states.some((s) => s.system.kind === "none");
  /** The field of the first state of a drop of which something is open, as the screen that has it is asked for it. */
  const stateOf = (id: string, open: (s: State) => boolean, field: string) => {
    const i = drops.findIndex((d) => d.id === id);
    const which = Math.max(0, (drops[i]?.station.states ?? []).findIndex(open));
    return i < 0 ? "" : `drops/${i}/station/states/${which}/${field}`;
  };
  const steps: { name: string; done: boolean; to: string; field?: string }[] = [
    { name: "kit and people", done: (plan.party ?? []).length > 0 && (plan.shed.ropes ?? []).length > 0, to: "shed" },
    {
      name: "measure",
      done: drops.length > 0 && !drops.some((d) => bare(d.id)),
      to: `survey/${of((d) => bare(d.id))}`,
    },
    {
      name: "tie to",
      done: drops.length > 0 && !drops.some(untied),
      to: `rig/${of(untied)}`,
      field: stateOf(of(untied), (s) => s.rig.kind === "none", "rig/kind"),
    },
    {
      name: "rope",
      done: drops.length > 0 && !drops.some(ropeless),
      to: `rig/${of(ropeless)}`,
      field: stateOf(of(ropeless), (s) => s.system.kind === "none", "system/kind"),
    },
  ];
  if (steps.every((s) => s.done)) return null;
  const next = steps.find((s) => !s.done);
  return (
    <nav aria-label="first steps" className="rule-b mb-3 flex flex-wrap items-baseline gap-x-3 pb-2 text-[13px]">
      {steps.map((s) => (
        <Link
          key={s.name}
          to={`/plans/${view.id}/${s.to}`}
          state={s.field ? { field: s.field, asked: Date.now() } : null}
          className={s.done ? "quiet line-through" : s === next ? "font-bold underline" : "underline"}
        >
          {s.name}
          {s.done && <span className="sr-only">, done</span>}
        </Link>
      ))}
      <span className="quiet">then check</span>
    </nav>
  );
}
