import { describe, expect, it } from "vitest";

import cases from "../../../core/larder/base/tests/patch_cases.json";
import type { Operation } from "../api/client";
import { applied, valueAt } from "./patch";

const SMALL = {
  plan: {
    name: "One box",
    pools: [
      { id: "hot", drive_count: 4, price: null },
      { id: "cold", drive_count: 8, price: null },
    ],
    boxes: [],
    seats: [{ id: "edit", activities: [{ id: "render", odds: 0.1 }] }],
  },
};

interface Case {
  name: string;
  patch: Operation[];
  changes?: Record<string, unknown>;
  ids?: Record<string, string[]>;
  leads_nowhere?: boolean;
}

/** The core's own cases: the page shows what the server will have made of a patch. */
describe("patches, as the core applies them", () => {
  it.each(cases as Case[])("$name", ({ patch, changes, ids, leads_nowhere }) => {
    const before = structuredClone(SMALL);
    const after = applied(SMALL, patch);
    expect(SMALL).toEqual(before);
    if (leads_nowhere) expect(after).toEqual(SMALL);
    for (const [path, value] of Object.entries(changes ?? {}))
      expect(valueAt(after, path)).toEqual(value);
    for (const [path, expected] of Object.entries(ids ?? {}))
      expect((valueAt(after, path) as { id: string }[]).map((item) => item.id)).toEqual(expected);
  });
});
