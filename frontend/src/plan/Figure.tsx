import type { ReactNode } from "react";

import { usePlanTools } from "./context";

/** A computed figure that opens its working. */
export function Figure({ id, children }: { id: string; children: ReactNode }) {
  const { explain } = usePlanTools();
  return (
    <button type="button" className="figure" onClick={() => explain(id)} title="Show the working">
      {children}
    </button>
  );
}
