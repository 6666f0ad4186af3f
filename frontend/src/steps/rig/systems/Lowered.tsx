// Lowered by a belayer.
import { setAt } from "../../../state/edits";
import { useSession } from "../../../state/plan";
import { ChoiceField } from "../../../ui/fields";
import { RopeChoice } from "../RopeChoice";
import { ENDS, type FormOf } from "./choices";

export function Lowered({ s, at }: FormOf<"lowered">) {
  const { edit } = useSession();
  return (
    <>
      <RopeChoice label="rope" field="rope" value={s.rope} system={s} at={at} />
      <ChoiceField label="end the person is tied to" path={[...at, "end"]} value={s.end} choices={ENDS} />
      <ChoiceField
        label="belayer stands"
        path={[...at, "belayer"]}
        value={s.belayer ?? "above"}
        choices={[
          { value: "above", label: "at the anchor" },
          { value: "below", label: "at the landing, rope over the ring" },
        ]}
      />
      {s.belayer === "below" && (
        <ChoiceField
          label="whoever is up there"
          path={[...at, "top"]}
          value={s.top ?? "no"}
          choices={[
            { value: "no", label: "goes last by another state" },
            { value: "bight through", label: "climbed it, passes a bight through the ring" },
            { value: "end re-tied", label: "climbed it, passes the end through and ties in again" },
          ]}
        />
      )}
      <label className="flex items-center gap-1.5 self-end pb-1.5">
        <input
          type="checkbox"
          className="size-4 accent-[var(--color-accent)]"
          checked={s.far_end_closed ?? false}
          onChange={(e) => edit(setAt([...at, "far_end_closed"], e.target.checked))}
        />
        belayer's end knotted or tied in
      </label>
    </>
  );
}
