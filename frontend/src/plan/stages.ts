/** The stages that exist, with their number in the work's twelve. */
export const STAGES = [
  { number: 2, slug: "brief", name: "Brief" },
  { number: 4, slug: "tiers", name: "Tiers" },
  { number: 5, slug: "wiring", name: "Wiring" },
] as const;

export type StageSlug = (typeof STAGES)[number]["slug"];
