// The knot that blocks the rope at the ring.
import { useQuery } from "@tanstack/react-query";
import { api } from "../../api/client";
import { setAt } from "../../state/edits";
import type { System } from "../../state/model";
import { useSession } from "../../state/plan";
import { CapacityField, ChoiceField, type Path } from "../../ui/fields";

const BLOCKS = ["figure eight", "overhand", "butterfly", "clove hitch", "stone hitch"];

export function Block({
  s,
  at,
}: {
  s: Extract<System, { kind: "blocked, same rope" | "blocked, pull cord" }>;
  at: Path;
}) {
  const { edit } = useSession();
  const guide = useQuery({ queryKey: ["knots"], queryFn: api.knots, staleTime: Infinity }).data?.find(
    (k) => k.key === s.block || k.name.startsWith(s.block) || k.name.includes(s.block),
  );
  return (
    <>
      <ChoiceField label="block" path={[...at, "block"]} value={s.block} choices={BLOCKS} />
      <ChoiceField
        label="block lies"
        path={[...at, "block_on"]}
        value={s.block_on ?? "pull"}
        choices={[
          { value: "pull", label: "on the pull strand" },
          { value: "ride", label: "on the ride strand" },
        ]}
      />
      <label className="flex items-center gap-1.5 self-end pb-1.5">
        <input
          type="checkbox"
          className="size-4 accent-[var(--color-accent)]"
          checked={s.carabiner}
          onChange={(e) => edit(setAt([...at, "carabiner"], e.target.checked))}
        />
        carabiner in it
      </label>
      {guide && (
        <p className="quiet col-span-2 self-end pb-1 text-xs">
          Unties after load: {guide.unties}. {guide.dressing}
        </p>
      )}
      <CapacityField
        className="col-span-4"
        label="what this block holds on this ring, by your own pull test: unknown until somebody has pulled it"
        path={[...at, "block_holds"]}
        capacity={s.block_holds ?? { kind: "unknown", why: "" }}
        sources={["own pull test"]}
      />
    </>
  );
}
