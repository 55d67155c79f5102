// @vitest-environment jsdom
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { focusSoon } from "./place";

beforeEach(() => {
  vi.useFakeTimers({
    toFake: ["requestAnimationFrame", "cancelAnimationFrame", "performance", "setTimeout"],
  });
  Element.prototype.scrollIntoView = vi.fn();
});
afterEach(() => {
  document.body.replaceChildren();
  vi.useRealTimers();
});

function field(path: string, around: Element = document.body): HTMLElement {
  const input = document.createElement("input");
  input.dataset.path = path;
  return around.appendChild(input);
}
const focused = () => (document.activeElement as HTMLElement | null)?.dataset.path;
/** Now, by the clock of events, which is not the fake one. */
const stamp = () => new Event("now").timeStamp;
const frames = (ms: number) => vi.advanceTimersByTime(ms);

it("goes to the very place, else to the first field in it", () => {
  field("plan/pools/main/bays");
  field("plan/pools/main");
  focusSoon("plan/pools/main", Infinity);
  frames(20);
  expect(focused()).toBe("plan/pools/main");
  focusSoon("plan/pools", Infinity);
  frames(20);
  expect(focused()).toBe("plan/pools/main/bays");
});

it("waits until the place is on the page", () => {
  focusSoon("plan/seats/a", Infinity);
  frames(1_000);
  field("plan/seats/a/count");
  frames(20);
  expect(focused()).toBe("plan/seats/a/count");
});

it("after half a second goes to what the place stands in", () => {
  field("plan/pools/main/bays");
  focusSoon("plan/pools/main/price", Infinity);
  frames(480);
  expect(focused()).toBeUndefined();
  frames(60);
  expect(focused()).toBe("plan/pools/main/bays");
  // And on to the very place, when a slow server has brought it.
  frames(3_000);
  field("plan/pools/main/price");
  frames(20);
  expect(focused()).toBe("plan/pools/main/price");
});

it("gives up after a while", () => {
  focusSoon("plan/seats/a", Infinity);
  frames(10_100);
  field("plan/seats/a");
  frames(500);
  expect(focused()).toBeUndefined();
});

it("calls nobody back who has gone on meanwhile", () => {
  field("plan/seats/a");
  const since = performance.now();
  vi.advanceTimersByTime(5);
  const press = new KeyboardEvent("keydown", { key: "x" });
  Object.defineProperty(press, "timeStamp", { value: since + 5 });
  window.dispatchEvent(press);
  focusSoon("plan/seats/a", since);
  frames(100);
  expect(focused()).toBeUndefined();
});

it("leaves alone whoever went into another field without a key, but goes on from where it went itself", () => {
  const other = field("plan/seats/b");
  focusSoon("plan/seats/a", stamp() - 1);
  other.focus();
  field("plan/seats/a");
  frames(100);
  expect(focused()).toBe("plan/seats/b");
  document.body.replaceChildren();
  field("plan/pools/main/bays");
  focusSoon("plan/pools/main/price", stamp());
  frames(600);
  expect(focused()).toBe("plan/pools/main/bays");
  field("plan/pools/main/price");
  frames(20);
  expect(focused()).toBe("plan/pools/main/price");
});

it("can be called off", () => {
  const stop = focusSoon("plan/seats/a", Infinity);
  stop();
  field("plan/seats/a");
  frames(100);
  expect(focused()).toBeUndefined();
});

it("opens every fold that the place is in", () => {
  const outer = document.body.appendChild(document.createElement("details"));
  const inner = outer.appendChild(document.createElement("details"));
  field("plan/seats/a", inner);
  focusSoon("plan/seats/a", Infinity);
  frames(20);
  expect([outer.open, inner.open, focused()]).toEqual([true, true, "plan/seats/a"]);
});
