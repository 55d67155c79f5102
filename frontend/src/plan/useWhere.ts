import { useMemo } from "react";

import { useSnapshot } from "./context";
import type { Option } from "./fields";

const IN_THE_HOUSE: Option = ["", "the house itself"];

/** Where material may live and copies may lie, and at which places things may be, by their names. */
export function useWhere(): {
  targets: Option[];
  homes: Option[];
  places: Option[];
  inside: Option[];
} {
  const { plan } = useSnapshot().document;
  const { pools, volumes } = plan;
  const { stores, places } = plan.safekeeping ?? {};
  return useMemo(() => {
    const named = (kind: string, items: readonly { id: string; name: string }[] = []) =>
      items.map((item): Option => [`${kind}:${item.id}`, item.name]);
    const targets = [
      ...named("store", stores),
      ...named("pool", pools),
      ...named("volume", volumes),
    ];
    const listed = (places ?? []).map((place): Option => [place.id, place.name]);
    return {
      targets,
      homes: [
        ["", "where the brief puts it"],
        ["cards", "cards"],
        ["workstations", "the workstations"],
        ...targets,
      ],
      places: [IN_THE_HOUSE, ...listed],
      inside: [["", "a building of its own"], ["house", "in the house"], ...listed],
    };
  }, [pools, volumes, stores, places]);
}
