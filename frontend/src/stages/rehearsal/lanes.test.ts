import { describe, expect, it } from "vitest";

import { clockText, hourMarks, momentAt, outline, secondsOf, spanOf } from "./lanes";

const H = 3_600;

describe("the day's time", () => {
  it("is drawn until the last thing is done, at least ten hours and at most a day", () => {
    expect(spanOf(9 * H, [])).toEqual([9 * H, 19 * H]);
    expect(spanOf(9 * H, [26.2 * H])).toEqual([9 * H, 27 * H]);
    expect(spanOf(9 * H, [40 * H])).toEqual([9 * H, 33 * H]);
  });
  it("is read and written as a clock has it", () => {
    expect(clockText(11.5 * H)).toBe("11:30");
    expect(clockText(26 * H)).toBe("02:00");
    expect(secondsOf("11:30")).toBe(11.5 * H);
    expect(secondsOf("25:00")).toBeNull();
    expect(secondsOf("noon")).toBeNull();
  });
  it("has about eight marks at whole hours", () => {
    expect(hourMarks(9 * H, 19 * H)).toEqual([10, 12, 14, 16, 18].map((h) => h * H));
    expect(hourMarks(9 * H, 27 * H)).toEqual([9, 12, 15, 18, 21, 24, 27].map((h) => h * H));
  });
});

describe("a moment", () => {
  it("is the last that has begun", () => {
    const moments = [0, 10, 20];
    expect([-5, 0, 9.9, 10, 25].map((at) => momentAt(moments, at))).toEqual([0, 0, 0, 1, 2]);
  });
});

describe("an outline", () => {
  it("stands still between moments, or slopes from one to the next", () => {
    expect(outline([0, 4], [1, 2], 9, 8)).toBe("M0 9 L0 1 H4 L4 2 H8 V9 Z");
    expect(outline([0, 4], [1, 2], 9, 8, true)).toBe("M0 9 L0 1 L4 2 H8 V9 Z");
    expect(outline([], [], 9, 8)).toBe("");
  });
});
