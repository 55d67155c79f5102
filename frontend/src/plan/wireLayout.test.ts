import { describe, expect, it } from "vitest";

import { laidOut, thickness, type Thing } from "./wireLayout";

const seat = (n: number): Thing => ({ at: `seat:${n}`, column: "seat", lines: [`Seat ${n}`] });
const house = (count: number) => {
  const seats = Array.from({ length: count }, (_, n) => seat(n));
  const switches: Thing[] = ["a", "b"].map((id) => ({
    at: `switch:${id}`,
    column: "switch",
    lines: [id],
  }));
  const box: Thing = { at: "box:x", column: "box", lines: ["Box", "Pool"] };
  const links = seats.map((s, n) => ({
    id: `l${n}`,
    near: s.at,
    far: `switch:${n % 2 ? "a" : "b"}`,
  }));
  return laidOut(
    [...seats, ...switches, box],
    [
      ...links,
      { id: "up", near: "switch:a", far: "switch:b" },
      { id: "port", near: "switch:b", far: "box:x" },
      { id: "loose", near: "seat:gone", far: "switch:a" },
    ],
  );
};

describe("the drawing of the wires", () => {
  it.each([1, 12, 60])("lays no thing over another, at %i classes of seats", (count) => {
    const { things, height } = house(count);
    for (const one of things)
      for (const other of things)
        if (one !== other && one.column === other.column)
          expect(one.y >= other.y + other.height || other.y >= one.y + one.height).toBe(true);
    expect(Math.max(...things.map((t) => t.y + t.height))).toBeLessThanOrEqual(height);
  });

  it("puts those beside each other that are plugged into the same switch", () => {
    const order = house(8)
      .things.filter((t) => t.column === "seat")
      .toSorted((a, b) => a.y - b.y)
      .map((t) => Number(t.at.slice(5)) % 2);
    expect(order).toEqual([1, 1, 1, 1, 0, 0, 0, 0]);
  });

  it("draws every link that has both ends, and one between switches upright", () => {
    const { wires } = house(4);
    expect(wires.map((w) => w.link.id)).toEqual(["l0", "l1", "l2", "l3", "up", "port"]);
    expect(wires.filter((w) => w.upright).map((w) => w.link.id)).toEqual(["up"]);
  });

  it("makes a link a step thicker for each doubling", () => {
    const step = thickness(250e6) - thickness(125e6);
    expect(thickness(500e6) - thickness(250e6)).toBeCloseTo(step);
    expect(step).toBeGreaterThan(1);
  });
});
