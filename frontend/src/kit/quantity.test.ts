import { describe, expect, it } from "vitest";

import { factsOf, nudged, shownText, typedValue, unitOf } from "./quantity";

const drives = factsOf("Pool.drive_count");
const size = factsOf("Pool.drive_bytes");
const price = factsOf("Pool.drive_unit_price");
const probability = factsOf("FootageSeat.probability");

describe("a nudge", () => {
  it("steps by one, with Shift by ten", () => {
    expect(nudged(9, drives, 1, false)).toBe(10);
    expect(nudged(9, drives, 1, true)).toBe(19);
    expect(nudged(14e12, size, -1, false)).toBe(13e12);
  });

  it("stops at the field's ends", () => {
    expect(nudged(1, drives, -1, false)).toBeNull();
    expect(nudged(5, drives, -1, true)).toBe(1);
    expect(nudged(1, probability, 1, false)).toBeNull();
  });

  it("keeps money a decimal text and starts an empty price at nothing", () => {
    expect(nudged("268.00", price, 1, false)).toBe("273.00");
    expect(nudged(null, price, 1, false)).toBe("5.00");
  });

  it("leaves no dust of binary fractions", () => {
    expect(nudged(0.1, probability, 1, false)).toBe(0.15);
    expect(nudged(0.65, probability, 1, false)).toBe(0.7);
  });
});

describe("a number in its field", () => {
  const budget = factsOf("Brief.budget");
  const sampling = factsOf("AudioFormat.sample_rate_hz");

  it("has commas between thousands, but for a frame's width", () => {
    expect(shownText("140000.00", budget)).toBe("140,000");
    expect(shownText("140000.50", budget)).toBe("140,000.50");
    expect(shownText(48_000, sampling)).toBe("48,000");
    expect(shownText(9_000, sampling)).toBe("9,000");
    expect(shownText(3840, factsOf("ComputedFormat.width"))).toBe("3840");
  });

  it("is read with them and without, and with blanks", () => {
    for (const text of ["140000", "140,000", "140 000"])
      expect(typedValue(text, budget)).toBe("140000");
    expect(typedValue("48,000", sampling)).toBe(48_000);
    // Not thousands: whoever writes tenths so is told what is accepted.
    expect(typedValue("1,5", sampling)).toBe("1,5");
  });

  it("says a part of something in per cent", () => {
    expect(shownText(0.65, probability)).toBe("65");
    expect(typedValue("65", probability)).toBe(0.65);
    expect(unitOf(probability, "EUR")).toBe("%");
    expect(unitOf(budget, "EUR")).toBe("EUR");
  });
});

describe("a typed text", () => {
  it("is in the shown unit where it is a bare number", () => {
    expect(typedValue("18", size)).toBe(18e12);
    expect(typedValue("18.1", size)).toBe(18_100_000_000_000);
  });

  it("goes to the server as typed where it is not", () => {
    expect(typedValue("12.7 TiB", size)).toBe("12.7 TiB");
    expect(typedValue("three", drives)).toBe("three");
    expect(typedValue("", drives)).toBe("");
  });

  it("may be nothing only where the field is optional", () => {
    expect(typedValue(" ", price)).toBeNull();
  });

  it("comes back as it was typed", () => {
    for (const text of ["1", "18", "12.5", "0.001"])
      expect(shownText(typedValue(text, size), size)).toBe(text);
  });
});
