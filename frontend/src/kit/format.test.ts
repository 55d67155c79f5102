import { describe, expect, it } from "vitest";

import {
  bothSizes,
  centsText,
  hoursText,
  moneyText,
  oddsText,
  rangeText,
  rateNumber,
  rateText,
  shareText,
  sizeText,
  wholeText,
  writeNumbers,
  valueText,
} from "./format";

describe("figures as a studio writes them", () => {
  it("takes commas, points and blanks for thousands, and ours for what is not known", () => {
    writeNumbers("1.234,56");
    expect([moneyText(9840, "EUR"), sizeText(57e12)]).toEqual(["9.840\u00a0€", "57,0 TB"]);
    writeNumbers("1’234.56");
    expect(wholeText(12_000)).toMatch(/^12[’']000$/);
    writeNumbers("unheard of");
    expect([centsText(173, "EUR"), wholeText(12_000)]).toEqual(["€173.00", "12,000"]);
  });
});

describe("figures as text", () => {
  it("shows a size in the unit that people say", () => {
    expect([0, 480e9, 999.6e9, 57e12].map(sizeText)).toEqual([
      "0.0 TB",
      "480 GB",
      "1,000 GB",
      "57.0 TB",
    ]);
    expect(bothSizes(57e12)).toBe("57.0 TB · 51.8 TiB");
  });

  it("says odds as a share, and small ones as one in so many, by one figure", () => {
    expect([0, 0.64, 0.0123, 0.01].map(oddsText)).toEqual(["no", "60 % of", "1 % of", "1 % of"]);
    expect(oddsText(0.97)).toBe("nearly all");
    expect([0.0099, 1 / 12_345, 1e-9].map(oddsText)).toEqual([
      "one in 100",
      "one in 10,000",
      "one in 1,000,000,000",
    ]);
  });

  it("keeps tenths of slow rates and drops them for fast ones", () => {
    expect([1.25e6, 9.96e6, 10.4e6, 1420e6].map(rateNumber)).toEqual([
      "1.3",
      "10.0",
      "10",
      "1,420",
    ]);
  });

  it("shows cents only where there are some", () => {
    expect([moneyText("9840.00", "EUR"), moneyText("173.2", "EUR")]).toEqual(["€9,840", "€173.20"]);
  });

  it("gives each unit of the core its form", () => {
    expect(valueText(0.671, "share", "EUR")).toBe("67 %");
    expect(valueText(1.5, "ratio", "EUR")).toBe("× 1.50");
    expect(valueText("no price yet", "", "EUR")).toBe("no price yet");
    expect(valueText(12, "drives", "EUR")).toBe("12 drives");
    // Beside a rule of 5 years this is not "5".
    expect(valueText(4.96, "years", "EUR")).toBe("4.96 years");
    expect(hoursText(47 * 3600)).toBe("47 h");
  });
});

describe("a range", () => {
  it("is one figure where both ends are read the same", () => {
    expect(rangeText(139.2e6, 139.4e6, rateText)).toBe("about 139 MB/s");
    expect(rangeText(98e6, 253e6, rateText)).toBe("between 98 MB/s and 253 MB/s");
  });
});

describe("a part of something", () => {
  it("is said in per cent", () => {
    expect(shareText(0.65)).toBe("65 %");
    expect(shareText(0.005)).toBe("0.5 %");
  });
});
