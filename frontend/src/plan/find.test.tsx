// @vitest-environment jsdom
import { act, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import { client, type Hit } from "../api/client";
import { Find } from "./Find";
import { opened } from "./opened";

const HIT: Hit = {
  kind: "figure",
  name: "Space",
  detail: "",
  opens: "figure",
  at: "scales.space",
};

beforeEach(() => {
  vi.useFakeTimers();
  Element.prototype.scrollIntoView = () => undefined; // jsdom scrolls nothing
});
afterEach(() => {
  vi.useRealTimers();
  vi.restoreAllMocks();
  document.body.replaceChildren();
});

/** The finder over a server that answers when it is let go. */
function finder() {
  const letGo: (() => Promise<void>)[] = [];
  vi.spyOn(client, "POST").mockImplementation(((_: string, how: { body: { text: string } }) => {
    const data = how.body.text === "space" ? [HIT] : [];
    return new Promise((resolve) => {
      letGo.push(() => act(async () => resolve({ data, response: new Response() })));
    });
  }) as never);
  const setPanel = vi.fn();
  const onClose = vi.fn();
  const ui = <Find commands={[]} setPanel={setPanel} onClose={onClose} />;
  render(ui, { wrapper: opened().wrapper });
  const input = screen.getByRole("combobox");
  const type = (value: string) => fireEvent.change(input, { target: { value } });
  const enter = () => fireEvent.keyDown(input, { key: "Enter" });
  const pause = () => act(() => vi.advanceTimersByTimeAsync(100));
  return { letGo, setPanel, onClose, type, enter, pause };
}

it("opens what Enter was pressed for before any answer was there", async () => {
  const { letGo, setPanel, type, enter, pause } = finder();
  type("space");
  await pause();
  expect(screen.getByText("Looking …")).toBeTruthy();
  enter();
  for (const answer of letGo) await answer();
  await pause();
  expect(setPanel).toHaveBeenCalledExactlyOnceWith({ kind: "explain", figureId: HIT.at });
});

it("opens nothing of what was typed before", async () => {
  const { letGo, setPanel, type, enter, pause } = finder();
  type("space");
  await pause();
  for (const answer of letGo) await answer();
  type("span");
  enter();
  await pause();
  await letGo.at(-1)?.();
  await pause();
  expect(setPanel).not.toHaveBeenCalled();
  expect(screen.getByText("Nothing by that name.")).toBeTruthy();
});
