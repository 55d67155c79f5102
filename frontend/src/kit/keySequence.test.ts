import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { KeySequence, NEXT_KEY_MS } from "./keySequence";

let done: string[];
let names: string[];
let keys: KeySequence;
beforeEach(() => {
  vi.useFakeTimers();
  done = [];
  names = ["f", "g1", "g2", "g9", "g10", "g12"];
  const actions = () => Object.fromEntries(names.map((name) => [name, () => done.push(name)]));
  keys = new KeySequence(actions as () => Record<string, () => void>);
});
afterEach(() => {
  vi.useRealTimers();
});

const press = (...pressed: string[]) => pressed.map((key) => keys.take(key));

describe("keys one after the other", () => {
  it("do at once what no longer number begins with", () => {
    press("g", "2");
    expect(done).toEqual(["g2"]);
  });

  it.each(["g10", "g12"])("reach %s without doing g1 on the way", (name) => {
    press(...name);
    vi.advanceTimersByTime(10 * NEXT_KEY_MS);
    expect(done).toEqual([name]);
  });

  it("do g1 when nothing follows", () => {
    press("g", "1");
    vi.advanceTimersByTime(NEXT_KEY_MS - 1);
    expect(done).toEqual([]);
    vi.advanceTimersByTime(1);
    expect(done).toEqual(["g1"]);
  });

  it("do g1 as soon as another key follows, and then that key's", () => {
    press("g", "1", "f");
    expect(done).toEqual(["g1", "f"]);
  });

  it("do g1 at once where there is no stage 10", () => {
    names = ["g1", "g2"];
    press("g", "1");
    expect(done).toEqual(["g1"]);
  });

  it("forget the prefix after a while, and digits alone do nothing", () => {
    press("g");
    vi.advanceTimersByTime(NEXT_KEY_MS);
    expect(press("2")).toEqual([false]);
    expect(done).toEqual([]);
  });

  it("give each key its own time", () => {
    press("g");
    vi.advanceTimersByTime(NEXT_KEY_MS - 1);
    press("1");
    vi.advanceTimersByTime(NEXT_KEY_MS - 1);
    press("0");
    expect(done).toEqual(["g10"]);
  });

  it("do nothing for a number that is no stage, and begin anew", () => {
    expect(press("g", "1", "7")).toEqual([true, true, false]);
    press("g", "g", "9");
    expect(done).toEqual(["g9"]);
  });

  it("may be typed with Shift held, as some keyboards want it for digits", () => {
    press("g", "Shift", "1", "Shift", "2");
    expect(done).toEqual(["g12"]);
  });

  it("take the prefix for an ordinary key where nothing goes on from it", () => {
    names = ["g"];
    expect(press("g")).toEqual([true]);
    expect(done).toEqual(["g"]);
  });

  it("do nothing any more once forgotten", () => {
    press("g", "1");
    keys.forget();
    vi.advanceTimersByTime(NEXT_KEY_MS);
    expect([done, press("0")]).toEqual([[], [false]]);
  });

  it("know a command that came after the prefix", () => {
    press("g");
    names = ["g3"];
    press("3");
    expect(done).toEqual(["g3"]);
  });
});
