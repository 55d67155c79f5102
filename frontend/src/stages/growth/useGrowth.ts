import { client, type FlashOrDisks, type GrowthAsked } from "../../api/client";
import { useAsked } from "../../plan/useAsked";

/** Ways out when a pool is full, prices per TB, and which project grew. */
export const useGrowth = () =>
  useAsked<GrowthAsked>(["growth"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/growth", { params, body: question }),
  );

/** The cheapest flash pool beside the cheapest disks behind flash. */
export const useFlashOrDisks = () =>
  useAsked<FlashOrDisks>(["flash or disks"], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/growth/flash-or-disks", {
      params,
      body: question,
    }),
  );
