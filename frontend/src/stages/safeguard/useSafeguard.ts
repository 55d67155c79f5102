import { client, type LayoutOdds, type Safeguard } from "../../api/client";
import { useAsked } from "../../plan/useAsked";

/** How likely each pool of the plan on the page loses data in a year. */
export const useSafeguard = () =>
  useAsked<Safeguard>(["safeguard"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/safeguard", { params, body: question }),
  );

/** The same of one pool's drives in every layout. */
export const useLayoutOdds = (poolId: string) =>
  useAsked<LayoutOdds[]>(["layout odds", poolId], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/safeguard/layouts", {
      params,
      body: { ...question, pool_id: poolId },
    }),
  );
