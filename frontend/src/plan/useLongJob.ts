import {
  useMutation,
  useQuery,
  useQueryClient,
  type UseMutationResult,
} from "@tanstack/react-query";

import { client, dataOf, type LongJob } from "../api/client";
import { usePlanTools } from "./context";

const EACH_SECOND = 1_000;

export const isOpen = (job: LongJob) => job.status === "waiting" || job.status === "running";

/** Where a kind of long work is begun and listed. */
type Where =
  | "/api/studios/{studio}/plans/{plan_id}/rehearse/days"
  | "/api/studios/{studio}/plans/{plan_id}/safeguard/lifetimes";

export interface Job<Asked> {
  /** The newest of its kind of this plan. */
  job: LongJob | null;
  begin: UseMutationResult<LongJob, Error, Asked>;
  step: UseMutationResult<LongJob, Error, { id: string; to: "cancel" | "retry" }>;
}

/** Long work on the plan: begun, looked at once a second, cancelled, gone on with. */
export function useLongJob<Asked>(
  where: Where,
  ask: (asked: Asked) => Promise<{ data?: LongJob }>,
): Job<Asked> {
  const { studio, planId } = usePlanTools();
  const cache = useQueryClient();
  const key = [where, planId];
  const newest = useQuery({
    queryKey: key,
    queryFn: async () => {
      const [job] = await dataOf(
        client.GET(where, { params: { path: { studio, plan_id: planId } } }),
      );
      return job ?? null;
    },
    refetchInterval: ({ state }) => (state.data && isOpen(state.data) ? EACH_SECOND : false),
  });
  const keep = (job: LongJob) => cache.setQueryData(key, job);
  const begin = useMutation({
    mutationFn: (asked: Asked) => dataOf<LongJob>(ask(asked)),
    onSuccess: keep,
  });
  const step = useMutation({
    mutationFn: ({ id, to }: { id: string; to: "cancel" | "retry" }) =>
      dataOf<LongJob>(
        client.POST(`/api/studios/{studio}/jobs/{job_id}/${to}`, {
          params: { path: { studio, job_id: id } },
        }),
      ),
    onSuccess: keep,
  });
  return { job: newest.data ?? null, begin, step };
}
