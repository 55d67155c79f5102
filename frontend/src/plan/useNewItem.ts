import { client, dataOf } from "../api/client";
import { usePlanTools } from "./context";
import { focusSoon } from "./place";
import { useTaken } from "./useTaken";

/** What is known of a new item: its list, some of its values, what it is made after, and who waits for its id. */
export interface NewItem {
  path: string;
  given?: Record<string, unknown>;
  after?: string;
  /** A footage format that is made with it. */
  media?: Record<string, unknown>;
  onAdded?: (id: string) => void;
}

/** Adds an item to a list of the plan with the values that the server starts it with, and goes to it. */
export function useNewItem(): { problem: string; add: (item: NewItem) => void } {
  const { session, studio, planId } = usePlanTools();
  const { problem, take } = useTaken();
  const add = ({ path, given = {}, after = "", media = {}, onAdded }: NewItem) =>
    take(
      async () => {
        const { patch } = await dataOf(
          client.POST("/api/studios/{studio}/plans/{plan_id}/new-item", {
            params: { path: { studio, plan_id: planId } },
            body: { ...session.question, path, given, after, media },
          }),
        );
        return patch;
      },
      (patch) => {
        const added = patch.find((operation) => operation.op === "add" && operation.path === path);
        if (!added) return;
        const { id } = added.value as { id: string };
        onAdded?.(id);
        focusSoon(`${path}/${id}`);
      },
    );
  return { problem, add };
}
