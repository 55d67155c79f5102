/** Where the lines of the schools' drawing end: every measure is drawn as a multiple of what is needed. */

import type { SchoolAnswer } from "../../api/client";

/** The dashed line of what is needed stands at this part of a column. */
export const NEED_AT = 0.46;
/** By which of the four columns a need is told; the others are told at the end of the line. */
const COLUMN_OF: Record<string, number> = {
  budget: 0,
  prices: 0,
  space: 1,
  speed: 2,
  wear: 2,
  failures: 3,
  odds: 3,
  exposure: 3,
  copies: 3,
};
export const COLUMNS = 4;

/** How long a bar is, of its column, for so many times what is needed. */
export const lengthOf = (times: number): number => Math.min(Math.max(times, 0.02) * NEED_AT, 1);

/** The same for odds, by powers of ten: a pool is lost once in so many years, against the rule. */
export const lengthOfOdds = (years: number, rule: number): number =>
  lengthOf(Math.log10(Math.max(years, 1.2)) / Math.log10(Math.max(rule, 10)));

/** In which column the first miss of a school is told, and what it says; beyond the last where it is of none. */
export function missOf(school: SchoolAnswer): { column: number; words: string } | null {
  const misses = school.design?.misses ?? [];
  if (school.verdict !== "fails") return null;
  const told = misses
    .map((miss) => ({ column: COLUMN_OF[miss.need] ?? COLUMNS, words: miss.words }))
    .toSorted((a, b) => a.column - b.column);
  return told[0] ?? { column: COLUMNS, words: school.sentence };
}

/** Words that fit a width, at about so much for a letter. */
export function shortened(words: string, width: number, letter = 5.6): string {
  const most = Math.max(Math.floor(width / letter), 4);
  return words.length > most ? `${words.slice(0, most - 1).trimEnd()}…` : words;
}

const LINE_OF_NAME = 21;

/** A name on one line, or on two where it is long. */
export function inTwo(name: string): readonly string[] {
  if (name.length <= LINE_OF_NAME) return [name];
  const at = name.lastIndexOf(" ", LINE_OF_NAME);
  return at < 0 ? [name] : [name.slice(0, at), name.slice(at + 1)];
}
