import { client, dataOf } from "../api/client";
import { usePlanTools } from "./context";
import { useTaken } from "./useTaken";

/** Takes an item of the plan away with all that stands only with it, as the server says; undo brings it back. */
export function useRemoval(path: string): { problem: string; remove: () => void } {
  const { session, studio, planId } = usePlanTools();
  const { problem, take } = useTaken();
  const remove = () =>
    take(async () => {
      const answer = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/removal", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, path },
        }),
      );
      return answer.patch;
    });
  return { problem, remove };
}
