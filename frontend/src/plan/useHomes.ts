import { useMemo } from "react";

import { useSnapshot } from "./context";
import type { Option } from "./fields";

/** The pools that a seat or service may work on; none where there is nothing to choose. */
export function useHomes(): Option[] {
  const { document, evaluation } = useSnapshot();
  const ids = evaluation.tiers.pools_for_work.join("/");
  const pools = document.plan.pools;
  return useMemo(() => {
    const offered = pools.filter((pool) => ids.split("/").includes(pool.id));
    if (offered.length < 2) return [];
    return [["", "any, by what it can hold"], ...offered.map((p): Option => [p.id, p.name])];
  }, [ids, pools]);
}
