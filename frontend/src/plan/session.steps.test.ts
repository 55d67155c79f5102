/** One order of events each: what an open plan does where two things meet. */

import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";

import type { Operation } from "../api/client";
import { valueAt } from "./patch";
import { PlanSession, SAVE_AFTER_MS } from "./session";
import { path, World } from "./session.world";

const MINE = path("main", "mine");
const THEIRS = path("main", "theirs");
const set = (at: string, value: number): Operation => ({ op: "set", path: at, value });

let world: World;
let session: PlanSession;
beforeEach(() => {
  vi.useFakeTimers();
  world = new World();
  session = new PlanSession(world.connection, world.planOut());
});
afterEach(() => {
  session.close();
  vi.useRealTimers();
});

const arrived = () => vi.advanceTimersByTimeAsync(0);
const pause = () => vi.advanceTimersByTimeAsync(SAVE_AFTER_MS);
const shown = (at = MINE) => valueAt(session.snapshot().document, at);
const stored = (at = MINE) => valueAt(world.document, at);
const verdict = () => (session.snapshot().evaluation as unknown as { of: unknown }).of;

/** Holds the next answer of a kind back; what is returned lets it go. A late one was made when it was asked. */
function hold(kind: string, how: { late: boolean } = { late: false }): () => Promise<void> {
  const before = world.delay;
  let arrive = () => {};
  world.delay = async (answer, what) => {
    if (what !== kind) return before(answer, what);
    world.delay = before;
    const made = how.late ? await answer() : null;
    return new Promise((resolve, reject) => {
      arrive = () => (made === null ? void answer().then(resolve, reject) : resolve(made));
    });
  };
  return async () => {
    await arrived();
    arrive();
    await arrived();
  };
}

describe("saving", () => {
  it("waits for the pause, and each further key begins it anew", async () => {
    session.set(MINE, 2);
    await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS - 1);
    session.set(MINE, 3);
    await vi.advanceTimersByTimeAsync(SAVE_AFTER_MS - 1);
    expect(world.saved).toEqual([]);
    await vi.advanceTimersByTimeAsync(1);
    expect(world.saved.map(({ patch }) => patch)).toEqual([[set(MINE, 3)]]);
  });

  it("is done once, however many wait for it", async () => {
    session.set(MINE, 2);
    await Promise.all([session.flush(), session.flush(), session.flush()]);
    const arrive = hold("save");
    session.set(MINE, 3);
    const saving = session.flush();
    await arrived();
    session.set(MINE, 4);
    const waiting = [session.flush(), session.flush()];
    await arrive();
    await Promise.all([saving, ...waiting]);
    const saved = [[set(MINE, 2)], [set(MINE, 3)], [set(MINE, 4)]];
    expect(world.saved.map(({ patch }) => patch)).toEqual(saved);
  });

  it("asks nothing and saves nothing where the value is the one that stands", async () => {
    session.set(MINE, 1);
    await pause();
    expect([world.saved, session.snapshot().status]).toEqual([[], "saved"]);
  });

  it("on leaving waits for no verdict, and says that it is leaving", async () => {
    hold("verdict");
    const save = vi.spyOn(world.connection, "save");
    session.set(MINE, 2);
    await session.flush(true);
    expect(save).toHaveBeenCalledExactlyOnceWith(1, [set(MINE, 2)], true);
    expect(stored()).toBe(2);
  });

  it("keeps what was typed over an entry that is refused meanwhile, and saves it", async () => {
    session.set(MINE, 2);
    const arrive = hold("save");
    await pause();
    world.saveTheirs(set(THEIRS, -1)); // what somebody else brought about makes the merged plan invalid
    world.saveTheirs(set(MINE, -1));
    world.history.splice(1); // and is gone again
    const refusing = vi.spyOn(world.connection, "evaluate");
    session.set(MINE, 4);
    await arrive();
    await pause();
    expect([shown(), stored(), session.snapshot().status]).toEqual([4, 4, "saved"]);
    expect(refusing).toHaveBeenCalled();
  });

  it("tries again by itself after a server that could not answer at the moment", async () => {
    world.failure = 503;
    session.set(MINE, 2);
    await pause();
    expect([stored(), session.snapshot().status]).toEqual([1, "changed"]);
    expect(session.snapshot().notice).toContain("could not answer");
    world.failure = null;
    await session.follow();
    expect([stored(), session.snapshot().status]).toEqual([2, "saved"]);
  });

  it("that is tried again waits for the pause of what is being typed", async () => {
    world.failure = 503;
    session.set(MINE, 2);
    await pause();
    world.failure = null;
    session.set(MINE, 3);
    await arrived();
    await session.follow();
    expect(world.saved).toEqual([]);
    await pause();
    expect(stored()).toBe(3);
  });

  it("does not try again where it may not, and keeps what was typed", async () => {
    world.failure = 403;
    session.set(MINE, 2);
    await pause();
    world.failure = null;
    await session.follow();
    expect([stored(), shown(), session.snapshot().status]).toEqual([1, 2, "changed"]);
  });

  it("saves the rest where a part of it is refused", async () => {
    const evaluate = world.connection.evaluate;
    world.connection.evaluate = (base, patch, seq) =>
      evaluate(base, patch.length > 1 ? patch.slice(1) : patch, seq);
    session.change(set(MINE, -1), set(THEIRS, 5));
    await pause();
    expect(session.snapshot().refused.get(MINE)?.sentence).toBe("mine must be 0 or more.");
    await pause();
    expect([stored(THEIRS), stored(MINE), session.snapshot().status]).toEqual([5, 1, "saved"]);
  });

  it("where it is refused meanwhile asks only about what was sent", async () => {
    const evaluate = world.connection.evaluate;
    world.connection.evaluate = (base, _patch, seq) => evaluate(base, [], seq);
    const arrive = hold("save");
    session.set(MINE, -1);
    await pause();
    session.set(MINE, 7);
    await arrive();
    world.connection.evaluate = evaluate;
    await pause();
    expect([stored(), session.snapshot().refused.size]).toEqual([7, 0]);
  });
});

describe("verdicts", () => {
  it("are kept under a key of their own, each of them", async () => {
    const keys = new Set<string>([session.snapshot().shown.join()]);
    session.set(MINE, 2);
    await arrived();
    keys.add(session.snapshot().shown.join());
    session.set(MINE, 3);
    await arrived();
    keys.add(session.snapshot().shown.join());
    await pause();
    keys.add(session.snapshot().shown.join());
    await session.step("undo");
    keys.add(session.snapshot().shown.join());
    expect(keys.size).toBe(5);
    expect(session.snapshot().shown[0]).toBe(world.head);
  });

  it("asked before a clash was settled and answered after it are not shown", async () => {
    const arrive = hold("verdict", { late: true });
    session.set(MINE, 2);
    await arrived();
    world.saveTheirs(set(MINE, 9));
    await session.flush(true);
    await session.resolve(() => false);
    await arrive();
    expect([shown(), verdict()]).toEqual([9, world.document]);
  });

  it("are of what is left where an entry is refused", async () => {
    session.set(THEIRS, 5);
    session.set(MINE, -1);
    await arrived();
    expect(valueAt(verdict(), THEIRS)).toBe(5);
    expect(valueAt(verdict(), MINE)).toBe(1);
  });

  it("are those at rest again where the only entry is refused", async () => {
    session.set(MINE, -1);
    await arrived();
    expect(verdict()).toEqual(world.document);
  });
});

describe("going back", () => {
  it("saves what is typed first, so that it is that which is undone", async () => {
    session.set(MINE, 2);
    await session.flush();
    session.set(MINE, 3);
    await session.step("undo");
    expect(world.saved.map(({ patch }) => patch[0])).toEqual([set(MINE, 2), set(MINE, 3)]);
    expect([shown(), stored()]).toEqual([2, 2]);
  });

  it("brings an earlier revision back after saving what is typed", async () => {
    session.set(MINE, 2);
    await session.restore(1);
    expect(world.saved).toHaveLength(1);
    expect([shown(), session.head]).toEqual([1, 3]);
  });

  it("waits until a clash is settled, and says so", async () => {
    session.set(MINE, 2);
    world.saveTheirs(set(MINE, 9));
    await pause();
    expect(session.snapshot().clashes).toHaveLength(1);
    const step = vi.spyOn(world.connection, "step");
    await session.step("undo");
    expect(step).not.toHaveBeenCalled();
    expect(session.snapshot().notice).toContain("Settle what clashes first");
    expect(shown()).toBe(2);
  });

  it("does not step over what could not be saved", async () => {
    session.set(MINE, 2);
    await session.flush();
    world.connection.save = () => Promise.reject(new TypeError("gone"));
    const step = vi.spyOn(world.connection, "step");
    session.set(MINE, 3);
    await expect(session.step("undo")).rejects.toThrow("gone");
    expect(step).not.toHaveBeenCalled();
    expect(shown()).toBe(3);
  });

  it("says that the last changes are not saved while the server is away", async () => {
    world.failure = 0;
    session.set(MINE, 2);
    await session.step("redo");
    expect(session.snapshot().notice).toContain("not saved yet");
    expect([shown(), stored()]).toEqual([2, 1]);
  });
});

describe("somebody else", () => {
  it("is not followed over work that is not saved", async () => {
    session.set(MINE, 2);
    await arrived();
    world.saveTheirs(set(THEIRS, 5));
    await session.follow();
    expect([session.head, shown(), shown(THEIRS)]).toEqual([1, 2, 1]);
    await pause();
    expect([session.head, shown(), shown(THEIRS)]).toEqual([3, 2, 5]);
    expect(session.snapshot().notice).toContain("came in with yours");
  });

  it("is followed where nothing is open", async () => {
    world.saveTheirs(set(THEIRS, 5));
    await session.follow();
    expect([session.head, shown(THEIRS), verdict()]).toEqual([2, 5, world.document]);
  });

  it("is not looked for while we ask, save or have to choose", async () => {
    const look = vi.spyOn(world.connection, "fetchHead");
    for (const kind of ["verdict", "save"]) {
      const arrive = hold(kind);
      session.set(MINE, shown() === 2 ? 3 : 2);
      await pause();
      await session.follow();
      await arrive();
      await pause();
    }
    session.set(MINE, 5);
    world.saveTheirs(set(MINE, 9));
    await pause();
    await session.follow();
    expect(look).not.toHaveBeenCalled();
    await session.resolve(() => true);
    await session.follow();
    expect(look).toHaveBeenCalledOnce();
  });

  it("never puts an older state in the place of a newer one", async () => {
    world.saveTheirs(set(THEIRS, 5));
    const arrive = hold("plan", { late: true });
    void session.follow();
    await arrived();
    session.set(MINE, 2);
    await pause();
    expect(session.head).toBe(3);
    await arrive();
    expect([session.head, shown(), shown(THEIRS)]).toEqual([3, 2, 5]);
  });

  it("clashing holds every save back until somebody has chosen", async () => {
    session.set(MINE, 2);
    world.saveTheirs(set(MINE, 9));
    await pause();
    const save = vi.spyOn(world.connection, "save");
    session.set(THEIRS, 6);
    await pause();
    expect(save).not.toHaveBeenCalled();
    await session.resolve(() => false);
    expect([stored(), stored(THEIRS), session.snapshot().clashes]).toEqual([9, 6, []]);
  });

  it("clashing is settled by what is typed after the choice", async () => {
    session.set(MINE, 2);
    world.saveTheirs(set(MINE, 9));
    await pause();
    const arrive = hold("plan");
    const settled = session.resolve(() => true);
    session.set(MINE, 4);
    await arrive();
    await settled;
    expect([stored(), shown(), session.snapshot().status]).toEqual([4, 4, "saved"]);
  });

  it("clashing again asks again", async () => {
    session.set(MINE, 2);
    world.saveTheirs(set(MINE, 9));
    await pause();
    const save = world.connection.save;
    world.connection.save = (...asked) => {
      world.connection.save = save;
      world.saveTheirs(set(MINE, 10));
      return save(...asked);
    };
    await session.resolve(() => true);
    expect(session.snapshot().clashes.map(({ theirs }) => theirs)).toEqual([10]);
  });
});

describe("notices", () => {
  it("of an older plan are shown once and can be put away", () => {
    const plan = { ...world.planOut(), notes: ["A was 5.", "B was 6."] };
    session = new PlanSession(world.connection, plan);
    expect(session.snapshot().notice).toBe("A was 5. B was 6.");
    session.dismissNotice();
    expect(session.snapshot().notice).toBe("");
  });
});
