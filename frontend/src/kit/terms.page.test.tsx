// @vitest-environment jsdom
import { act, renderHook } from "@testing-library/react";
import { expect, it } from "vitest";

import { cutAtTerm, labelOf, showTerms, termsIn, useOpenTerms } from "./terms";

function element(html: string): Element {
  document.body.innerHTML = html;
  return document.body.querySelector("[data-it]") ?? document.body;
}

it("the label of a field is its label, else what it is called, else its words", () => {
  expect(labelOf(null)).toBe("");
  expect(labelOf(element("<label>Drives <input data-it /></label>"))).toBe("Drives ");
  expect(labelOf(element("<input data-it aria-label='Spares' />"))).toBe("Spares");
  expect(labelOf(element("<button data-it aria-label='Close'>×</button>"))).toBe("Close");
  expect(labelOf(element("<p data-it>A pool</p>"))).toBe("A pool");
  expect(labelOf(element("<p data-it></p>"))).toBe("");
});

it("terms are open beside the words they were asked for, and closed by asking for none", () => {
  const { result, unmount } = renderHook(useOpenTerms);
  const [pool] = termsIn("a pool");
  const at = element("<p data-it>pool</p>");
  at.getBoundingClientRect = () => ({ left: 12, bottom: 34 }) as DOMRect;
  act(() => showTerms(pool ? [pool] : [], at));
  expect(result.current).toEqual({ terms: [pool], left: 12, bottom: 34 });
  act(() => showTerms([], at));
  expect(result.current).toBeNull();
  act(() => showTerms(pool ? [pool] : [], null));
  expect(result.current).toBeNull();
  unmount();
  showTerms([], null);
});

it("a term is whole words in the midst of a text, with what stands around it", () => {
  expect(cutAtTerm("the pool, then")).toEqual({ before: "the ", words: "pool", after: ", then" });
  for (const none of ["pool-side", "side-pool", "pools2", "whirlpool"])
    expect(cutAtTerm(none)).toBeNull();
  expect(termsIn("a POOL beside a hot spare").map(({ term }) => term)).toEqual([
    "pool",
    "hot spare",
  ]);
});
