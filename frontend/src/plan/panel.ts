/** What lies over the right edge of a stage. */
export type Panel =
  | { kind: "explain"; figureId: string }
  | { kind: "findings"; key?: string }
  | { kind: "history" | "help" }
  | null;
