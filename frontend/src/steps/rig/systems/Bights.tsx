// A chain of alternating bights.
import { setAt } from "../../../state/edits";
import { useSession } from "../../../state/plan";
import { CapacityField, ChoiceField, Choose, FigureField } from "../../../ui/fields";
import { RopeChoice } from "../RopeChoice";
import { Stoppers } from "../Stoppers";
import { ENDS, type FormOf, MIDDLES, otherEnd, UNKNOWN } from "./choices";

export function Bights({ s, at }: FormOf<"alternating bights">) {
  const { plan, edit } = useSession();
  return (
    <>
      <RopeChoice label="rope, ridden" field="rope" value={s.rope} system={s} at={at} />
      <ChoiceField label="end ridden" path={[...at, "ridden_end"]} value={s.ridden_end} choices={ENDS} />
      <Choose
        label="pull strand"
        value={s.other ?? ""}
        choices={[
          { value: "", label: "the other end of the same rope" },
          ...(plan.shed.ropes ?? []).filter((r) => r.id !== s.rope).map((r) => ({ value: r.id, label: r.name })),
        ]}
        onChange={(v) => edit(setAt([...at, "other"], v || null))}
      />
      {s.other ? (
        <ChoiceField
          label="hanging end, pull strand"
          path={[...at, "other_end"]}
          value={s.other_end ?? "b"}
          choices={ENDS}
        />
      ) : (
        <ChoiceField
          label="middle found by"
          path={[...at, "middle_by"]}
          value={s.middle_by ?? "mark"}
          choices={MIDDLES}
        />
      )}
      <FigureField label="bights" path={[...at, "bights"]} figure={s.bights} quantity="count" why="not decided" />
      <ChoiceField
        label="last bight made of"
        path={[...at, "last_on"]}
        value={s.last_on ?? "pull"}
        choices={[
          { value: "pull", label: "the pull strand" },
          { value: "ride", label: "the ride strand" },
        ]}
      />
      <FigureField
        label="length of the last bight"
        path={[...at, "last_m"]}
        figure={s.last_m}
        quantity="fine length"
        why="not decided"
      />
      <label className="col-span-2 flex items-center gap-1.5 self-end pb-1.5">
        <input
          type="checkbox"
          className="size-4 accent-[var(--color-accent)]"
          checked={s.clipped ?? true}
          onChange={(e) => edit(setAt([...at, "clipped"], e.target.checked))}
        />
        last bight clipped to the ride strand for all but the last
      </label>
      <CapacityField
        className="col-span-4"
        label="what this chain of bights holds, by your own pull test"
        path={[...at, "block_holds"]}
        capacity={s.block_holds ?? UNKNOWN("not tested")}
        sources={["own pull test"]}
      />
      <Stoppers
        system={s}
        at={at}
        strands={[
          { rope: s.rope, end: s.ridden_end },
          s.other ? { rope: s.other, end: s.other_end ?? "b" } : { rope: s.rope, end: otherEnd(s.ridden_end) },
        ]}
      />
    </>
  );
}
