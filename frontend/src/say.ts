// Numbers and sentences as the core says them: the same table of units and the same rounding as reamer/core/say.py.
import units from "@tables/units.json";
import type { Number as Num, Sentence } from "./api/types.gen";

export type UnitSystem = "metric" | "us";
export type Quantity = Num["quantity"];
export interface Shown {
  unit: string;
  factor: number;
  digits: number;
  /** In which steps it is told, where those are larger than one of the last digit. */
  step?: number;
}
type Table = Record<Quantity, Record<UnitSystem, Shown>>;
const TABLE = units as unknown as Table;

export function shown(quantity: Quantity, system: UnitSystem): Shown {
  return TABLE[quantity][system];
}

export function rounded(value: number, digits: number, toward: Num["toward"]): number {
  const scaled = value * 10 ** digits;
  const whole =
    toward === "down"
      ? Math.floor(scaled + 1e-6)
      : toward === "up"
        ? Math.ceil(scaled - 1e-6)
        : Math.floor(scaled + 0.5);
  return whole / 10 ** digits + 0;
}

export function figure(n: Num, system: UnitSystem): [string, string] {
  const s = shown(n.quantity, system);
  const step = s.step ?? 1;
  const value = rounded((n.value * s.factor) / step, s.step ? 0 : s.digits, n.toward) * step;
  return [value.toFixed(s.digits).replace("-", "−"), s.unit];
}

export function spoken(n: Num, system: UnitSystem): string {
  const [text, unit] = figure(n, system);
  return text + (unit === "" || unit === "°" ? "" : " ") + unit;
}

export type Piece = { text: string } | { number: Num };

export function pieces(s: Sentence): Piece[] {
  return s.template
    .split(/(\{\w+\})/)
    .filter((p) => p !== "")
    .map((p) => {
      if (!p.startsWith("{")) return { text: p };
      const name = p.slice(1, -1);
      const number = s.numbers?.[name];
      return number ? { number } : { text: s.words?.[name] ?? "" };
    });
}

export function words(s: Sentence, system: UnitSystem): string {
  return pieces(s)
    .map((p) => ("text" in p ? p.text : spoken(p.number, system)))
    .join("");
}
