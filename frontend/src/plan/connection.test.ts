import { afterEach, expect, it, vi } from "vitest";

import { client, Failure } from "../api/client";
import { connectionTo } from "./connection";

afterEach(() => {
  vi.restoreAllMocks();
});

const PLAN = { head: 3, document: {}, evaluation: {} };
const params = { path: { studio: "s", plan_id: "p" } };
const root = "/api/studios/{studio}/plans/{plan_id}";

function answering(data: unknown) {
  const answer = (async () => ({ data })) as never;
  return {
    get: vi.spyOn(client, "GET").mockImplementation(answer),
    post: vi.spyOn(client, "POST").mockImplementation(answer),
  };
}

it("asks each thing at its own address", async () => {
  const { get, post } = answering(PLAN);
  const connection = connectionTo("s", "p");
  expect(await connection.fetchPlan()).toBe(PLAN);
  expect(get).toHaveBeenLastCalledWith(root, { params });
  expect(await connection.fetchHead()).toBe(3);
  expect(get).toHaveBeenLastCalledWith(`${root}/head`, { params });
  await connection.evaluate(3, [], 7);
  const asked = { params, body: { base: 3, patch: [], seq: 7 } };
  expect(post).toHaveBeenLastCalledWith(`${root}/evaluate`, asked);
  await connection.save(3, [], true);
  const saved = { params, body: { base: 3, patch: [] }, keepalive: true };
  expect(post).toHaveBeenLastCalledWith(`${root}/revisions`, saved);
  for (const which of ["undo", "redo"] as const) {
    await connection.step(which);
    expect(post).toHaveBeenLastCalledWith(`${root}/${which}`, { params });
  }
  await connection.restore(2);
  const restored = { params: { path: { ...params.path, number: 2 } } };
  expect(post).toHaveBeenLastCalledWith(`${root}/revisions/{number}/restore`, restored);
});

it("takes a state without verdicts for a refusal with its reason", async () => {
  answering({ ...PLAN, evaluation: null, reason: "Drives cannot be 3." });
  const refused = connectionTo("s", "p").step("undo");
  await expect(refused).rejects.toThrow("This state cannot be judged: Drives cannot be 3.");
  await expect(connectionTo("s", "p").fetchPlan()).rejects.toBeInstanceOf(Failure);
});
