/** Where things stand in a house that is small enough to be written down. */

import { describe, expect, it } from "vitest";

import { COLUMNS, laidOut, thickness, WIDTH, WIDTHS, type Joined, type Thing } from "./wireLayout";

const thing = (column: Thing["column"], id: string, lines = 1): Thing => ({
  at: `${column}:${id}`,
  column,
  lines: Array.from({ length: lines }, () => id),
});
const link = (near: string, far: string): Joined => ({ id: `${near} ${far}`, near, far });

describe("a small house", () => {
  const things = [
    thing("seat", "a"),
    thing("seat", "b"),
    thing("switch", "s"),
    thing("box", "x", 3),
  ];
  const links = [
    link("seat:a", "switch:s"),
    link("seat:b", "switch:s"),
    link("switch:s", "box:x"),
    link("seat:b", "box:x"),
  ];
  const laid = laidOut(things, links);
  const at = (id: string) => laid.things.find((each) => each.at === id);
  const wire = (near: string, far: string) =>
    laid.wires.find((each) => each.link.near === near && each.link.far === far);

  it("has seats in rows, and what they are joined to amid them", () => {
    expect(at("seat:a")).toMatchObject({ x: 0, y: 8, width: WIDTHS.seat, height: 47 });
    expect(at("seat:b")).toMatchObject({ x: 0, y: 62, height: 47 });
    // Three links of nine each are as tall as one line and its margin.
    expect(at("switch:s")).toMatchObject({ x: COLUMNS.switch, y: 45, height: 27 });
    // Amid the switch, at 58.5, and seat b, at 85.5; three lines are 61 high.
    expect(at("box:x")).toMatchObject({ x: COLUMNS.box, y: 41.5, height: 61 });
    expect(laid.height).toBe(109 + 8);
    expect(WIDTH).toBe(720);
  });

  it("spreads the ends of links over the sides, in the order of where they lead", () => {
    expect(wire("seat:a", "switch:s")).toMatchObject({
      upright: false,
      swing: 0,
      from: [WIDTHS.seat, 8 + 47 / 2],
      to: [COLUMNS.switch, 45 + 27 / 3],
    });
    expect(wire("seat:b", "switch:s")?.from).toEqual([WIDTHS.seat, 62 + 47 / 3]);
    expect(wire("seat:b", "box:x")?.from).toEqual([WIDTHS.seat, 62 + (47 * 2) / 3]);
    expect(wire("seat:b", "box:x")?.to).toEqual([COLUMNS.box, 41.5 + (61 * 2) / 3]);
    expect(wire("switch:s", "box:x")?.from).toEqual([COLUMNS.switch + WIDTHS.switch, 45 + 27 / 2]);
  });
});

describe("switches under each other", () => {
  const ids = ["one", "two", "three"];
  const laid = laidOut(
    ids.map((id) => thing("switch", id)),
    [link("switch:one", "switch:two"), link("switch:one", "switch:three")],
  );
  it("are joined downwards, and past the one between in a swing to the right", () => {
    const [one, two, three] = laid.things.toSorted((a, b) => a.y - b.y);
    expect([one?.y, two?.y, three?.y]).toEqual([8, 8 + 27 + 44, 8 + 2 * (27 + 44)]);
    const middle = COLUMNS.switch + WIDTHS.switch / 2;
    const right = COLUMNS.switch + WIDTHS.switch;
    expect(laid.wires.map(({ upright, swing, from, to }) => [upright, swing, from, to])).toEqual([
      [true, 0, [middle, 35], [middle, 79]],
      [true, 38, [right, 8 + 13.5], [right, 150 + 13.5]],
    ]);
  });
});

describe("rows of seats", () => {
  it.each([
    [9, 54],
    [10, 32],
    [24, 32],
    [25, 21],
  ])("of %i are %i high", (count, row) => {
    const { things } = laidOut(
      Array.from({ length: count }, (_, n) => thing("seat", String(n))),
      [],
    );
    expect((things[1]?.y ?? 0) - (things[0]?.y ?? 0)).toBe(row);
  });
  it("leave room for a drawing with nothing in it", () => {
    expect(laidOut([], [])).toEqual({ things: [], wires: [], height: 68 });
  });
});

describe("the thickness of a link", () => {
  it("begins at 100 Mb/s and ends before it fills the drawing", () => {
    expect([0, 100e6 / 8, 200e6 / 8, 1e15].map(thickness)).toEqual([3, 3, 4.6, 24]);
  });
});
