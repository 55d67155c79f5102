import { describe, expect, it } from "vitest";

import type { SchoolAnswer } from "../../api/client";
import { COLUMNS, inTwo, lengthOf, lengthOfOdds, missOf, NEED_AT, shortened } from "./rungs";

const school = (verdict: SchoolAnswer["verdict"], ...needs: string[]) =>
  ({
    verdict,
    sentence: "why",
    design: { misses: needs.map((need) => ({ need, words: need })) },
  }) as unknown as SchoolAnswer;

describe("the lines of schools", () => {
  it("reach the dashed line where what is needed is there, and never leave their column", () => {
    expect(lengthOf(1)).toBe(NEED_AT);
    expect(lengthOf(0)).toBeGreaterThan(0);
    expect(lengthOf(60)).toBe(1);
    expect(lengthOfOdds(10_000, 10_000)).toBeCloseTo(NEED_AT);
    expect(lengthOfOdds(100, 10_000)).toBeCloseTo(NEED_AT / 2);
    expect(lengthOfOdds(Infinity, 10_000)).toBe(1);
  });

  it("end at the first column in which something is missed", () => {
    expect(missOf(school("fails", "odds", "space"))).toEqual({ column: 1, words: "space" });
    expect(missOf(school("fails", "skill"))).toEqual({ column: COLUMNS, words: "skill" });
    expect(missOf(school("fails"))).toEqual({ column: COLUMNS, words: "why" });
    expect(missOf(school("serves"))).toBeNull();
  });

  it("are named on one line or two, and words are cut where they end", () => {
    expect(inTwo("Two temperatures")).toEqual(["Two temperatures"]);
    expect(inTwo("Checksumming copy-on-write pool")).toEqual([
      "Checksumming",
      "copy-on-write pool",
    ]);
    expect(shortened("short", 200)).toBe("short");
    expect(shortened("a sentence that is long", 56)).toBe("a sentenc…");
  });
});
