import { describe, expect, it } from "vitest";

import {
  freePlaces,
  placesOf,
  swapped,
  toggled,
  written,
  type BoxResult,
  type Place,
} from "./bays";

const bay = (
  number: number,
  occupant: string | null,
  order: number | null = null,
  slot: Place["slot"] = "bay",
) => ({ slot, number, lies: occupant ? "member" : "free", occupant_id: occupant, order });
const EAST = {
  id: "east",
  bays: [
    bay(1, "main", 0),
    bay(2, null),
    bay(3, "main", 1),
    bay(4, null),
    bay(1, null, null, "flash slot"),
  ],
} as unknown as BoxResult;

describe("bays as they are written", () => {
  it("go by box and kind of slot", () => {
    expect(written(placesOf([EAST], "main"))).toBe("east:1,3");
    const flash: Place = { box: "east", slot: "flash slot", number: 1 };
    expect(written([...placesOf([EAST], "main"), flash])).toBe("east:1,3 east:f1");
    expect(written([])).toBe("");
    const west: Place = { box: "west", slot: "bay", number: 1 };
    expect(written([{ ...west, box: "east" }, west, { ...west, box: "east", number: 2 }])).toBe(
      "east:1 west:1 east:2",
    );
  });

  it("are toggled one by one and filled from the first free one", () => {
    const two: Place = { box: "east", slot: "bay", number: 2 };
    const with2 = toggled(placesOf([EAST], "main"), two);
    expect(written(with2)).toBe("east:1,3,2");
    expect(written(toggled(with2, two))).toBe("east:1,3");
    expect(written(freePlaces([EAST], "bay", 5))).toBe("east:2,4");
    expect(freePlaces([EAST], "bay", -1)).toEqual([]);
  });

  it("swap what lies in two of them, and move into a free one", () => {
    const at = (number: number): Place => ({ box: "east", slot: "bay", number });
    const after = (one: number, other: number) =>
      swapped([EAST], at(one), at(other)).map(({ id, places }) => [id, written(places)]);
    expect(after(1, 3)).toEqual([["main", "east:3,1"]]);
    expect(after(1, 2)).toEqual([["main", "east:2,3"]]);
    expect(after(4, 2)).toEqual([]);
    const both = { ...EAST, bays: [bay(1, "main", 0), bay(2, "other", 0)] } as unknown as BoxResult;
    expect(swapped([both], at(1), at(2)).map((o) => [o.id, written(o.places)])).toEqual([
      ["main", "east:2"],
      ["other", "east:1"],
    ]);
  });
});
