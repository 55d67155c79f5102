// @vitest-environment jsdom
import { act } from "react";
import { createRoot, type Root } from "react-dom/client";
import { afterEach, beforeEach, expect, it, vi } from "vitest";

import type { PlanOut } from "../api/client";
import { PlanContext, useSnapshot } from "./context";
import { Choice, Quantity } from "./fields";
import { PlanSession, type Connection } from "./session";

const drawn = vi.hoisted(() => new Map<string, number>());
vi.mock("../kit/quantity", async (importActual) => {
  const actual = await importActual<typeof import("../kit/quantity")>();
  return {
    ...actual,
    // Every field asks once for its facts each time that it is drawn.
    factsOf: (field: Parameters<typeof actual.factsOf>[0]) => {
      drawn.set(field, (drawn.get(field) ?? 0) + 1);
      return actual.factsOf(field);
    },
  };
});

const pool = { id: "main", drive_count: 9, spares: 0, layout: "raid6" };
const plan = {
  head: 1,
  document: { currency: "EUR", plan: { pools: [pool] } },
  evaluation: {},
  notes: [],
} as unknown as PlanOut;

/** Draws itself anew with every verdict, as a stage does. */
function Stage() {
  const { evaluation } = useSnapshot();
  drawn.set("stage", (drawn.get("stage") ?? 0) + 1);
  const path = `plan/pools/${pool.id}`;
  return (
    <div data-verdict={JSON.stringify(evaluation)}>
      <Quantity field="Pool.drive_count" path={`${path}/drive_count`} />
      <Quantity field="Pool.spares" path={`${path}/spares`} />
      <Choice field="Pool.layout" path={`${path}/layout`} />
    </div>
  );
}

let root: Root;
let session: PlanSession;
beforeEach(async () => {
  Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });
  const connection = {
    evaluate: (_base: number, _patch: unknown, seq: number) =>
      Promise.resolve({ seq, evaluation: { answered: seq } }),
    save: () => new Promise(() => undefined),
  } as unknown as Connection;
  session = new PlanSession(connection, plan);
  const place = document.body.appendChild(document.createElement("div"));
  root = createRoot(place);
  const tools = {
    session,
    studio: "s",
    planId: "p",
    mayWrite: true,
    opened: plan.document,
    explain: () => undefined,
    showFinding: () => undefined,
  };
  await act(async () =>
    root.render(
      <PlanContext value={tools}>
        <Stage />
      </PlanContext>,
    ),
  );
});
afterEach(() => {
  session.close();
  act(() => root.unmount());
  document.body.replaceChildren();
});

it("draws only the field whose own value changes, however often the stage is drawn", async () => {
  const before = new Map(drawn);
  await act(async () => session.set("plan/pools/main/drive_count", 10));
  const more = (field: string) => (drawn.get(field) ?? 0) - (before.get(field) ?? 0);
  expect(document.querySelector<HTMLInputElement>("[data-path$=drive_count]")?.value).toBe("10");
  expect(more("stage")).toBeGreaterThan(0);
  expect(more("Pool.drive_count")).toBeGreaterThan(0);
  expect([more("Pool.spares"), more("Pool.layout")]).toEqual([0, 0]);
});
