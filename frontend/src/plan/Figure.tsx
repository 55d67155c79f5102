import type { ReactNode } from "react";

import { usePlanTools } from "./context";
import { Button } from "../kit/Button";

/** A computed figure that opens its working. */
export function Figure({ id, children }: { id: string; children: ReactNode }) {
  const { explain } = usePlanTools();
  return (
    <Button look="figure" onClick={() => explain(id)} title="Show the working">
      {children}
    </Button>
  );
}
