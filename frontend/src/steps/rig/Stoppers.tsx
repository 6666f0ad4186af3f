// Which ends have a stopper.
import { setAt } from "../../state/edits";
import type { EndRef, System } from "../../state/model";
import { useSession } from "../../state/plan";
import { At, type Path } from "../../ui/fields";

export function Stoppers({
  system,
  at,
  strands,
}: {
  system: Exclude<System, { kind: "none" }>;
  at: Path;
  strands: readonly EndRef[];
}) {
  const { plan, edit } = useSession();
  const stoppers = system.stoppers ?? [];
  const has = (e: EndRef) => stoppers.some((s) => s.rope === e.rope && s.end === e.end);
  return (
    <At path={[...at, "stoppers"]}>
      <fieldset className="col-span-4 flex flex-wrap items-center gap-x-5">
        <legend className="quiet float-left mr-4 text-xs">stopper in</legend>
        {strands.map((e) => (
          <label key={`${e.rope}-${e.end}`} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              className="size-4 accent-[var(--color-accent)]"
              checked={has(e)}
              onChange={() =>
                edit(
                  setAt(
                    [...at, "stoppers"],
                    has(e) ? stoppers.filter((s) => s.rope !== e.rope || s.end !== e.end) : [...stoppers, e],
                  ),
                )
              }
            />
            {plan.shed.ropes?.find((r) => r.id === e.rope)?.name ?? "missing rope"}, end {e.end.toUpperCase()}
          </label>
        ))}
      </fieldset>
    </At>
  );
}
