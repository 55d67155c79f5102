import { client, dataOf, type Operation } from "../api/client";
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

/** Asks for the change that adds an item with the values that the server starts it with. */
export function useAskNewItem(): (item: Omit<NewItem, "onAdded">) => Promise<readonly Operation[]> {
  const { session, studio, planId } = usePlanTools();
  return async ({ path, given = {}, after = "", media = {} }) => {
    const { patch } = await dataOf(
      client.POST("/api/studios/{studio}/plans/{plan_id}/new-item", {
        params: { path: { studio, plan_id: planId } },
        body: { ...session.question, path, given, after, media },
      }),
    );
    return patch;
  };
}

/** The id of what a change adds to the list at `path`. */
export function addedId(patch: readonly Operation[], path: string): string | undefined {
  const added = patch.find((operation) => operation.op === "add" && operation.path === path);
  return added && (added.value as { id: string }).id;
}

/** Adds an item to a list of the plan with the values that the server starts it with, and goes to it. */
export function useNewItem(): { problem: string; add: (item: NewItem) => void } {
  const { problem, take } = useTaken();
  const ask = useAskNewItem();
  const add = ({ onAdded, ...item }: NewItem) => {
    const pressed = performance.now();
    take(
      () => ask(item),
      (patch) => {
        const id = addedId(patch, item.path);
        if (id === undefined) return;
        onAdded?.(id);
        focusSoon(`${item.path}/${id}`, pressed);
      },
    );
  };
  return { problem, add };
}
