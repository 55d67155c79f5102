/** What can break, as options of a list, and one failure as the server takes it. */
import type { PlanDocument } from "../../api/client";
import { clockText } from "../../kit/format";
import type { Option } from "../../plan/fields";
import type { Fails } from "./useDay";

/** One thing that breaks: "disk:main" and when, clock seconds. */
export interface Broken {
  what: string;
  at: number;
}

export const textOf = ({ what, at }: Broken): string => `${what}@${clockText(at)}`;

export const failsOf = (broken: readonly Broken[]): Fails =>
  broken.filter((each) => each.what).map(textOf);

/** Everything in the plan that can break, by what it is. */
export function breakable(
  { plan }: PlanDocument,
  nameOfLink: (id: string) => string,
): { group: string; options: Option[] }[] {
  const groups = [
    { group: "Disks", says: "a disk of", kind: "disk", things: plan.pools },
    {
      group: "Cables",
      says: "a cable of",
      kind: "link",
      things: (plan.wiring?.links ?? []).map(({ id }) => ({ id, name: nameOfLink(id) })),
    },
    { group: "Switches", says: "", kind: "switch", things: plan.wiring?.switches ?? [] },
    { group: "Boxes", says: "", kind: "box", things: plan.boxes ?? [] },
    { group: "Supplies", says: "a supply of", kind: "supply", things: plan.boxes ?? [] },
  ];
  return groups
    .filter(({ things }) => things.length > 0)
    .map(({ group, says, kind, things }) => ({
      group,
      options: things.map((thing): Option => [
        `${kind}:${thing.id}`,
        `${says} ${thing.name}`.trim(),
      ]),
    }));
}
