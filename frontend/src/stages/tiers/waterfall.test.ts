import { describe, expect, it } from "vitest";

import { bars } from "./waterfall";

describe("the waterfall", () => {
  const steps = [
    { step: "raw", bytes: 100 },
    { step: "spares", bytes: 0 },
    { step: "redundancy", bytes: -20 },
    { step: "headroom", bytes: -16 },
  ];

  it("hangs each step from the level before and leaves empty steps out", () => {
    expect(bars(steps, 64)).toEqual([
      { step: "raw", bytes: 100, from: 0, to: 100 },
      { step: "redundancy", bytes: -20, from: 80, to: 100 },
      { step: "headroom", bytes: -16, from: 64, to: 80 },
      { step: "plannable", bytes: 64, from: 0, to: 64 },
    ]);
  });
});
