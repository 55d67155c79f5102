/** Drawn interleavings: whatever is typed, answered late, clashes or is offline, nothing typed is lost. */

import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import { valueAt } from "./patch";
import { PlanSession, SAVE_AFTER_MS } from "./session";
import { path, World } from "./session.world";

beforeEach(() => {
  vi.useFakeTimers();
});
afterEach(() => {
  vi.useRealTimers();
});

type Step =
  | { does: "type"; pool: string; value: number }
  | { does: "add" | "remove"; pool: string }
  | { does: "theirs"; field: "mine" | "theirs"; value: number }
  | { does: "fail"; status: number }
  | { does: "pause" | "leave field" | "follow" | "answer" | "back" };

const simple = (...names: ("pause" | "leave field" | "follow" | "answer" | "back")[]) =>
  fc.constantFrom(...names.map((does): Step => ({ does })));
const typing = fc.record({
  does: fc.constant("type" as const),
  pool: fc.constantFrom("main", "second"),
  value: fc.integer({ min: -1, max: 9 }),
});
const items = fc.record({
  does: fc.constantFrom("add" as const, "remove" as const),
  pool: fc.constant("third"),
});
const failing = fc.record({ does: fc.constant("fail" as const), status: fc.constantFrom(0, 503) });
const others = (...fields: ("mine" | "theirs")[]) =>
  fc.record({
    does: fc.constant("theirs" as const),
    field: fc.constantFrom(...fields),
    value: fc.integer({ min: 10, max: 19 }),
  });

/** A session over a world whose answers come when they are let go, in any order. */
class Play {
  readonly world = new World([
    { id: "main", mine: 1, theirs: 1 },
    { id: "second", mine: 1, theirs: 1 },
  ]);
  readonly session: PlanSession;
  /** The last value that was typed into each pool. */
  readonly typed = new Map<string, number>();
  isThird = false;
  private readonly waiting: (() => void)[] = [];
  private highest = 1;

  constructor(private readonly draw: (below: number) => number) {
    this.world.delay = (answer) =>
      new Promise((resolve, reject) => {
        this.waiting.push(() => void answer().then(resolve, reject));
      });
    this.session = new PlanSession(this.world.connection, this.world.planOut());
    this.session.subscribe(() => {
      expect(this.session.head).toBeGreaterThanOrEqual(this.highest);
      this.highest = this.session.head;
    });
  }

  async step(step: Step): Promise<void> {
    const { session, world } = this;
    if (step.does === "type") {
      session.set(path(step.pool, "mine"), step.value);
      this.typed.set(step.pool, step.value);
    } else if (step.does === "add" && !this.isThird) {
      const value = { id: "third", mine: 4, theirs: 4 };
      session.change({ op: "add", path: "plan/pools", value });
      this.isThird = true;
    } else if (step.does === "remove" && this.isThird) {
      session.change({ op: "remove", path: "plan/pools/third" });
      this.isThird = false;
    } else if (step.does === "theirs")
      world.saveTheirs({ op: "set", path: path("main", step.field), value: step.value });
    else if (step.does === "fail") world.failure = step.status;
    else if (step.does === "back") world.failure = null;
    else if (step.does === "pause") vi.advanceTimersByTime(SAVE_AFTER_MS);
    else if (step.does === "leave field") void session.flush();
    else if (step.does === "follow") void session.follow();
    else this.letGo();
    await this.breathe();
  }

  /** One of the answers that are on their way arrives. */
  private letGo(): void {
    const [answer] = this.waiting.splice(this.draw(this.waiting.length), 1);
    answer?.();
  }

  private async breathe(): Promise<void> {
    for (let n = 0; n < 20; n += 1) await Promise.resolve();
  }

  /** The server answers again, everything arrives, clashes are settled for us, and the page has followed. */
  async settle(): Promise<void> {
    this.world.failure = null;
    for (let n = 0; n < 60; n += 1) {
      while (this.waiting.length) {
        this.letGo();
        await this.breathe();
      }
      if (this.session.snapshot().clashes.length) void this.session.resolve(() => true);
      vi.advanceTimersByTime(SAVE_AFTER_MS);
      await this.breathe();
      if (!this.waiting.length) void this.session.follow();
      await this.breathe();
      const isRest = this.waiting.length <= 1 && this.session.snapshot().status === "saved";
      if (isRest && n > 6) break;
    }
    while (this.waiting.length) {
      this.letGo();
      await this.breathe();
    }
  }
}

/** Runs drawn steps and holds what must be so when all has arrived. */
function holds(steps: fc.Arbitrary<Step>, afterwards: (play: Play) => void, numRuns: number) {
  const draws = fc.infiniteStream(fc.nat());
  return fc.assert(
    fc.asyncProperty(fc.array(steps, { maxLength: 40 }), draws, async (drawn, stream) => {
      const play = new Play((below) => (below ? (stream.next().value as number) % below : 0));
      for (const step of drawn) await play.step(step);
      await play.settle();
      afterwards(play);
      play.session.close();
    }),
    { numRuns, seed: 11 },
  );
}

/** What was typed last is saved, or stands beside its field with its sentence. */
function nothingLost({ session, world, typed, isThird }: Play): void {
  const snapshot = session.snapshot();
  for (const [pool, value] of typed) {
    const at = path(pool, "mine");
    if (value >= 0) expect([at, valueAt(world.document, at)]).toEqual([at, value]);
    else {
      expect(snapshot.refused.get(at)?.operation?.value).toBe(value);
      expect(valueAt(world.document, at)).toBeGreaterThanOrEqual(0);
    }
  }
  expect(valueAt(world.document, "plan/pools/third") !== undefined).toBe(isThird);
}

/** The page shows what the server has, with its verdict, and says that it is saved. */
function atRest({ session, world }: Play): void {
  const snapshot = session.snapshot();
  expect(snapshot.status).toBe("saved");
  expect(session.head).toBe(world.head);
  expect(snapshot.document).toEqual(world.document);
  expect((snapshot.evaluation as unknown as { of: unknown }).of).toEqual(world.document);
}

describe("whatever comes in whatever order", () => {
  it("alone: what was typed last is saved or stands refused, and the verdict is of it", () =>
    holds(
      fc.oneof(typing, typing, simple("pause", "leave field", "follow", "answer", "answer")),
      (play) => (nothingLost(play), atRest(play)),
      150,
    ));

  it("alone: items that come and go are there or gone", () =>
    holds(
      fc.oneof(items, typing, simple("pause", "leave field", "answer", "answer")),
      (play) => (nothingLost(play), atRest(play)),
      150,
    ));

  it("offline and back: nothing is lost, and nothing is saved twice", () =>
    holds(
      fc.oneof(typing, failing, simple("back", "pause", "leave field", "follow", "answer")),
      (play) => {
        nothingLost(play);
        atRest(play);
        const operations = play.world.saved.flatMap(({ patch }) => patch);
        expect(new Set(operations).size).toBe(operations.length);
      },
      150,
    ));

  it("beside somebody who changes other fields: both are there in the end, and nobody is asked", () =>
    holds(
      fc.oneof(typing, others("theirs"), simple("pause", "leave field", "follow", "answer")),
      (play) => {
        nothingLost(play);
        atRest(play);
        expect(play.session.snapshot().clashes).toEqual([]);
      },
      150,
    ));

  it("beside somebody in the same field: a clash asks, and the one that is chosen is saved", () =>
    holds(
      fc.oneof(
        typing,
        others("mine"),
        simple("pause", "leave field", "follow", "answer", "answer"),
      ),
      (play) => {
        atRest(play);
        const at = path("second", "mine");
        const value = play.typed.get("second") ?? 1;
        if (value >= 0) expect(valueAt(play.world.document, at)).toBe(value);
      },
      150,
    ));
});
