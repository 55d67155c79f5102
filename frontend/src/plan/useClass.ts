import { client, dataOf, type Operation } from "../api/client";
import { usePlanTools } from "./context";
import { useTaken } from "./useTaken";

/** Makes a box or a cache one of a class, as the server says; a new one is added in the same change. */
export function useClass(): {
  problem: string;
  takeClass: (path: string, classId: string, added?: Operation[]) => void;
} {
  const { session, studio, planId } = usePlanTools();
  const { problem, take } = useTaken();
  const takeClass = (path: string, classId: string, added: Operation[] = []) =>
    take(async () => {
      const { question } = session;
      const patch = [...question.patch, ...added];
      const answer = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/class", {
          params: { path: { studio, plan_id: planId } },
          body: { ...question, patch, path, class_id: classId },
        }),
      );
      return [...added, ...answer.patch];
    });
  return { problem, takeClass };
}
