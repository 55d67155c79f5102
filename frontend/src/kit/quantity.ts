/** Pure arithmetic of a nudgeable number: stored value to shown number and back, and one nudge. */

import table from "../generated/fields.json";
import { signOf } from "./format";

export interface FieldFacts {
  label: string;
  /** A number where it is not said. */
  type?: "yesno" | "text" | "date";
  unit?: string;
  step?: number;
  whole?: boolean;
  optional?: boolean;
  min?: number;
  max?: number;
  above?: number;
  below?: number;
  choices?: (string | number)[];
  default?: unknown;
}

export type FieldName = keyof typeof table;

/** What the core says of a field: label, unit, bounds, choices. */
export function factsOf(field: FieldName): FieldFacts {
  return table[field] as FieldFacts;
}

/** Base units (bytes, bytes per second) in one shown unit; what is not kept in base units is shown as it is. */
const factorOf = (facts: FieldFacts): number => {
  const { factor } = signOf(facts.unit ?? "");
  return factor > 1 ? factor : 1;
};

/** A stored value as the text of its input. */
export function shownText(value: unknown, facts: FieldFacts): string {
  if (value === null || value === undefined) return "";
  if (typeof value === "number") return String(rounded(value / factorOf(facts)));
  return typeof value === "string" ? value : "";
}

/**
 * What a typed text means: a bare number is in the shown unit, an empty text is nothing where that is
 * allowed, and anything else goes to the server as typed, which knows units and says what is wrong.
 */
export function typedValue(text: string, facts: FieldFacts): unknown {
  const trimmed = text.trim();
  if (trimmed === "" && facts.optional) return null;
  if (!/^[+-]?\d+(\.\d+)?$/.test(trimmed)) return trimmed;
  if (facts.unit === "money") return trimmed;
  return stored(Number(trimmed), facts);
}

/** The value one nudge away, or null where the field is at its end or holds no number. */
export function nudged(
  value: unknown,
  facts: FieldFacts,
  direction: 1 | -1,
  tenfold: boolean,
): unknown {
  const now = value === null || value === undefined || value === "" ? 0 : Number(value);
  if (Number.isNaN(now)) return null;
  const factor = factorOf(facts);
  const change = (facts.step ?? 1) * (tenfold ? 10 : 1) * direction;
  const next = clamped(rounded(now / factor + change) * factor, now, facts);
  if (next === now) return null;
  return facts.unit === "money" ? Math.max(next, 0).toFixed(2) : stored(next / factor, facts);
}

function clamped(next: number, now: number, facts: FieldFacts): number {
  if (facts.above !== undefined && next <= facts.above) return now;
  if (facts.below !== undefined && next >= facts.below) return now;
  // Bounds that the core does not print (amounts, sizes) end at zero; the server says the rest.
  return Math.min(Math.max(next, facts.min ?? 0), facts.max ?? Infinity);
}

function stored(shown: number, facts: FieldFacts): number {
  const value = shown * factorOf(facts);
  const isBase = facts.whole ?? false;
  return isBase && factorOf(facts) > 1 ? Math.round(value) : rounded(value);
}

/** Without the dust of binary fractions: 0.1 + 0.2 is 0.3 here. */
function rounded(value: number): number {
  return Number(value.toPrecision(12));
}
