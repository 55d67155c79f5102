import { describe, expect, it } from "vitest";

import { band, branched } from "./chain";

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
