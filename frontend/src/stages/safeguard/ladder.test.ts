import { describe, expect, it } from "vitest";

import { powerText, rungOf } from "./ladder";

describe("the odds' scale", () => {
  it("runs in powers of ten from certain to one in a billion", () => {
    expect(rungOf(1)).toBe(1);
    expect(rungOf(1e-9)).toBeCloseTo(0);
    expect(rungOf(1e-3)).toBeCloseTo(2 / 3);
    expect(rungOf(1e-20)).toBe(0);
    expect(rungOf(0)).toBe(0);
  });
  it("says its steps", () => {
    expect(powerText(0)).toBe("certain");
    expect(powerText(3)).toBe("1 in 1,000");
  });
});
