// The colour that a thing is drawn in.
import { setAt } from "../../state/edits";
import { useSession } from "../../state/plan";
import type { Path } from "../../ui/fields";

export function Colour({ path, value }: { path: Path; value: string }) {
  const { edit } = useSession();
  return (
    <label className="block">
      <span className="quiet block text-xs">colour</span>
      <input
        type="color"
        className="h-7 w-14 cursor-pointer"
        aria-label="colour"
        value={value}
        onChange={(e) => edit(setAt([...path, "colour"], e.target.value))}
      />
    </label>
  );
}
