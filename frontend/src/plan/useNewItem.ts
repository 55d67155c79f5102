import { client, dataOf } from "../api/client";
import { usePlanTools } from "./context";
import { useTaken } from "./useTaken";

/** What is known of a new item: its list, some of its values, what it is made after, and who waits for its id. */
export interface NewItem {
  path: string;
  given?: Record<string, unknown>;
  after?: string;
  onAdded?: (id: string) => void;
}

/** Adds an item to a list of the plan with the values that the server starts it with. */
export function useNewItem(): { problem: string; add: (item: NewItem) => void } {
  const { session, studio, planId } = usePlanTools();
  const { problem, take } = useTaken();
  const add = ({ path, given = {}, after = "", onAdded }: NewItem) =>
    take(async () => {
      const { patch } = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/new-item", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, path, given, after },
        }),
      );
      return patch;
    }, onAdded);
  return { problem, add };
}
