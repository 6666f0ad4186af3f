// A station's own limits of water and weather, at a gauge.
import { shown } from "../../say";
import { setAt } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useFieldError, useSession } from "../../state/plan";
import { usePrefs } from "../../state/prefs";
import { Labelled, type Path, Typed } from "../../ui/fields";
import { parseTyped } from "../../ui/typed";

const FIELDS = [
  ["go_below_m", "go below, at the gauge", "fine length"],
  ["turn_back_m", "turn back from", "fine length"],
  ["turn_back_rise_m_h", "turn back rising", "rise"],
  ["turn_back_rain_mm_h", "turn back in rain of", "rain"],
] as const;
const NONE = { go_below_m: null, turn_back_m: null, turn_back_rise_m_h: null, turn_back_rain_mm_h: null };

export function WatchField({ path, value }: { path: Path; value: Drop["watch"] | undefined }) {
  const { edit } = useSession();
  const { units } = usePrefs();
  const refused = useFieldError(path);
  const watch = value ?? NONE;
  return (
    <fieldset className="mt-2 grid grid-cols-4 gap-x-4 gap-y-1">
      <legend className="sr-only">own limits of water and weather</legend>
      {FIELDS.map(([key, label, quantity]) => {
        const s = shown(quantity, units);
        const had = watch[key];
        return (
          <Labelled key={key} label={`${label}, ${s.unit}`}>
            <Typed
              label={label}
              className="num w-full text-right"
              value={had === null || had === undefined ? "" : String(Number((had * s.factor).toFixed(3)))}
              onCommit={(text) => {
                // What is no number is sent as one that is refused, so that it is said.
                const made = { ...watch, [key]: text.trim() ? (parseTyped(text, quantity, s.factor) ?? -999) : null };
                edit(setAt(path, Object.values(made).every((v) => v === null) ? null : made));
              }}
            />
          </Labelled>
        );
      })}
      {refused && (
        <p role="alert" className="sev-Shortfall col-span-4 text-xs">
          {refused}
        </p>
      )}
    </fieldset>
  );
}
