import { useMemo } from "react";

import { usePart } from "./context";
import type { Option } from "./fields";

/** The plan's formats to choose from; the same list as long as they are the same. */
export function useFormatOptions(): Option[] {
  const formats = usePart((snapshot) => snapshot.document.catalogue?.formats);
  return useMemo(() => (formats ?? []).map((f): Option => [f.id, f.name]), [formats]);
}
