import { useQuery } from "@tanstack/react-query";

import { client, dataOf, type ShareOut, type Trouble } from "../../api/client";
import { usePlanTools, useSnapshot } from "../../plan/context";

/** What everybody gets in one state of the house, as the plan stands on the page. */
export function useShares(state: string, trouble: Trouble) {
  const { session, studio, planId } = usePlanTools();
  const { shown } = useSnapshot();
  return useQuery({
    queryKey: ["share", planId, state, trouble, ...shown],
    queryFn: (): Promise<ShareOut> =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/share", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, state, trouble },
        }),
      ),
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
}
