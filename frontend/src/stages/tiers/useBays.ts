import { useState } from "react";

import type { Operation, PlanDocument } from "../../api/client";
import { usePlanTools, useSnapshot } from "../../plan/context";
import {
  freePlaces,
  placesOf,
  swapped,
  toggled,
  written,
  type BayResult,
  type Place,
} from "./bays";

type Pool = PlanDocument["plan"]["pools"][number];

const MOST_DRAWN = 2;

interface Occupant {
  id: string;
  name: string;
  path: string;
  slot: BayResult["slot"];
}

/** The pool that is shown, and the cache before it, each with where its bays are written. */
function useOccupants(pool: Pool): [Occupant, ...Occupant[]] {
  const { document } = useSnapshot();
  const cache = (document.plan.caches ?? []).find((c) => c.pool_id === pool.id);
  const own: Occupant = {
    id: pool.id,
    name: pool.name,
    path: `plan/pools/${pool.id}/bays`,
    slot: "bay",
  };
  if (!cache) return [own];
  const { id, name } = cache;
  return [own, { id, name, path: `plan/caches/${id}/bays`, slot: "flash slot" }];
}

/** Which drives lie where, and everything that moves them. */
export function useBays(pool: Pool) {
  const { session } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const { boxes, unplaced } = evaluation.bays;
  const occupants = useOccupants(pool);
  const [chosen, choose] = useState("");
  /** While two bays are being swapped: the first of them, once it is chosen. */
  const [swapping, setSwapping] = useState<Place[] | null>(null);
  const occupant = occupants.find((o) => o.id === chosen) ?? occupants[0];
  const pathOf = (id: string) =>
    `plan/${document.plan.pools.some((p) => p.id === id) ? "pools" : "caches"}/${id}/bays`;
  const exchange = (one: Place, other: Place) => {
    const changes = swapped(boxes, one, other).map(({ id, places }): Operation => ({
      op: "set",
      path: pathOf(id),
      value: written(places),
    }));
    if (changes.length) session.change(...changes);
    setSwapping(null);
  };
  const swap = (place: Place) => {
    const first = swapping?.[0];
    if (first) exchange(first, place);
    else setSwapping([place]);
  };
  const now = placesOf(boxes, occupant.id);
  const put = (places: Place[]) => session.set(occupant.path, written(places));
  const missing = unplaced[occupant.id] ?? 0;
  const hasSlots = boxes.some((b) => b.bays.some((bay) => bay.slot === occupant.slot));
  const free = freePlaces(boxes, hasSlots ? occupant.slot : "bay", missing);
  // Of many boxes only those are drawn that matter here: with its drives, or with room for the rest of them.
  const isHome = (box: (typeof boxes)[number]) =>
    box.bays.some((bay) => bay.occupant_id === occupant.id) || (missing > 0 && box.free_bays > 0);
  return {
    occupants,
    occupant,
    choose,
    swapping,
    setSwapping,
    swap,
    exchange,
    missing,
    now,
    free,
    shown: boxes.length <= MOST_DRAWN ? boxes : boxes.filter(isHome),
    toggle: (place: Place) => put(toggled(now, place)),
    fill: () => put([...now, ...free]),
    empty: () => put([]),
  };
}

export type Bays = ReturnType<typeof useBays>;
