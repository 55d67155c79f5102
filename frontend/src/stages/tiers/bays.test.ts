import { describe, expect, it } from "vitest";

import { freePlaces, placesOf, toggled, written, type BoxResult, type Place } from "./bays";

const bay = (number: number, occupant: string | null, slot: Place["slot"] = "bay") => ({
  slot,
  number,
  lies: occupant ? "member" : "free",
  occupant_id: occupant,
});
const EAST = {
  id: "east",
  bays: [bay(1, "main"), bay(2, null), bay(3, "main"), bay(4, null), bay(1, null, "flash slot")],
} as unknown as BoxResult;

describe("bays as they are written", () => {
  it("go by box and kind of slot", () => {
    expect(written(placesOf([EAST], "main"))).toBe("east:1,3");
    const flash: Place = { box: "east", slot: "flash slot", number: 1 };
    expect(written([...placesOf([EAST], "main"), flash])).toBe("east:1,3 east:f1");
    expect(written([])).toBe("");
  });

  it("are toggled one by one and filled from the first free one", () => {
    const two: Place = { box: "east", slot: "bay", number: 2 };
    const with2 = toggled(placesOf([EAST], "main"), two);
    expect(written(with2)).toBe("east:1,3,2");
    expect(written(toggled(with2, two))).toBe("east:1,3");
    expect(written(freePlaces([EAST], "bay", 5))).toBe("east:2,4");
    expect(freePlaces([EAST], "bay", -1)).toEqual([]);
  });
});
