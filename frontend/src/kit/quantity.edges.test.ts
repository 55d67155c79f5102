/** A number in its field, right at its bounds and in every way of being written. */

import { describe, expect, it } from "vitest";

import { nudged, shownText, typedValue, unitOf, type FieldFacts } from "./quantity";

const plain: FieldFacts = { label: "N" };
const bytes: FieldFacts = { label: "Size", unit: "bytes", whole: true };

describe("a nudge at a bound", () => {
  it("never reaches a bound that is itself not accepted", () => {
    expect(nudged(1, { ...plain, above: 0 }, -1, false)).toBeNull();
    expect(nudged(2, { ...plain, above: 0 }, -1, false)).toBe(1);
    expect(nudged(9, { ...plain, below: 10 }, 1, false)).toBeNull();
    expect(nudged(8, { ...plain, below: 10 }, 1, false)).toBe(9);
  });

  it("stops at one that is accepted, and at zero where none is said", () => {
    expect(nudged(5, { ...plain, min: 3 }, -1, true)).toBe(3);
    expect(nudged(5, { ...plain, max: 7 }, 1, true)).toBe(7);
    expect(nudged(7, { ...plain, max: 7 }, 1, false)).toBeNull();
    expect(nudged(5, plain, -1, true)).toBe(0);
    expect(nudged(0, plain, -1, false)).toBeNull();
    expect(nudged(-5, { ...plain, min: -9 }, -1, false)).toBe(-6);
  });

  it("begins at nothing where nothing stands, and leaves words alone", () => {
    for (const nothing of [null, undefined, ""]) expect(nudged(nothing, plain, 1, false)).toBe(1);
    expect(nudged("three", plain, 1, false)).toBeNull();
    expect(nudged("4", plain, 1, false)).toBe(5);
  });

  it("goes by the field's own step, and money never below zero", () => {
    expect(nudged(10, { ...plain, step: 5 }, 1, true)).toBe(60);
    expect(nudged("3.00", { label: "P", unit: "money", step: 5 }, -1, false)).toBe("0.00");
  });

  it("keeps what is finer than its step", () => {
    expect(nudged(1e12 + 100, bytes, 1, false)).toBe(2e12 + 100);
  });
});

describe("how a number is shown", () => {
  it("is nothing for nothing, a time of day for a clock, and words as they are", () => {
    expect([null, undefined, true].map((value) => shownText(value, plain))).toEqual(["", "", ""]);
    expect(shownText(690, { ...plain, unit: "clock" })).toBe("11:30");
    expect(shownText("abc", plain)).toBe("abc");
    expect(shownText("abc", { ...plain, unit: "money" })).toBe("abc");
    expect(shownText("1200.00", plain)).toBe("1200.00");
  });

  it("has commas from a thousand on, below zero too, and not in what comes after the point", () => {
    expect([999, 1000, -1000, -999, 1234567, 1234.56789].map((n) => shownText(n, plain))).toEqual([
      "999",
      "1,000",
      "-1,000",
      "-999",
      "1,234,567",
      "1,234.56789",
    ]);
  });

  it("has its unit beside it", () => {
    expect([unitOf(plain, "EUR"), unitOf(bytes, "EUR")]).toEqual([undefined, "TB"]);
  });
});

describe("what is typed", () => {
  it("of a clock is a time of day in minutes, or goes on as typed", () => {
    const clock = { ...plain, unit: "clock" };
    expect([typedValue(" 11:30 ", clock), typedValue("690", clock)]).toEqual([690, "690"]);
  });

  it("may have a sign, thousands and a fraction", () => {
    expect(
      ["+5", "-5", "1,234.5", "12 345", "1234567", "0.5"].map((text) => typedValue(text, plain)),
    ).toEqual([5, -5, 1234.5, 12345, 1234567, 0.5]);
    for (const text of ["1,23", "1 2345", "1,,234", "5.", ".5", "1e3", "5 TB"])
      expect(typedValue(text, plain)).toBe(text);
  });

  it("is kept whole where the core keeps whole bytes, and cut of dust where not", () => {
    expect(typedValue("0.0000000000001", bytes)).toBe(0);
    expect(typedValue("1.0000000000004", bytes)).toBe(1e12);
    expect(typedValue("0.1000000000000001", plain)).toBe(0.1);
  });

  it("of an optional field may be nothing", () => {
    expect(typedValue("  ", { ...plain, optional: true })).toBeNull();
    expect(typedValue("  ", plain)).toBe("");
  });
});
