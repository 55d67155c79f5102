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

/** The switches that a service may come in over. */
export function useSwitches(): Option[] {
  const switches = useSnapshot().document.plan.wiring?.switches;
  return useMemo(
    () => [["", "beside the storage"], ...(switches ?? []).map((s): Option => [s.id, s.name])],
    [switches],
  );
}

/** The addresses that a seat may mount, where some box has several. */
export function useMounts(): Option[] {
  const { addresses } = useSnapshot().evaluation.plugs;
  return useMemo(() => {
    const several = addresses.filter((a) =>
      addresses.some((b) => b.link_id !== a.link_id && b.box_name === a.box_name),
    );
    if (!several.length) return [];
    return [
      ["", "not said"],
      ...several.map((a): Option => [a.link_id, `${a.box_name}, ${a.address}`]),
    ];
  }, [addresses]);
}
