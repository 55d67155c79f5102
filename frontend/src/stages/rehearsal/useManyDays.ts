import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";

import { client, dataOf, type DaysJob } from "../../api/client";
import { usePlanTools } from "../../plan/context";
import type { Fails } from "./useDay";

const EACH_SECOND = 1_000;

export const isOpen = (job: DaysJob) => job.status === "waiting" || job.status === "running";

/** The plan's drawn days as a job on the server: begun, looked at once a second, cancelled, gone on with. */
export function useManyDays() {
  const { session, studio, planId } = usePlanTools();
  const cache = useQueryClient();
  const key = ["days", planId];
  const newest = useQuery({
    queryKey: key,
    queryFn: async () => {
      const [job] = await dataOf(
        client.GET("/api/studios/{studio}/plans/{plan_id}/rehearse/days", {
          params: { path: { studio, plan_id: planId } },
        }),
      );
      return job ?? null;
    },
    refetchInterval: ({ state }) => (state.data && isOpen(state.data) ? EACH_SECOND : false),
  });
  const keep = (job: DaysJob) => cache.setQueryData(key, job);
  const begin = useMutation({
    mutationFn: ({ days, fails }: { days: number; fails: Fails }) =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/rehearse/days", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, fails: [...fails], days, seed: 1 },
        }),
      ),
    onSuccess: keep,
  });
  const step = useMutation({
    mutationFn: ({ id, to }: { id: string; to: "cancel" | "retry" }) =>
      dataOf(
        client.POST(`/api/studios/{studio}/jobs/{job_id}/${to}`, {
          params: { path: { studio, job_id: id } },
        }),
      ),
    onSuccess: keep,
  });
  return { job: newest.data ?? null, begin, step };
}
