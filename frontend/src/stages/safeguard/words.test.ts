import { expect, test } from "vitest";

import type { CopyRun } from "../../api/client";
import { everyText, runText, shortWait, waitText } from "./words";

const RUN: CopyRun = {
  id: "night",
  name: "Night",
  material_names: ["Hot projects"],
  bytes: 1e12,
  run_bytes: 9e10,
  bytes_per_s: 4e8,
  limited_by: "the outside line",
  run_hours: 0.06,
  window_hours: 10,
  done_minute: 1264,
  keeps_up: true,
  is_over_the_line: false,
  first_days: 0,
  missing: "",
};

test("nobody waits, nobody knows, and the rest in the unit that one would say", () => {
  expect([0, null, 0.3, 7, 80].map((hours) => waitText(hours))).toEqual([
    "–",
    "not known",
    "18 min",
    "7 h",
    "3.3 days",
  ]);
  expect([0, null, 47, 80].map((hours) => shortWait(hours))).toEqual(["–", "?", "47 h", "3 d"]);
});

test("a copy runs as it is said", () => {
  expect([0, 1, 24, 36, 168, 336, 720].map(everyText)).toEqual([
    "all the time",
    "every hour",
    "every day",
    "every 36 h",
    "every week",
    "every 14 days",
    "every month",
  ]);
});

test("a run says when it is done, or why it is none", () => {
  expect(runText(RUN, 24)).toEqual({ said: "every day, done by 21:04", well: true });
  expect(runText({ ...RUN, run_bytes: 0 }, 168).said).toBe("every week");
  expect(runText({ ...RUN, keeps_up: false }, 24)).toEqual({
    said: "is not over in time",
    well: false,
  });
  expect(runText({ ...RUN, keeps_up: false, is_over_the_line: true }, 24).said).toBe(
    "never catches up",
  );
  expect(runText({ ...RUN, missing: "it has been given up" }, 24).well).toBe(false);
});
