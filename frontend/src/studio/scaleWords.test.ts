import { describe, expect, it } from "vitest";

import type { Scale } from "../api/client";
import { headline } from "./scaleWords";

const scale = (measure: Scale["measure"], have: number, need: number): Scale => ({
  verdict: "open",
  measure,
  have,
  need,
  ratio: null,
  because: "",
  beside: "",
});

describe("a scale that is open", () => {
  it("says what is known so far, and no figure of nothing", () => {
    expect(headline(scale("bytes_per_s", 0, 5e8), "EUR")).toBe("500 MB/s asked");
    expect(headline(scale("bytes", 0, 8e12), "EUR")).toBe("8.0 TB needed");
    expect(headline(scale("bytes", 0, 0), "EUR")).toBe("nothing kept yet");
    expect(headline(scale("drives", 0, 1), "EUR")).toBe("to survive 1 drive");
    expect(headline(scale("money", 9000, 0), "EUR")).toBe("€9,000 to spend");
    expect(headline(scale("money", 0, 0), "EUR")).toBe("no budget yet");
  });
});

describe("a scale that is judged", () => {
  it("says what there is for what is asked", () => {
    const judged = { ...scale("drives", 2, 1), verdict: "enough" as const };
    expect(headline(judged, "EUR")).toBe("survives 2 drives, 1 wanted");
    expect(headline({ ...judged, measure: "bytes_per_s", have: 4e8, need: 3e8 }, "EUR")).toBe(
      "400 for 300 MB/s",
    );
  });
});
