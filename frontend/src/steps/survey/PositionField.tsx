// Where a station is on the earth: typed, or taken from a GPX file under Log.
import { useState } from "react";
import { setAt } from "../../state/edits";
import type { Drop } from "../../state/model";
import { useFieldError, useSession } from "../../state/plan";
import { Labelled, type Path, Typed } from "../../ui/fields";

export function PositionField({ path, value }: { path: Path; value: Drop["position"] | undefined }) {
  const { edit } = useSession();
  const refused = useFieldError(path);
  const [misread, setMisread] = useState<string | null>(null);
  const told = value
    ? [value.latitude_deg, value.longitude_deg, value.elevation_m]
        .filter((x) => x !== null && x !== undefined)
        .join(", ")
    : "";
  const commit = (text: string) => {
    if (!text.trim()) {
      setMisread(null);
      return edit(setAt(path, null));
    }
    const numbers = text
      .trim()
      .replace("−", "-")
      .split(/[\s,;]+/)
      .map(Number);
    if (numbers.length < 2 || numbers.length > 3 || numbers.some((n) => !Number.isFinite(n)))
      return setMisread("latitude, longitude and perhaps elevation: 46.5, 7.5, 1230");
    setMisread(null);
    edit(setAt(path, { latitude_deg: numbers[0], longitude_deg: numbers[1], elevation_m: numbers[2] ?? null }));
  };
  return (
    <Labelled label="position: latitude, longitude, elevation in m" error={misread ?? refused} className="mt-2">
      <Typed
        label="position"
        className="num w-full"
        value={told}
        bad={(misread ?? refused) !== null}
        placeholder="46.5, 7.5, 1230"
        onCommit={commit}
      />
    </Labelled>
  );
}
