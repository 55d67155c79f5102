// @vitest-environment jsdom
import { act, renderHook } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";

import { client, Failure, type Operation } from "../api/client";
import { opened } from "./opened";
import { useHomes, useMounts, useSwitches } from "./useHomes";
import { addedId, useNewItem } from "./useNewItem";
import { useTaken } from "./useTaken";
import { useWhere } from "./useWhere";
import { useLate } from "../kit/useLate";
import { viewOf } from "./viewOf";

vi.mock("./place", () => ({ focusSoon: (path: string) => gone.push(path) }));
const gone: string[] = [];
afterEach(() => {
  vi.restoreAllMocks();
  vi.useRealTimers();
  gone.length = 0;
});

/** A plan with this in its document and its verdict. */
function having(plan: object, verdict: object) {
  const there = opened();
  const { document, evaluation } = there.session.snapshot();
  Object.assign(document.plan, plan);
  Object.assign(evaluation, verdict);
  return there;
}
const named = (...ids: string[]) => ids.map((id) => ({ id, name: id.toUpperCase() }));

it("a seat may choose its pool where there are two, of those that serve work", () => {
  const homes = (...serve: string[]) => {
    const plan = { pools: named("a", "b", "c") };
    const { wrapper } = having(plan, { tiers: { pools_for_work: serve } });
    return renderHook(useHomes, { wrapper }).result.current;
  };
  expect(homes("a")).toEqual([]);
  expect(homes("a", "c")).toEqual([
    ["", "any, by what it can hold"],
    ["a", "A"],
    ["c", "C"],
  ]);
});

it("a service comes in over a switch or beside the storage", () => {
  const over = (wiring?: object) => {
    const { wrapper } = having({ wiring }, {});
    return renderHook(useSwitches, { wrapper }).result.current;
  };
  expect(over()).toEqual([["", "beside the storage"]]);
  expect(over({ switches: named("s") })).toEqual([
    ["", "beside the storage"],
    ["s", "S"],
  ]);
});

it("a seat chooses an address only of a box that has several", () => {
  const address = (link_id: string, box_name: string) => ({
    link_id,
    box_name,
    address: `ip-${link_id}`,
  });
  const mounts = (...addresses: object[]) => {
    const { wrapper } = having({}, { plugs: { addresses } });
    return renderHook(useMounts, { wrapper }).result.current;
  };
  expect(mounts(address("l1", "A"), address("l2", "B"))).toEqual([]);
  expect(mounts(address("l1", "A"), address("l2", "B"), address("l3", "A"))).toEqual([
    ["", "not said"],
    ["l1", "A, ip-l1"],
    ["l3", "A, ip-l3"],
  ]);
});

it("copies go to stores, pools and volumes, and things stand at the places there are", () => {
  const safekeeping = { stores: named("s"), places: named("p") };
  const { wrapper } = having({ pools: named("a"), volumes: named("v"), safekeeping }, {});
  const { targets, homes, places, inside } = renderHook(useWhere, { wrapper }).result.current;
  expect(targets.map(([id]) => id)).toEqual(["store:s", "pool:a", "volume:v"]);
  expect(homes.slice(3)).toEqual(targets);
  expect(places.map(([id]) => id)).toEqual(["", "p"]);
  expect(inside.map(([id]) => id)).toEqual(["", "house", "p"]);
});

it("a change that the server works out is taken, and what it refuses is said", async () => {
  const { wrapper, session } = opened();
  const { result } = renderHook(useTaken, { wrapper });
  const change = vi.spyOn(session, "change");
  const patch: Operation[] = [{ op: "remove", path: "plan/pools/main" }];
  const taken = vi.fn();
  await act(async () => result.current.take(() => Promise.resolve(patch), taken));
  expect(change).toHaveBeenCalledExactlyOnceWith(...patch);
  expect(taken).toHaveBeenCalledExactlyOnceWith(patch);
  await act(async () => result.current.take(() => Promise.resolve([]), taken));
  expect(change).toHaveBeenCalledOnce();
  await act(async () => result.current.take(() => Promise.reject(new Failure(0, null))));
  expect(result.current.problem).toContain("cannot be reached");
  await act(async () => result.current.take(() => Promise.reject("odd" as unknown as Error)));
  expect(result.current.problem).toBe("That did not work.");
  await act(async () => result.current.take(() => Promise.resolve([])));
  expect(result.current.problem).toBe("");
});

it("a new item is asked for with what is known of it, added and gone to", async () => {
  const added: Operation = { op: "add", path: "plan/pools", value: { id: "new" } };
  const other: Operation = { op: "add", path: "catalogue/formats", value: { id: "f" } };
  const post = vi
    .spyOn(client, "POST")
    .mockImplementation((async () => ({ data: { patch: [other, added] } })) as never);
  const { wrapper, session } = opened();
  const { result } = renderHook(useNewItem, { wrapper });
  const told = vi.fn();
  await act(async () => result.current.add({ path: "plan/pools", onAdded: told }));
  const body = { base: 1, patch: [], seq: 0, path: "plan/pools", given: {}, after: "", media: {} };
  expect(post.mock.calls[0]?.[1]).toMatchObject({ body });
  expect([told.mock.calls, gone]).toEqual([[["new"]], ["plan/pools/new"]]);
  expect(session.snapshot().status).not.toBe("saved");
  expect(addedId([other], "plan/pools")).toBeUndefined();
  await act(async () => result.current.add({ path: "plan/boxes", onAdded: told }));
  expect([told.mock.calls.length, gone.length]).toEqual([1, 1]);
});

it("a text is late by a moment, and only the last one comes", () => {
  vi.useFakeTimers();
  const { result, rerender } = renderHook(({ text }) => useLate(text), {
    initialProps: { text: "a" },
  });
  rerender({ text: "ab" });
  act(() => void vi.advanceTimersByTime(119));
  rerender({ text: "abc" });
  act(() => void vi.advanceTimersByTime(119));
  expect(result.current).toBe("a");
  act(() => void vi.advanceTimersByTime(1));
  expect(result.current).toBe("abc");
});

it("every place is shown by its own view", () => {
  const places = [
    "plan/wiring/links/a",
    "plan/mains/x",
    "catalogue/formats/f",
    "catalogue/drives/d",
  ];
  expect(places.map(viewOf)).toEqual(["wiring", "growth", "brief", "catalogue"]);
  expect(["plan/pools/main", "house_rules/x", "plan/name"].map(viewOf)).toEqual([
    "tiers",
    "house-rules",
    "brief",
  ]);
});
