import { client, type ShareOut, type Trouble } from "../../api/client";
import { useAsked } from "../../plan/useAsked";

/** What everybody gets in one state of the house, as the plan stands on the page. */
export const useShares = (state: string, trouble: Trouble) =>
  useAsked<ShareOut>(["share", state, trouble], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/share", {
      params,
      body: { ...question, state, trouble },
    }),
  );
