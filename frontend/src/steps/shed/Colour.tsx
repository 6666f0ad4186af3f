// The colour that a thing is drawn in, by its name.
import { setAt } from "../../state/edits";
import { useSession } from "../../state/plan";
import { At, Choose, type Path } from "../../ui/fields";

export const COLOURS = [
  ["blue", "#2f6f9f"],
  ["green", "#3f7d4e"],
  ["orange", "#d0742a"],
  ["plum", "#8a3b5c"],
  ["grey", "#6b7280"],
  ["ochre", "#b8952b"],
  ["violet", "#4b4a8c"],
  ["red", "#a33a2c"],
  ["purple", "#7a3b6b"],
  ["teal", "#2f8a86"],
  ["black", "#2b2b2b"],
  ["white", "#d9d4c7"],
] as const;

export function Colour({ path, value }: { path: Path; value: string }) {
  const { edit } = useSession();
  const at: Path = [...path, "colour"];
  const choices = COLOURS.map(([label, hex]) => ({ value: hex as string, label: label as string }));
  const own = choices.some((c) => c.value === value) ? [] : [{ value, label: "its own" }];
  return (
    <At path={at}>
      <span className="flex items-end gap-1.5">
        <Choose
          label="colour"
          value={value}
          choices={[...choices, ...own]}
          onChange={(v) => edit(setAt(at, v))}
          className="w-28"
        />
        <span className="mb-1.5 size-4 shrink-0 rounded-sm" style={{ background: value }} aria-hidden="true" />
      </span>
    </At>
  );
}
