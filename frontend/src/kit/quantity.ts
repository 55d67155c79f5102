/** Pure arithmetic of a nudgeable number: stored value to shown number and back, and one nudge. */

import table from "../generated/fields.json";
import { clockText, secondsOf, signOf } from "./format";

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

/** Base units (bytes, bytes per second, parts of one) in one shown unit. */
const factorOf = (facts: FieldFacts): number => signOf(facts.unit ?? "").factor;

/** What stands behind the field. */
export const unitOf = (facts: FieldFacts, currency: string): string | undefined =>
  facts.unit === "money" ? currency : facts.unit && signOf(facts.unit).after;

/** A stored value as the text of its input, with commas between thousands. */
export function shownText(value: unknown, facts: FieldFacts): string {
  if (value === null || value === undefined) return "";
  if (typeof value === "number") {
    if (facts.unit === "clock") return clockText(value * 60);
    const text = String(rounded(value / factorOf(facts)));
    // A frame is 3840 wide for everybody.
    return facts.unit === "px" ? text : grouped(text);
  }
  if (typeof value !== "string") return "";
  return facts.unit === "money" && PLAIN.test(value) ? grouped(value.replace(/\.00$/, "")) : value;
}

const PLAIN = /^[+-]?\d+(\.\d+)?$/;
const GROUPED = /^[+-]?\d{1,3}([, ]\d{3})+(\.\d+)?$/;

/** "140,000". */
function grouped(text: string): string {
  const [whole = "", rest] = text.split(".");
  if (!/^-?\d{4,}$/.test(whole)) return text;
  const parts = whole.replace(/\B(?=(\d{3})+$)/g, ",");
  return rest === undefined ? parts : `${parts}.${rest}`;
}

/**
 * What a typed text means: a bare number is in the shown unit, an empty text is nothing where that is
 * allowed, and anything else goes to the server as typed, which knows units and says what is wrong.
 */
export function typedValue(text: string, facts: FieldFacts): unknown {
  const trimmed = text.trim();
  if (trimmed === "" && facts.optional) return null;
  if (facts.unit === "clock") {
    const seconds = secondsOf(trimmed);
    return seconds === null ? trimmed : seconds / 60;
  }
  const plain = GROUPED.test(trimmed) ? trimmed.replace(/[, ]/g, "") : trimmed;
  if (!PLAIN.test(plain)) return trimmed;
  if (facts.unit === "money") return plain;
  return stored(Number(plain), facts);
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
  return facts.whole && factorOf(facts) > 1 ? Math.round(value) : rounded(value);
}

/** Without the dust of binary fractions: 0.1 + 0.2 is 0.3 here. */
function rounded(value: number): number {
  return Number(value.toPrecision(12));
}
