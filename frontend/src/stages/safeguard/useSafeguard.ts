import { client, type GridRow, type LayoutOdds, type Safeguard } from "../../api/client";
import { useAsked } from "../../plan/useAsked";

/** What the copies of the plan on the page are worth, and what stops when a box dies. */
export const useSafeguard = () =>
  useAsked<Safeguard>(["safeguard"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/safeguard", { params, body: question }),
  );

/** What is left of each material after every two losses at once; asked where somebody looks. */
export const useTwoLosses = (looked: boolean) =>
  useAsked<GridRow[]>(["two losses", String(looked)], ({ params, question }) =>
    looked
      ? client.POST("/api/studios/{studio}/plans/{plan_id}/safeguard/two-losses", {
          params,
          body: question,
        })
      : Promise.resolve({ data: [] }),
  );

/** How likely one pool's drives lose data in a year in every layout. */
export const useLayoutOdds = (poolId: string) =>
  useAsked<LayoutOdds[]>(["layout odds", poolId], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/safeguard/layouts", {
      params,
      body: { ...question, pool_id: poolId },
    }),
  );
