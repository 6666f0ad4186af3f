// Numbers as people write them: 18,5 m, 3/8 in, 1 1/2", 41'6", 41 ft 6 in, 1 h 30, in the base unit of their quantity.
import type { Quantity } from "../say";

/** What may be typed after a number, as a factor to the base unit of its quantity. */
const FEET = 0.3048;
const INCH = 0.0254;
const TYPED: Record<string, Record<string, number>> = {
  m: { m: 1, cm: 0.01, mm: 0.001, ft: FEET, feet: FEET, foot: FEET, "'": FEET, in: INCH, inch: INCH, '"': INCH },
  mm: { mm: 1, cm: 10, in: 25.4, inch: 25.4, '"': 25.4 },
  kN: { kn: 1, n: 0.001, dan: 0.01, lbf: 0.0044482216152605, lb: 0.0044482216152605 },
  kg: { kg: 1, g: 0.001, lb: 0.45359237, lbs: 0.45359237, oz: 0.028349523125 },
  min: { min: 1, h: 60, s: 1 / 60 },
  "kg/m": { "kg/m": 1, "g/m": 0.001, "lb/ft": 1.4881639435695537 },
  "°": { "°": 1, deg: 1 },
  "%": { "%": 1 },
  "m/h": { "m/h": 1, "cm/h": 0.01, "ft/h": FEET, "in/h": INCH },
  "mm/h": { "mm/h": 1, "in/h": 25.4 },
};
const BASE: Partial<Record<Quantity, string>> = {
  length: "m",
  "fine length": "m",
  diameter: "mm",
  force: "kN",
  mass: "kg",
  weight: "kg",
  minutes: "min",
  degrees: "°",
  percent: "%",
  "line mass": "kg/m",
  rise: "m/h",
  rain: "mm/h",
};
/** What comes after a unit without one of its own: inches after feet, minutes after hours. */
const AFTER: Record<string, string> = { ft: "in", feet: "in", foot: "in", "'": "in", h: "min" };
const VULGAR: Record<string, string> = {
  "½": "1/2",
  "¼": "1/4",
  "¾": "3/4",
  "⅛": "1/8",
  "⅜": "3/8",
  "⅝": "5/8",
  "⅞": "7/8",
};
const PART = /\s*(\d+[\s-]+\d+\/\d+|\d+\/\d+|\d*[.,]?\d+(?:e[+-]?\d+)?)\s*([a-z°%'"]+(?:\/[a-z]+)?)?/iy;

const AMBIGUOUS = /^[1-9]\d{0,2},\d{3}$/;

/** Why what was typed is no number, in words. */
export function misread(text: string, unit: string): string {
  const told = text.trim().slice(0, 20);
  const [number = ""] = text
    .trim()
    .replace(/^[+\-−]/, "")
    .split(/[^\d,.]/);
  if (AMBIGUOUS.test(number))
    return `“${told}” may be ${number.replace(",", "")} or ${number.replace(",", ".")}: write one`;
  return `“${told}” is not a number in ${unit || "figures"}`;
}

/** One number: a decimal, a fraction, or a whole with a fraction. */
function amount(text: string): number {
  const mixed = /^(?:(\d+)[\s-]+)?(\d+)\/(\d+)$/.exec(text);
  if (mixed) return Number(mixed[1] ?? 0) + Number(mixed[2]) / Number(mixed[3]);
  // A comma before three digits may set thousands apart or be a decimal mark: nobody can tell, so it is not guessed.
  if (AMBIGUOUS.test(text)) return Number.NaN;
  return Number(text.replace(",", "."));
}

/** A typed number in the quantity's base unit, or null if it is not one; without a unit it is in the one in view. */
export function parseTyped(text: string, quantity: Quantity, factor: number): number | null {
  const plain = text
    .replace(/[½¼¾⅛⅜⅝⅞]/g, (c) => ` ${VULGAR[c]}`)
    .replace(/[’′]/g, "'")
    .replace(/[”″]|''/g, '"')
    .replace("−", "-")
    .trim();
  const sign = plain.startsWith("-") ? -1 : 1;
  const written = plain.replace(/^[+-]\s*/, "");
  const units = TYPED[BASE[quantity] ?? ""] ?? {};
  let [sum, before, at] = [0, "", 0];
  let last = Number.POSITIVE_INFINITY;
  PART.lastIndex = 0;
  while (at < written.length) {
    PART.lastIndex = at;
    const m = PART.exec(written);
    if (!m) return null;
    const value = amount(m[1]!);
    const unit = m[2]?.toLowerCase() ?? (at === 0 ? "" : AFTER[before]);
    if (!Number.isFinite(value) || unit === undefined) return null;
    at = PART.lastIndex;
    if (unit === "") return at === written.length ? (sign * value) / factor : null;
    const one = units[unit];
    // Of several parts each is of a smaller unit than the one before.
    if (one === undefined || one >= last) return null;
    [sum, before, last] = [sum + value * one, unit, one];
  }
  return written === "" ? null : sign * sum;
}
