// The rope system: which, with what, and what holds rope or rider off the plumb line.
import { setAt } from "../../state/edits";
import type { Drop, DropAssessment, System } from "../../state/model";
import { useSession } from "../../state/plan";
import { useWhich } from "../../state/which";
import { At, ChoiceField, Choose, type Path } from "../../ui/fields";
import { Aids } from "./Aids";
import { Bights } from "./systems/Bights";
import { BlockedCord } from "./systems/BlockedCord";
import { BlockedSame } from "./systems/BlockedSame";
import { systemOf } from "./systems/choices";
import { Doubled } from "./systems/Doubled";
import { ElasticRelease } from "./systems/ElasticRelease";
import { Joined } from "./systems/Joined";
import { Lowered } from "./systems/Lowered";
import { Releasable } from "./systems/Releasable";

const KINDS = [
  { value: "none", label: "not chosen yet" },
  { value: "doubled", label: "doubled rope" },
  { value: "joined", label: "two ropes joined" },
  { value: "blocked, same rope", label: "single strand, block on the same rope" },
  { value: "blocked, pull cord", label: "single strand with pull cord" },
  { value: "releasable", label: "releasable single strand" },
  { value: "lowered", label: "lowered by a belayer" },
  { value: "elastic-release device", label: "elastic-release device" },
  { value: "alternating bights", label: "alternating bights" },
];

const LIES = { "side by side": ["left", "right"], "one behind": ["against the rock", "outside"], unknown: [] } as const;

export function Ropes({ drop, a }: { drop: Drop; a: DropAssessment }) {
  const { plan, edit } = useSession();
  const which = useWhich();
  const at: Path = ["drops", `#${drop.id}`, "station", "states", which, "system"];
  const state = drop.station.states[0]!;
  const s = state.system;
  const hang = drop.station.strands_hang ?? "unknown";
  return (
    <>
      <div className="grid grid-cols-4 gap-x-4 gap-y-2">
        <At path={[...at, "kind"]}>
          <Choose
            label="rope system"
            value={s.kind}
            choices={KINDS}
            onChange={(k) => edit(setAt(at, systemOf(k, plan, s)))}
            className="col-span-2"
          />
        </At>
        <Form s={s} at={at} />
        {a.retrieval.side.strand && (
          <ChoiceField
            label="pull strand lies, facing the rock"
            path={["drops", `#${drop.id}`, "station", "states", which, "pulled_lies"]}
            value={state.pulled_lies ?? "unknown"}
            choices={[
              ...LIES[hang],
              { value: "unknown", label: hang === "unknown" ? "unknown: see Survey first" : "unknown" },
            ]}
            className="col-span-2"
          />
        )}
        {(plan.shed.ropes ?? []).length === 0 && (
          <p className="sev-Not-checked col-span-4 text-xs">There is no rope in the shed yet.</p>
        )}
      </div>
      <Aids drop={drop} a={a} />
    </>
  );
}

/** The fields of the system that is chosen. */
function Form({ s, at }: { s: System; at: Path }) {
  switch (s.kind) {
    case "doubled":
      return <Doubled s={s} at={at} />;
    case "joined":
      return <Joined s={s} at={at} />;
    case "blocked, same rope":
      return <BlockedSame s={s} at={at} />;
    case "blocked, pull cord":
      return <BlockedCord s={s} at={at} />;
    case "releasable":
      return <Releasable s={s} at={at} />;
    case "lowered":
      return <Lowered s={s} at={at} />;
    case "elastic-release device":
      return <ElasticRelease s={s} at={at} />;
    case "alternating bights":
      return <Bights s={s} at={at} />;
    case "none":
      return null;
  }
}
