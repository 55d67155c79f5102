import {
  useMutation,
  useQuery,
  useQueryClient,
  type UseMutationResult,
} from "@tanstack/react-query";

import { client, dataOf, type LongJob } from "../api/client";
import { usePlanTools } from "./context";

const EACH_SECOND = 1_000;
/** Somebody sits and waits for it. */
const AWAITED = 500;

export const isOpen = (job: LongJob) => job.status === "waiting" || job.status === "running";

/** Where a kind of long work is begun and listed. */
type Where =
  | "/api/studios/{studio}/plans/{plan_id}/rehearse/days"
  | "/api/studios/{studio}/plans/{plan_id}/safeguard/lifetimes";

export interface Job<Asked> {
  /** The newest of its kind of this plan. */
  job: LongJob | null;
  begin: UseMutationResult<LongJob, Error, Asked>;
  step: Step;
}

/** Long work on the plan: begun, looked at once a second, cancelled, gone on with. */
export function useLongJob<Asked>(
  where: Where,
  ask: (asked: Asked) => Promise<{ data?: LongJob }>,
): Job<Asked> {
  const { studio, planId } = usePlanTools();
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
  const begin = useMutation({
    mutationFn: (asked: Asked) => dataOf<LongJob>(ask(asked)),
    onSuccess: useKept(key),
  });
  return { job: newest.data ?? null, begin, step: useStep(key) };
}

/** An answer is kept, and what was asked before it and comes later is not. */
function useKept(key: readonly unknown[]): (job: LongJob) => Promise<void> {
  const cache = useQueryClient();
  return async (job) => {
    cache.setQueryData(key, job);
    await cache.invalidateQueries({ queryKey: key });
  };
}

type Step = UseMutationResult<LongJob, Error, { id: string; to: "cancel" | "retry" }>;

/** A job is ended, or gone on with. */
function useStep(key: readonly unknown[]): Step {
  const { studio } = usePlanTools();
  return useMutation({
    mutationFn: ({ id, to }) =>
      dataOf<LongJob>(
        client.POST(`/api/studios/{studio}/jobs/{job_id}/${to}`, {
          params: { path: { studio, job_id: id } },
        }),
      ),
    onSuccess: useKept(key),
  });
}

export interface Watched {
  job: LongJob | null;
  step: Step;
}

/** A job that is known, looked at until it has ended. */
export function useWatched(begun: LongJob | null): Watched {
  const { studio } = usePlanTools();
  const key = ["job", begun?.id];
  const watched = useQuery({
    queryKey: key,
    queryFn: () =>
      dataOf<LongJob>(
        client.GET("/api/studios/{studio}/jobs/{job_id}", {
          params: { path: { studio, job_id: begun?.id ?? "" } },
        }),
      ),
    enabled: begun !== null,
    refetchInterval: ({ state }) => (state.data && !isOpen(state.data) ? false : AWAITED),
  });
  return { job: watched.data ?? begun, step: useStep(key) };
}
