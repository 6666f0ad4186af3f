// Samples of one measure, typed one after another.
import { useState } from "react";
import { shown } from "../../say";
import { setAt } from "../../state/edits";
import { useFieldError, useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Labelled, type Path, Typed } from "../../ui/fields";
import { parseTyped } from "../../ui/typed";

interface Props {
  label: string;
  /** What the field alone is called. */
  name: string;
  path: Path;
  samples: readonly number[];
  quantity: "force" | "diameter";
  placeholder: string;
  className?: string;
}

export function SamplesField({ label, name, path, samples, quantity, placeholder, className = "" }: Props) {
  const { edit } = useSession();
  const { units } = usePrefs();
  const unit = shown(quantity, units);
  const refused = useFieldError(path);
  const [misread, setMisread] = useState<string | null>(null);
  const commit = (text: string) => {
    const words = text.split(/[;\s]+/).filter(Boolean);
    const read = words.map((w) => parseTyped(w, quantity, unit.factor));
    const bad = read.indexOf(null);
    if (bad >= 0) return setMisread(`“${words[bad]}” is not a number`);
    setMisread(null);
    edit(setAt(path, read));
  };
  const error = misread ?? refused;
  const digits = unit.digits + (units === "metric" ? 1 : 0);
  return (
    <Labelled label={`${label}, in ${unit.unit}`} error={error} className={className}>
      <Typed
        label={name}
        value={samples.map((s) => (s * unit.factor).toFixed(digits).replace(/\.?0+$/, "")).join("  ")}
        bad={error !== null}
        className="num w-full"
        placeholder={placeholder}
        onCommit={commit}
      />
    </Labelled>
  );
}
