// @vitest-environment jsdom
import { act, renderHook } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { client, type LongJob } from "../api/client";
import { opened } from "./opened";
import { isOpen, useLongJob, useWatched } from "./useLongJob";

const WHERE = "/api/studios/{studio}/plans/{plan_id}/rehearse/days";
const job = (status: string, more: Partial<LongJob> = {}) =>
  ({ id: "j1", status, done: 0, ...more }) as LongJob;

let newest: LongJob[];
beforeEach(() => {
  vi.useFakeTimers();
  newest = [];
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
});

const tick = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

function mocked(post: (to: string) => LongJob = () => job("cancelled")) {
  const get = vi
    .spyOn(client, "GET")
    .mockImplementation((async (where: string) =>
      where === WHERE ? { data: newest } : { data: newest[0] }) as never);
  const step = vi
    .spyOn(client, "POST")
    .mockImplementation((async (where: string) => ({ data: post(where) })) as never);
  return { get, step };
}

async function watching() {
  const spies = mocked();
  const hook = renderHook(
    () => useLongJob<number>(WHERE, async () => ({ data: newest[0] as LongJob })),
    {
      wrapper: opened().wrapper,
    },
  );
  await tick(1);
  return { ...hook, ...spies };
}

it("long work is none before any was begun, and nobody asks again", async () => {
  const { result, get } = await watching();
  await tick(10_000);
  expect([result.current.job, get.mock.calls.length]).toEqual([null, 1]);
});

it("that is there already is found again and looked at once a second", async () => {
  newest = [job("running")];
  const { result, get } = await watching();
  expect(result.current.job?.status).toBe("running");
  await tick(3_000);
  expect(get).toHaveBeenCalledTimes(4);
});

it("that waits for a worker is looked at too", async () => {
  newest = [job("waiting")];
  const { get } = await watching();
  await tick(1_000);
  expect(get).toHaveBeenCalledTimes(2);
});

it.each(["done", "failed", "cancelled"])("is left alone once it is %s", async (ended) => {
  newest = [job("running")];
  const { result, get } = await watching();
  newest = [job(ended)];
  await tick(1_000);
  const asked = get.mock.calls.length;
  await tick(10_000);
  expect([result.current.job?.status, get.mock.calls.length]).toEqual([ended, asked]);
});

it("is shown as begun at once, and then as it goes on", async () => {
  const { result } = await watching();
  newest = [job("waiting")];
  await act(async () => {
    await result.current.begin.mutateAsync(7);
  });
  await tick(1);
  expect(result.current.job?.status).toBe("waiting");
  newest = [job("running", { done: 3 } as Partial<LongJob>)];
  await tick(1_000);
  expect(result.current.job?.status).toBe("running");
});

it("is cancelled and gone on with at its own address", async () => {
  newest = [job("running")];
  const { result, step } = await watching();
  for (const to of ["cancel", "retry"] as const) {
    newest = [job(to === "cancel" ? "cancelled" : "waiting")];
    await act(async () => {
      await result.current.step.mutateAsync({ id: "j1", to });
    });
    await tick(1);
    expect(step).toHaveBeenLastCalledWith(`/api/studios/{studio}/jobs/{job_id}/${to}`, {
      params: { path: { studio: "slipway-house", job_id: "j1" } },
    });
    expect(result.current.job?.status).toBe(newest[0]?.status);
  }
});

it("shows no older answer over the one that a press was answered with", async () => {
  newest = [job("running")];
  const { result, get } = await watching();
  let arrive = () => {};
  get.mockImplementationOnce(
    (() =>
      new Promise((resolve) => {
        arrive = () => resolve({ data: [job("running")] });
      })) as never,
  );
  await tick(1_000); // this look is on its way
  newest = [job("cancelled")];
  await act(async () => {
    await result.current.step.mutateAsync({ id: "j1", to: "cancel" });
  });
  arrive();
  await tick(1);
  expect(result.current.job?.status).toBe("cancelled");
});

const watched = async (begun: LongJob | null) => {
  const spies = mocked();
  const hook = renderHook(() => useWatched(begun), { wrapper: opened().wrapper });
  await tick(1);
  return { ...hook, ...spies };
};

it("a known job is not asked about while there is none", async () => {
  const { result, get } = await watched(null);
  await tick(5_000);
  expect([result.current.job, get.mock.calls.length]).toEqual([null, 0]);
});

it("is looked at twice a second until it has ended", async () => {
  newest = [job("running")];
  const { result, get } = await watched(job("waiting"));
  await tick(1_000);
  expect(get.mock.calls.length).toBe(3);
  newest = [job("done")];
  await tick(500);
  await tick(5_000);
  expect([result.current.job?.status, get.mock.calls.length]).toEqual(["done", 4]);
});

it("is open while it waits or runs", () => {
  const statuses = ["waiting", "running", "done", "failed", "cancelled"];
  expect(statuses.filter((status) => isOpen(job(status)))).toEqual(["waiting", "running"]);
});
