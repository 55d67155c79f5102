import { useState } from "react";

import type { Operation } from "../api/client";
import { usePlanTools } from "./context";

interface Taken {
  problem: string;
  /**
   * Asks the server for a change and takes it; what it refuses is said and nothing is changed. Where an item
   * is added, `onAdded` hears its id.
   */
  take: (
    ask: () => Promise<readonly Operation[]>,
    onAdded?: ((id: string) => void) | undefined,
  ) => void;
}

/** A change of the plan that the server works out before it is made. */
export function useTaken(): Taken {
  const { session } = usePlanTools();
  const [problem, setProblem] = useState("");
  const take: Taken["take"] = (ask, onAdded) => {
    setProblem("");
    ask()
      .then((patch) => {
        if (patch.length) session.change(...patch);
        const added = patch.find((operation) => operation.op === "add");
        if (added) onAdded?.((added.value as { id: string }).id);
      })
      .catch((error: unknown) =>
        setProblem(error instanceof Error ? error.message : "That did not work."),
      );
  };
  return { problem, take };
}
