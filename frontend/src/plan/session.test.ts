import { describe, expect, it, vi } from "vitest";

import type { Evaluation, Operation, PlanOut } from "../api/client";
import { Failure } from "../api/client";
import { applied, valueAt, withOperation } from "./patch";
import { PlanSession, type Connection } from "./session";

const DRIVES = "plan/pools/main/drive_count";
const SIZE = "plan/pools/main/drive_bytes";

function planAt(head: number, drives: number): PlanOut {
  const document = {
    plan: { name: "T", pools: [{ id: "main", drive_count: drives, drive_bytes: 14 }] },
  };
  return { head, document, evaluation: { asked: "at rest" }, notes: [] } as unknown as PlanOut;
}

/** A server that keeps one plan and refuses fewer than four drives. */
function server(overrides: Partial<Connection> = {}) {
  let now = planAt(1, 9);
  const saves: Operation[][] = [];
  const refuseFew = (patch: Operation[]) => {
    const few = patch.find((op) => op.path === DRIVES && Number(op.value) < 4);
    if (!few) return;
    const problem = {
      field: DRIVES,
      value: "3",
      accepted: "4 or more",
      sentence: "Drives cannot be 3.",
    };
    throw new Failure(422, {
      code: "refused",
      sentence: problem.sentence,
      problems: [problem],
      clashes: [],
    });
  };
  const connection: Connection = {
    fetchPlan: () => Promise.resolve(now),
    fetchHead: () => Promise.resolve(now.head),
    evaluate: async (_base, patch, seq) => {
      await Promise.resolve();
      refuseFew(patch);
      return {
        seq,
        evaluation: { asked: patch.map((op) => op.value).join() } as unknown as Evaluation,
      };
    },
    save: async (_base, patch) => {
      await Promise.resolve();
      refuseFew(patch);
      saves.push(patch);
      now = { ...now, head: now.head + 1, document: applied(now.document, patch) };
      return now;
    },
    step: () => Promise.resolve(now),
    restore: () => Promise.resolve(now),
    ...overrides,
  };
  return { connection, saves, session: new PlanSession(connection, now) };
}

const asked = (session: PlanSession) =>
  (session.snapshot().evaluation as unknown as { asked: string }).asked;

describe("an open plan", () => {
  it("shows a nudge at once, asks for it, and saves only the last value", async () => {
    const { session, saves } = server();
    for (const drives of [10, 11, 12]) session.set(DRIVES, drives);
    expect(valueAt(session.snapshot().document, DRIVES)).toBe(12);
    await session.flush();
    expect(asked(session)).not.toBe("10");
    expect(saves).toEqual([[{ op: "set", path: DRIVES, value: 12 }]]);
    expect(session.snapshot().status).toBe("saved");
  });

  it("keeps a refused entry beside its field, saves the rest, and tries it again with the next change", async () => {
    const { session, saves } = server();
    session.set(DRIVES, 3);
    session.set(SIZE, 16);
    await session.flush();
    expect(session.snapshot().refused.get(DRIVES)?.sentence).toBe("Drives cannot be 3.");
    expect(saves).toEqual([[{ op: "set", path: SIZE, value: 16 }]]);
    session.set(DRIVES, 5);
    await session.flush();
    expect(session.snapshot().refused.size).toBe(0);
    expect(valueAt(session.snapshot().document, DRIVES)).toBe(5);
  });

  it("keeps an item just added when only what was typed into it is refused", async () => {
    const { session, saves } = server();
    const spare = { op: "add", path: "plan/pools", value: { id: "spare" } } as const;
    const field = "plan/pools/spare/drive_count";
    const refuse = (patch: Operation[]) => {
      if (!patch.some((op) => op.path === field)) return;
      const problem = { field, value: "2", accepted: "4 or more", sentence: "Two are too few." };
      throw new Failure(422, {
        code: "refused",
        sentence: problem.sentence,
        problems: [problem],
        clashes: [],
      });
    };
    const strict = server({
      evaluate: async (_base, patch, seq) => {
        await Promise.resolve();
        refuse(patch);
        return { seq, evaluation: {} as Evaluation };
      },
    });
    for (const { session: each } of [{ session }, strict]) {
      each.change(spare);
      each.set(field, 2);
      await each.flush();
    }
    expect(saves[0]).toHaveLength(2);
    expect(strict.saves).toEqual([[spare]]);
    expect(strict.session.snapshot().refused.get(field)?.sentence).toBe("Two are too few.");
  });

  it("drops answers that are older than the question", async () => {
    const pending: ((late: boolean) => void)[] = [];
    const { session } = server({
      evaluate: (_base, patch, seq) =>
        new Promise((resolve) => {
          const evaluation = { asked: patch.map((op) => op.value).join() } as unknown as Evaluation;
          pending.push(() => resolve({ seq, evaluation }));
        }),
    });
    session.set(DRIVES, 10);
    session.set(DRIVES, 11);
    pending[0]?.(true);
    await vi.waitFor(() => expect(pending).toHaveLength(2));
    expect(asked(session)).toBe("at rest");
    pending[1]?.(false);
    await vi.waitFor(() => expect(asked(session)).toBe("11"));
    session.close();
  });

  it("loses no removal of an item whose addition is on its way to the server", async () => {
    let arrive = () => {};
    const { session, saves, connection } = server();
    const save = connection.save;
    connection.save = async (...asked) => {
      await new Promise<void>((resolve) => (arrive = resolve));
      return save(...asked);
    };
    const spare: Operation = {
      op: "add",
      path: "plan/pools",
      value: { id: "spare", drive_count: 4 },
    };
    session.change(spare);
    const saving = session.flush();
    await vi.waitFor(() => expect(session.snapshot().status).toBe("saving"));
    session.set("plan/pools/spare/drive_count", 5);
    const removal: Operation = { op: "remove", path: "plan/pools/spare" };
    session.change(removal);
    expect(valueAt(session.snapshot().document, "plan/pools/spare")).toBeUndefined();
    await vi.waitFor(() => (arrive(), expect(saves).toHaveLength(1)));
    await saving;
    expect(valueAt(session.snapshot().document, "plan/pools/spare")).toBeUndefined();
    const rest = session.flush();
    await vi.waitFor(() => (arrive(), expect(saves).toHaveLength(2)));
    await rest;
    expect(saves).toEqual([[spare], [removal]]);
    expect(session.snapshot().status).toBe("saved");
  });

  it("shows both values of a clash and goes on with the chosen one", async () => {
    const clash = { path: DRIVES, label: "Drives", base: 9, mine: 12, theirs: 10 };
    let clashing = true;
    const { session, connection, saves } = server();
    const save = connection.save;
    connection.save = (base, patch, leaving) => {
      if (!clashing) return save(base, patch, leaving);
      clashing = false;
      throw new Failure(409, {
        code: "clash",
        sentence: "",
        problems: [],
        clashes: [clash],
        head: 2,
      });
    };
    session.set(DRIVES, 12);
    await session.flush();
    expect(session.snapshot().clashes).toEqual([clash]);
    expect(valueAt(session.snapshot().document, DRIVES)).toBe(12);
    await session.resolve(() => true);
    expect(saves.flat().map((op) => op.value)).toEqual([12]);
    expect(session.snapshot().clashes).toEqual([]);
  });

  it("follows others while a refused entry stands, and drops it only with what it was in", async () => {
    const { session, connection } = server();
    session.set(DRIVES, 3);
    await session.flush();
    connection.fetchHead = () => Promise.resolve(2);
    connection.fetchPlan = () => Promise.resolve(planAt(2, 11));
    await session.follow();
    await session.flush();
    expect(session.head).toBe(2);
    expect(valueAt(session.snapshot().document, DRIVES)).toBe(11);
    expect(session.snapshot().refused.get(DRIVES)?.operation?.value).toBe(3);
    const document = { plan: { name: "T", pools: [] } };
    connection.fetchHead = () => Promise.resolve(3);
    connection.fetchPlan = () =>
      Promise.resolve({ ...planAt(3, 0), document } as unknown as PlanOut);
    await session.follow();
    expect(session.head).toBe(3);
    expect(session.snapshot().refused.size).toBe(0);
    expect(session.snapshot().notice).toContain("went with it");
  });

  it("saves a refused entry that fits what somebody else has saved", async () => {
    const { session, connection, saves } = server();
    session.set(DRIVES, 3);
    await session.flush();
    const { evaluate } = connection;
    connection.fetchHead = () => Promise.resolve(2);
    connection.fetchPlan = () => Promise.resolve(planAt(2, 11));
    connection.evaluate = (_base, _patch, seq) => evaluate(2, [], seq);
    const saved: Operation[][] = [];
    connection.save = (_base, patch) => {
      saved.push(patch);
      return Promise.resolve(planAt(3, 3));
    };
    await session.follow();
    await session.flush();
    expect(saves).toEqual([]);
    expect(saved).toEqual([[{ op: "set", path: DRIVES, value: 3 }]]);
    expect(session.snapshot().refused.size).toBe(0);
  });

  it("keeps everything while the server is away, and sends it when it is back", async () => {
    const { session, connection, saves } = server();
    const { save, evaluate } = connection;
    const away = () => Promise.reject(new Failure(0, null));
    Object.assign(connection, { save: away, evaluate: away });
    session.set(DRIVES, 12);
    await session.flush();
    expect(session.snapshot().status).toBe("offline");
    Object.assign(connection, { save, evaluate });
    await session.follow();
    expect(saves.flat().map((op) => op.value)).toEqual([12]);
  });
});

describe("operations", () => {
  it("forget what happened inside an item that is removed, and an addition that is taken back", () => {
    const inside: Operation = { op: "set", path: "seats/a/count", value: 2 };
    const remove: Operation = { op: "remove", path: "seats/a" };
    expect(withOperation([inside], remove)).toEqual([remove]);
    const add: Operation = { op: "add", path: "seats", value: { id: "a" } };
    expect(withOperation([add, inside], remove)).toEqual([]);
  });
});
