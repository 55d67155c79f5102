import { describe, expect, it } from "vitest";

import { bars } from "../stages/tiers/waterfall";
import { band, branched } from "../stages/wiring/chain";
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

describe("the chain", () => {
  it("is as thick as its bandwidth and filled to what is asked, at most wholly", () => {
    const wide = band(1000, 250, 1000);
    const narrow = band(500, 900, 1000);
    expect(wide.thickness).toBeCloseTo(narrow.thickness * 2);
    expect([wide.load, narrow.load]).toEqual([0.25, 1]);
  });

  it("parts where the pools part, and draws those with the least in hand", () => {
    const hop = (id: string, kind: string, ratio: number, ...pool_ids: string[]) => ({
      id,
      kind,
      ratio,
      pool_ids,
    });
    const hops = [
      hop("port", "link", 2),
      hop("bus", "bus", 3, "a", "b"),
      hop("a", "pool", 9, "a"),
      hop("b", "pool", 4, "b"),
      hop("c", "pool", 1.2, "c"),
    ];
    const { trunk, branches, left } = branched(hops, 2);
    expect(trunk.map((h) => h.id)).toEqual(["port"]);
    // a and b pass the same bus and are as tight as it is.
    expect(branches.map((b) => b.map((h) => h.id))).toEqual([["bus", "a"], ["c"]]);
    expect(left).toBe(1);
  });
});
