/** The trade's terms in our own labels: which words of a text are one, and which is open. */

import { useSyncExternalStore } from "react";

import table from "../generated/terms.json";

export type Term = (typeof table)[number];

const BY_WORD = new Map(
  table.flatMap((term) => [term.term, ...term.forms].map((word) => [word.toLowerCase(), term])),
);
const LONGEST_FIRST = [...BY_WORD.keys()].sort((a, b) => b.length - a.length);
const escaped = (word: string) => word.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
const ONE = new RegExp(`(?<![\\w-])(?:${LONGEST_FIRST.map(escaped).join("|")})(?![\\w-])`, "i");
const EVERY = new RegExp(ONE, "gi");

/** A text cut at its first term: what stands before it, the words of the term, and what follows. */
export function cutAtTerm(text: string): { before: string; words: string; after: string } | null {
  const match = ONE.exec(text);
  if (!match) return null;
  const end = match.index + match[0].length;
  return { before: text.slice(0, match.index), words: match[0], after: text.slice(end) };
}

/** The terms that a text has, in its order and each once. */
export function termsIn(text: string): Term[] {
  const found = [...text.matchAll(EVERY)].map(([words]) => BY_WORD.get(words.toLowerCase()));
  return [...new Set(found)].filter((term) => term !== undefined);
}

export interface OpenTerms {
  terms: Term[];
  /** Where the words stand on the screen. */
  left: number;
  bottom: number;
}

let open: OpenTerms | null = null;
const listeners = new Set<() => void>();

export function showTerms(terms: Term[], at: Element | null): void {
  const place = at?.getBoundingClientRect();
  open = terms.length && place ? { terms, left: place.left, bottom: place.bottom } : null;
  listeners.forEach((listener) => listener());
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useOpenTerms = (): OpenTerms | null => useSyncExternalStore(subscribe, () => open);

/** What somebody would read as the label of an element: of a field its label, else its own words. */
export function labelOf(element: Element | null): string {
  if (!element) return "";
  const labels = "labels" in element ? (element.labels as NodeListOf<HTMLElement> | null) : null;
  return (
    labels?.[0]?.textContent || element.getAttribute("aria-label") || element.textContent || ""
  );
}
