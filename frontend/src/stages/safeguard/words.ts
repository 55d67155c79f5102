/** How losses, schedules and runs of copies are said in a few words; the figures are the core's. */

import type { CopyRun, MaterialKept } from "../../api/client";
import { clockText, hoursText } from "../../kit/format";

export type Cell = MaterialKept["cells"][number];

/** The head of a loss's column, in at most two short lines. */
export const HEADS: Record<Cell["loss"], string> = {
  "one disk": "one disk",
  "two disks": "two disks",
  "the box": "the box",
  "fire or water": "fire, water",
  theft: "theft",
  "a drop": "a drop",
  deletion: "emptied",
  encryption: "locked up",
  "silent corruption": "silent rot",
  "a lost key": "lost key",
  "the supplier": "supplier ends",
};

/** "30 min", "7 h", "3.5 days"; nothing where nobody waits, "not known" where nobody has said how. */
export function waitText(hours: number | null | undefined): string {
  if (hours === null || hours === undefined) return "not known";
  return hours < 1 / 120 ? "–" : hoursText(hours * 3600);
}

/** The same where there is room for a few letters: "30 min", "7 h", "4 d". */
export function shortWait(hours: number | null | undefined): string {
  if (hours === null || hours === undefined) return "?";
  return hours < 48 ? waitText(hours) : `${Math.round(hours / 24)} d`;
}

const USUAL: [number, string][] = [
  [1, "every hour"],
  [24, "every day"],
  [168, "every week"],
  [720, "every month"],
  [730, "every month"],
];

/** "every day", "every 36 h", "every 14 days". */
export function everyText(hours: number): string {
  if (hours < 1) return "all the time";
  const usual = USUAL.find(([each]) => each === hours);
  if (usual) return usual[1];
  return hours % 24 ? `every ${hours} h` : `every ${hours / 24} days`;
}

/** How a copy runs, and whether that is well. */
export function runText(run: CopyRun, everyHours: number): { said: string; well: boolean } {
  if (run.missing) return { said: "is no copy", well: false };
  if (!run.keeps_up) {
    const said = run.is_over_the_line ? "never catches up" : "is not over in time";
    return { said, well: false };
  }
  const done =
    run.done_minute === null || run.done_minute === undefined || !run.run_bytes
      ? ""
      : `, done by ${clockText(run.done_minute * 60)}`;
  return { said: everyText(everyHours) + done, well: true };
}
