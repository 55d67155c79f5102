import { describe, expect, it } from "vitest";

import { clockText, secondsOf } from "../../kit/format";
import { hourMarks, momentAt, movedSession, spanOf } from "./lanes";

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

describe("a session that is moved", () => {
  const own = { from_minute: 600, to_minute: 660 };
  it("goes whole or by one end", () => {
    expect(movedSession(own, 15, "whole", 540)).toEqual({ from_minute: 615, to_minute: 675 });
    expect(movedSession(own, -15, "start", 540)).toEqual({ from_minute: 585, to_minute: 660 });
    expect(movedSession(own, 30, "end", 540)).toEqual({ from_minute: 600, to_minute: 690 });
  });
  it("stays within the day that begins at nine, and is never shorter than a quarter of an hour", () => {
    expect(movedSession(own, -75, "whole", 540)).toBeNull();
    expect(movedSession(own, -60, "whole", 540)).toEqual({ from_minute: 540, to_minute: 600 });
    expect(movedSession(own, 60, "start", 540)).toBeNull();
    const late = { from_minute: 480, to_minute: 525 };
    expect(movedSession(late, 15, "end", 540)).toEqual({ from_minute: 480, to_minute: 540 });
    expect(movedSession(late, 30, "end", 540)).toBeNull();
    expect(movedSession({ ...late, to_minute: 540 }, 15, "whole", 540)).toBeNull();
  });
});
