import { describe, expect, it } from "vitest";

import { beamAngle } from "./beam";

describe("the balance beam", () => {
  it("is level where have equals need and leans to the fuller side", () => {
    expect(beamAngle(1)).toBe(0);
    expect(beamAngle(1.2)).toBeGreaterThan(0);
    expect(beamAngle(0.8)).toBeLessThan(0);
  });

  it("leans alike for a ratio and its inverse, and never past its end", () => {
    expect(beamAngle(1.2)).toBeCloseTo(-beamAngle(1 / 1.2));
    expect(beamAngle(1000)).toBe(beamAngle(null));
    expect(beamAngle(0)).toBe(-beamAngle(null));
  });
});
