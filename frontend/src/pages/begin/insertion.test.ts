import { describe, expect, it } from "vitest";

import { insertion } from "./insertion";

const left = { said: "8:1 assumed", words: "8:1", value_start: 0, value_end: 1 };
const years = { said: "3 years assumed", words: "3 years", value_start: 0, value_end: 1 };
const part = (start: number, end: number) => ({ words: "", meaning: "", start, end, assumed: [] });

describe("what was assumed, put into the line", () => {
  it("stands at the end of its part, with its value chosen", () => {
    const [line, from, to] = insertion("1 colour 4K, quiet", part(0, 11), left);
    expect(line).toBe("1 colour 4K 8:1, quiet");
    expect(line.slice(from, to)).toBe("8");
  });
  it("is a part of its own where no part says it", () => {
    const [line, from, to] = insertion("quiet", part(0, 0), years);
    expect(line).toBe("quiet, 3 years");
    expect(line.slice(from, to)).toBe("3");
    expect(insertion("", part(0, 0), years)[0]).toBe("3 years");
  });
});
