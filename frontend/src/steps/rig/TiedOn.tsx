// Rope tied on to lengthen a strand.
import { known, setAt } from "../../state/edits";
import type { EndRef, System } from "../../state/model";
import { useSession } from "../../state/plan";
import { ChoiceField, Choose, FigureField, type Path } from "../../ui/fields";
import { ENDS, JOINS, UNKNOWN } from "./systems/choices";

type Split = Extract<System, { kind: "blocked, same rope" | "blocked, pull cord" | "releasable" }>;

/** The end that hangs down: of the rope, or of the one tied on below it. */
export const lower = (s: Split): EndRef =>
  s.tied_on ? { rope: s.tied_on.rope, end: s.tied_on.end ?? "b" } : { rope: s.rope, end: s.ridden_end };

/** A second rope tied to the lower end of the ride strand. */
export function TiedOn({ s, at }: { s: Split; at: Path }) {
  const { plan, edit } = useSession();
  const others = (plan.shed.ropes ?? []).filter((r) => r.kind !== "pull cord" && r.id !== s.rope);
  const here: Path = [...at, "tied_on"];
  const choose = (id: string) => {
    const next: Split["tied_on"] = id
      ? {
          rope: id,
          end: "b",
          knot: plan.policies?.join ?? "flat overhand, second behind",
          tails_m: known(0.3, "given"),
          slips_kn: UNKNOWN("no pull test of the party's own"),
        }
      : null;
    const [was, is] = [lower(s), lower({ ...s, tied_on: next })];
    // Its stopper goes down with the end.
    edit(
      setAt(here, next),
      setAt(
        [...at, "stoppers"],
        (s.stoppers ?? []).map((e) => (e.rope === was.rope && e.end === was.end ? is : e)),
      ),
    );
  };
  return (
    <>
      <Choose
        label="tied on below"
        value={s.tied_on?.rope ?? ""}
        choices={[{ value: "", label: "nothing" }, ...others.map((r) => ({ value: r.id, label: r.name }))]}
        onChange={choose}
      />
      {s.tied_on && (
        <ChoiceField
          label="its end that hangs down"
          path={[...here, "end"]}
          value={s.tied_on.end ?? "b"}
          choices={ENDS}
        />
      )}
      {s.tied_on && (
        <ChoiceField
          label="tied on by"
          path={[...here, "knot"]}
          value={s.tied_on.knot ?? "flat overhand"}
          choices={JOINS}
        />
      )}
      {s.tied_on && (
        <FigureField
          label="tails, each"
          path={[...here, "tails_m"]}
          figure={s.tied_on.tails_m ?? UNKNOWN("")}
          quantity="fine length"
          why="not decided"
        />
      )}
    </>
  );
}
