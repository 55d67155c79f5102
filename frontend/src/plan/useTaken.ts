import { useState } from "react";

import type { Operation } from "../api/client";
import { usePlanTools } from "./context";

interface Taken {
  problem: string;
  /** Asks the server for a change and takes it; what it refuses is said and nothing is changed. */
  take: (
    ask: () => Promise<readonly Operation[]>,
    onTaken?: (patch: readonly Operation[]) => void,
  ) => void;
}

/** A change of the plan that the server works out before it is made. */
export function useTaken(): Taken {
  const { session } = usePlanTools();
  const [problem, setProblem] = useState("");
  const take: Taken["take"] = (ask, onTaken) => {
    setProblem("");
    ask()
      .then((patch) => {
        if (patch.length) session.change(...patch);
        onTaken?.(patch);
      })
      .catch((error: unknown) =>
        setProblem(error instanceof Error ? error.message : "That did not work."),
      );
  };
  return { problem, take };
}
