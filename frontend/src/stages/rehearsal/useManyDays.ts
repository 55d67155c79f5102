import { client } from "../../api/client";
import { usePlanTools } from "../../plan/context";
import { useLongJob } from "../../plan/useLongJob";
import type { Fails } from "./useDay";

/** The plan's drawn days as a job on the server. */
export function useManyDays() {
  const { session, studio, planId } = usePlanTools();
  return useLongJob(
    "/api/studios/{studio}/plans/{plan_id}/rehearse/days",
    ({ days, fails }: { days: number; fails: Fails }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/rehearse/days", {
        params: { path: { studio, plan_id: planId } },
        body: { ...session.question, fails: [...fails], days, seed: 1 },
      }),
  );
}
