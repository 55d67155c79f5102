import { describe, expect, it } from "vitest";

import { cutAtTerm, termsIn } from "./terms";

describe("terms in a text", () => {
  it("finds the longest one, in any case, and only whole words", () => {
    expect(cutAtTerm("Hot spares kept")).toEqual({
      before: "",
      words: "Hot spares",
      after: " kept",
    });
    expect(termsIn("Hot spares in the pool").map((t) => t.term)).toEqual(["hot spare", "pool"]);
    expect(cutAtTerm("a carpool")).toBeNull();
    expect(cutAtTerm("nothing of the trade")).toBeNull();
  });
  it("names each once", () => {
    expect(termsIn("pool, pools and pool")).toHaveLength(1);
  });
});
