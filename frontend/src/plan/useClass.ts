import { client, dataOf } from "../api/client";
import { usePlanTools } from "./context";
import { useTaken } from "./useTaken";

/** Makes a box or a cache one of a class, as the server says. */
export function useClass(): {
  problem: string;
  takeClass: (path: string, classId: string) => void;
} {
  const { session, studio, planId } = usePlanTools();
  const { problem, take } = useTaken();
  const takeClass = (path: string, classId: string) =>
    take(async () => {
      const answer = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/class", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, path, class_id: classId },
        }),
      );
      return answer.patch;
    });
  return { problem, takeClass };
}
