import { keepPreviousData, useQuery, type UseQueryResult } from "@tanstack/react-query";

import { dataOf } from "../api/client";
import { usePlanTools, useSnapshot } from "./context";
import type { PlanSession } from "./session";

interface Asked {
  params: { path: { studio: string; plan_id: string } };
  question: PlanSession["question"];
}

/** An answer about the plan as it stands on the page; until it comes the one before it is shown, where it is held. */
export function useAsked<T>(
  key: readonly string[],
  ask: (asked: Asked) => Promise<{ data?: T }>,
  how: { held?: boolean; enabled?: boolean } = {},
): UseQueryResult<T> {
  const { session, studio, planId } = usePlanTools();
  const { shown } = useSnapshot();
  return useQuery({
    queryKey: [...key, planId, ...shown],
    queryFn: () =>
      dataOf<T>(ask({ params: { path: { studio, plan_id: planId } }, question: session.question })),
    ...(how.held !== false && { placeholderData: keepPreviousData }),
    enabled: how.enabled ?? true,
    staleTime: Infinity,
  });
}
