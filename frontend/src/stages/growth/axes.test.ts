import { describe, expect, it } from "vitest";
import { ticksTo, uprightAxis, yearsBetween } from "./axes";

describe("axes", () => {
  it("takes round steps, the last at or above the value", () => {
    expect(ticksTo(219, 5)).toEqual([0, 50, 100, 150, 200, 250]);
    expect(ticksTo(4.6, 5)).toEqual([0, 1, 2, 3, 4, 5]);
    expect(ticksTo(100, 5)).toEqual([0, 20, 40, 60, 80, 100]);
    expect(ticksTo(0, 5).length).toBe(2);
  });
  it("stands 0 at the bottom and the last tick at the top", () => {
    const axis = uprightAxis(90, 5, 10, 110);
    expect([axis.at(0), axis.at(100), axis.at(50)]).toEqual([110, 10, 60]);
  });
  it("marks the first days of years within", () => {
    const years = yearsBetween(Date.UTC(2026, 10, 23), Date.UTC(2029, 0, 1));
    expect(years.map((year) => new Date(year).toISOString().slice(0, 10))).toEqual([
      "2027-01-01",
      "2028-01-01",
      "2029-01-01",
    ]);
  });
});
