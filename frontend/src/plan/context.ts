import { createContext, useContext, useSyncExternalStore } from "react";

import type { PlanSession, Snapshot } from "./session";

/** What every part of an open plan can reach. */
export interface PlanTools {
  session: PlanSession;
  studio: string;
  planId: string;
  mayWrite: boolean;
  /** The document as it was when the plan was opened here, to show what a number was before. */
  opened: Snapshot["document"];
  explain: (figureId: string) => void;
  /** Opens the findings at the one with this key. */
  showFinding: (key: string) => void;
}

export const PlanContext = createContext<PlanTools | null>(null);

export function usePlanTools(): PlanTools {
  const tools = useContext(PlanContext);
  if (!tools) throw new Error("outside an open plan");
  return tools;
}

export function useSnapshot(): Snapshot {
  const { session } = usePlanTools();
  return useSyncExternalStore(session.subscribe, session.snapshot);
}

/** One thing of the snapshot; who asks for it is drawn again only when that changes. It must not be made anew. */
export function usePart<T>(part: (snapshot: Snapshot) => T): T {
  const { session } = usePlanTools();
  return useSyncExternalStore(session.subscribe, () => part(session.snapshot()));
}
