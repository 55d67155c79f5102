// @vitest-environment jsdom
import { act, renderHook, waitFor } from "@testing-library/react";
import { expect, it, vi } from "vitest";

import { Failure } from "../api/client";
import { opened } from "./opened";
import { path } from "./session.world";
import { useAsked } from "./useAsked";

const MINE = path("main", "mine");

/** Asks what the plan is worth: answers with the patch it was asked with, when it is let go. */
function asking(how: Parameters<typeof useAsked>[2] = {}) {
  const plan = opened();
  const letGo: ((fails?: Failure) => Promise<void>)[] = [];
  const ask = vi.fn(
    ({ question }: Parameters<Parameters<typeof useAsked>[1]>[0]) =>
      new Promise<{ data?: string }>((resolve, reject) => {
        const data = `${question.base}:${question.patch.map((op) => op.value).join()}`;
        letGo.push(async (fails) => {
          await act(async () => (fails ? reject(fails) : resolve({ data })));
        });
      }),
  );
  const hook = renderHook(() => useAsked<string>(["worth"], ask, how), { wrapper: plan.wrapper });
  const set = (value: number) => act(async () => plan.session.set(MINE, value));
  return { ...plan, ...hook, ask, letGo, set };
}

it("asks about the plan as it stands here, saved or not", async () => {
  const { result, ask, letGo, set } = asking();
  expect(ask.mock.calls[0]?.[0].params.path).toEqual({ studio: "slipway-house", plan_id: "p1" });
  await letGo[0]?.();
  await waitFor(() => expect(result.current.data).toBe("1:"));
  await set(5);
  await letGo[1]?.();
  await waitFor(() => expect(result.current.data).toBe("1:5"));
});

it("shows the answer before until the new one comes", async () => {
  const { result, letGo, set } = asking();
  await letGo[0]?.();
  await set(5);
  expect([result.current.data, result.current.isPlaceholderData]).toEqual(["1:", true]);
});

it("shows nothing old where it is not to be held", async () => {
  const { result, letGo, set } = asking({ held: false });
  await letGo[0]?.();
  await set(5);
  expect(result.current.data).toBeUndefined();
});

it("never shows a late answer to an older question", async () => {
  const { result, letGo, set } = asking({ held: false });
  await set(5);
  await set(6);
  await letGo[2]?.();
  await letGo[1]?.();
  await letGo[0]?.();
  await waitFor(() => expect(result.current.data).toBe("1:6"));
});

it("asks nothing while it is not enabled", () => {
  const { ask, result } = asking({ enabled: false });
  expect([ask.mock.calls.length, result.current.fetchStatus]).toEqual([0, "idle"]);
});

it("asks nothing twice about the same state", async () => {
  const { ask, letGo, rerender } = asking();
  await letGo[0]?.();
  rerender();
  rerender();
  expect(ask).toHaveBeenCalledOnce();
});

it("asks anew after a save, whose verdict is another", async () => {
  const { ask, letGo, session, set } = asking();
  await letGo[0]?.();
  await set(5);
  await act(() => session.flush());
  const asked = ask.mock.calls.map(([{ question }]) => [question.base, question.patch.length]);
  expect(asked.at(-1)).toEqual([2, 0]);
});

it("tells what went wrong", async () => {
  const { result, letGo } = asking();
  await letGo[0]?.(new Failure(503, null));
  await waitFor(() => expect(result.current.error).toBeInstanceOf(Failure));
});
