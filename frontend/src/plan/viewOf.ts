/** Which view of a plan shows what. */

const VIEWS: [string, string][] = [
  ["plan/wiring", "wiring"],
  ["plan/safekeeping", "safeguard"],
  ["plan/growth", "growth"],
  ["plan/mains", "growth"],
  ["plan/brief", "brief"],
  ["plan/name", "brief"],
  ["catalogue/formats", "brief"],
  ["catalogue", "catalogue"],
  ["house_rules", "house-rules"],
];

/** Which view shows a place; what none of them claims is of the tiers. */
export const viewOf = (path: string): string =>
  VIEWS.find(([start]) => path.startsWith(start))?.[1] ?? "tiers";
