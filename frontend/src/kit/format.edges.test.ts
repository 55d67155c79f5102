/** Where one way of writing a figure goes over into the next. */

import { describe, expect, it } from "vitest";

import {
  agoText,
  bothSizes,
  clockText,
  counted,
  dateText,
  hoursText,
  moneyText,
  monthText,
  oddsText,
  rateNumber,
  rateText,
  ratioText,
  secondsOf,
  sizeText,
  stepLabel,
  todayIso,
  valueText,
} from "./format";

describe("at the edges of a way of writing", () => {
  it("sizes go over to TB at one TB, below nothing too", () => {
    expect([1e12, 1e12 - 1e9, -2e9, -3e12].map(sizeText)).toEqual([
      "1.0 TB",
      "999 GB",
      "-2 GB",
      "-3.0 TB",
    ]);
    expect(bothSizes(2 ** 40 * 10)).toBe("11.0 TB · 10.0 TiB");
  });

  it("odds are nearly all from 95 %, a share from 1 %", () => {
    expect([0.95, 0.949, 0.01, 0.0099999].map(oddsText)).toEqual([
      "nearly all",
      "90 % of",
      "1 % of",
      "one in 100",
    ]);
  });

  it("rates have tenths below 10 MB/s and none at nothing", () => {
    expect([0, 1e5, 9.94e6, 10e6, -3e6].map(rateNumber)).toEqual(["0", "0.1", "9.9", "10", "-3"]);
    expect(rateText(1420e6)).toBe("1,420 MB/s");
  });

  it("ratios lose their hundredths at a hundred", () => {
    expect([0.5, 99.994, 100, 1234.5].map(ratioText)).toEqual([
      "× 0.50",
      "× 99.99",
      "× 100",
      "× 1,235",
    ]);
  });

  it("hours are minutes below an hour and a half and days from two", () => {
    expect([60, 5399, 5400, 48 * 3600 - 1, 48 * 3600].map(hoursText)).toEqual([
      "1 min",
      "90 min",
      "2 h",
      "48 h",
      "2.0 days",
    ]);
  });

  it("what is long ago is a date", () => {
    const now = Date.parse("2026-12-02T12:00:00Z");
    const ago = (minutes: number) => agoText(new Date(now - minutes * 60_000).toISOString(), now);
    expect([0, 0.9, 1, 59.9, 60, 1439, 1440].map(ago)).toEqual([
      "just now",
      "just now",
      "1 min ago",
      "59 min ago",
      "1 h ago",
      "23 h ago",
      "1 Dec 2026",
    ]);
    expect([dateText("2026-11-20"), monthText("2028-03-31")]).toEqual([
      "20 Nov 2026",
      "March 2028",
    ]);
    expect(todayIso()).toMatch(/^\d{4}-\d\d-\d\d$/);
  });

  it("the clock goes on after midnight, and is read only as a time of day", () => {
    expect([0, 41_400, 41_429, 41_430, 86_400, 90_000].map(clockText)).toEqual([
      "00:00",
      "11:30",
      "11:30",
      "11:31",
      "00:00",
      "01:00",
    ]);
    expect(["11:30", " 9:05 ", "23:59", "00:00"].map(secondsOf)).toEqual([
      41_400, 32_700, 86_340, 0,
    ]);
    for (const bad of ["24:00", "11:60", "1130", "11:3", "x11:30", "111:30", ""])
      expect(secondsOf(bad)).toBeNull();
  });

  it("counts and labels are words", () => {
    expect([counted(1, "drive"), counted(0, "drive"), counted(3, "copy", "copies")]).toEqual([
      "1 drive",
      "0 drives",
      "3 copies",
    ]);
    expect(stepLabel("pool_reserve_left")).toBe("Pool reserve left");
  });

  it("every unit of the core is written its own way", () => {
    const of = (value: number | string, unit: string) => valueText(value, unit, "EUR");
    expect(of("12.50", "money")).toBe("€12.50");
    expect(moneyText("12", "EUR")).toBe("€12");
    expect(of(480e9, "bytes")).toBe("480 GB");
    expect(of(480e6, "bytes_per_s")).toBe("480 MB/s");
    expect(of(690, "clock")).toBe("11:30");
    expect(of(1e-15, "per_bit")).toMatch(/^1e-15 .+/);
    expect(of(3, "of its own")).toBe("3 of its own");
    expect(of(3.25, "of its own")).toBe("3.25 of its own");
    expect(of("11", "years")).toBe("11 years");
  });
});
