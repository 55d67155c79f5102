// @vitest-environment jsdom
import { act, fireEvent, renderHook } from "@testing-library/react";
import { useLocation } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { NEXT_KEY_MS } from "../kit/keySequence";
import { switchShortcuts } from "../kit/shortcuts";
import { opened } from "./opened";
import type { Panel } from "./panel";
import type { PlanTools } from "./context";
import { useCommandKeys, useCommands } from "./useCommands";

vi.mock("./stages", () => {
  const stage = (id: string, number: number, is_of_studio = false) => ({
    id,
    number,
    title: id,
    is_of_studio,
  });
  const STAGES = [
    stage("stock", 1, true),
    stage("brief", 2),
    stage("build", 10),
    stage("keep", 12),
  ];
  return { STAGES, BESIDE_VIEWS: [{ id: "catalogue", title: "Catalogue" }] };
});

beforeEach(() => {
  vi.useFakeTimers();
  switchShortcuts(true);
});
afterEach(() => {
  vi.useRealTimers();
  document.body.replaceChildren();
});

const OPEN = [{ words: "a price for Pool", path: "plan/pools/main/price" }];

function page(tools: Partial<PlanTools> = {}, openWork = OPEN) {
  const plan = opened(tools, openWork);
  const panels: Panel[] = [];
  const setPanel = (panel: Panel) => void panels.push(panel);
  const find = vi.fn();
  const close = vi.fn();
  const hook = renderHook(
    () => {
      const commands = useCommands(setPanel);
      useCommandKeys(commands, find, close);
      return { commands, at: useLocation() };
    },
    { wrapper: plan.wrapper },
  );
  const press = (key: string, on: Element = document.body, how = {}) =>
    act(async () => {
      fireEvent.keyDown(on, { key, ...how });
    });
  return { ...plan, ...hook, panels, find, close, press };
}

it("go to a stage of the plan, and to one of the studio", async () => {
  const { press, result } = page();
  await press("g");
  await press("2");
  expect(result.current.at.pathname).toBe("/s/slipway-house/plans/p1/brief");
  await press("g");
  await press("1");
  await act(() => vi.advanceTimersByTimeAsync(NEXT_KEY_MS));
  expect(result.current.at.pathname).toBe("/s/slipway-house/stock");
});

it("go to stages 10 and 12 without a stop at 1", async () => {
  const { press, result } = page();
  for (const [digit, id] of [
    ["0", "build"],
    ["2", "keep"],
  ] as const) {
    for (const key of ["g", "1", digit]) await press(key);
    expect(result.current.at.pathname).toBe(`/s/slipway-house/plans/p1/${id}`);
  }
});

it("open panels, find and close", async () => {
  const { press, panels, find, close } = page();
  for (const key of ["f", "h", "?"]) await press(key);
  expect(panels).toEqual([{ kind: "findings" }, { kind: "history" }, { kind: "help" }]);
  await press("/");
  await press("k", document.body, { ctrlKey: true });
  expect(find).toHaveBeenCalledTimes(2);
  await press("Escape");
  expect(close).toHaveBeenCalledOnce();
});

it("do nothing inside a field, but for those with Ctrl", async () => {
  const { press, panels, find } = page();
  const field = document.body.appendChild(document.createElement("input"));
  await press("f", field);
  await press("k", field, { metaKey: true });
  expect([panels, find.mock.calls.length]).toEqual([[], 1]);
});

it("can be switched off, but for those with Ctrl", async () => {
  const { press, panels, find } = page();
  switchShortcuts(false);
  await press("f");
  await press("k", document.body, { ctrlKey: true });
  expect([panels, find.mock.calls.length]).toEqual([[], 1]);
});

it("leave combinations with Alt and other Ctrl keys to the browser", async () => {
  const { press, panels } = page();
  await press("f", document.body, { altKey: true });
  await press("h", document.body, { ctrlKey: true });
  expect(panels).toEqual([]);
});

it("take undo and redo to the session, for whoever may write", async () => {
  const { press, session } = page();
  const step = vi.spyOn(session, "step").mockResolvedValue();
  await press("u");
  await press("r");
  expect(step.mock.calls).toEqual([["undo"], ["redo"]]);
  const viewer = page({ mayWrite: false });
  const names = viewer.result.current.commands.map(({ name }) => name);
  expect(names.some((name) => /Undo|Redo|Still open/.test(name))).toBe(false);
});

it("lead to what is still open, the first by its key", async () => {
  const { press, result } = page({}, [...OPEN, { words: "a seat", path: "plan/brief/seats" }]);
  const open = result.current.commands.filter(({ name }) => name.startsWith("Still open"));
  expect(open.map(({ name, keys }) => [name, keys])).toEqual([
    ["Still open: a price for Pool", "o"],
    ["Still open: a seat", undefined],
  ]);
  await press("o");
  expect(result.current.at.state).toMatchObject({ at: "plan/pools/main/price" });
});

it("lose no prefix when the commands change between two keys", async () => {
  const { press, result, session, world } = page();
  const before = result.current.commands;
  await press("g");
  world.openWork = [];
  await act(async () => session.set("plan/pools/main/mine", 5));
  expect(result.current.commands).not.toBe(before);
  await press("2");
  expect(result.current.at.pathname).toBe("/s/slipway-house/plans/p1/brief");
});

it("are named in the palette with the scales and what stands beside the stages", () => {
  const names = page().result.current.commands.map(({ name }) => name);
  for (const name of ["Explain speed", "Explain space", "Explain safety", "Explain money"])
    expect(names).toContain(name);
  expect(names).toEqual(expect.arrayContaining(["Catalogue", "Help", "Download the plan file"]));
});
