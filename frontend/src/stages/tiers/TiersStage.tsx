import { useState } from "react";

import { AddItem } from "../../plan/AddItem";
import { useSnapshot } from "../../plan/context";
import { usePlace } from "../../plan/place";
import { AllPools } from "./AllPools";
import { Boxes } from "./Boxes";
import { BoxFronts } from "./BoxFronts";
import { PoolFields } from "./PoolFields";
import { PoolGives } from "./PoolGives";
import { PoolTabs } from "./PoolTabs";
import { Purchases } from "./Purchases";
import { Volumes } from "./Volumes";

/** The pool that is looked at: one that was chosen, or one that something in was gone to. */
function useChosenPool() {
  const { document, evaluation } = useSnapshot();
  const { pools = [], caches = [], volumes = [] } = document.plan;
  const { at, key } = usePlace();
  const [, list, id = "", , place] = at.split("/");
  const front = list === "boxes" && evaluation.bays.boxes.find((box) => box.id === id);
  const bay = front && front.bays.find((each) => `${each.slot}-${each.number}` === place);
  const own = bay ? bay.occupant_id : id;
  const inside = [...caches, ...volumes].find((each) => each.id === own);
  const wanted = pools.some((pool) => pool.id === own) ? own : (inside?.pool_id ?? "");
  const [chosen, setChosen] = useState({ id: wanted, key });
  const isOlder = chosen.key !== key && wanted !== "";
  return {
    chosen: isOlder ? wanted : chosen.id,
    setChosen: (pool: string) => setChosen({ id: pool, key }),
  };
}

/** A plan begins without storage: here it gets its first. */
function NoPool() {
  return (
    <div className="ask-answer">
      <section aria-label="Drives and layout">
        <h2>No storage yet</h2>
        <p className="my-2">
          A first pool begins as four disks of 12 TB, of which any two may die. Then change what
          does not fit: the scales answer at once.
        </p>
        <AddItem path="plan/pools">Add a first pool</AddItem>
        <Boxes />
        <Purchases />
      </section>
    </div>
  );
}

/** The pools: drives and layout on the left; what they hold, survive and deliver on the right. */
export function TiersStage() {
  const { document, evaluation } = useSnapshot();
  const { chosen, setChosen } = useChosenPool();
  const pools = document.plan.pools ?? [];
  const pool = pools.find((p) => p.id === chosen) ?? pools[0];
  if (!pool) return <NoPool />;
  // A pool just added is on the screen before it is judged.
  const result = evaluation.tiers.pools.find((p) => p.id === pool.id);
  return (
    <div className="ask-answer">
      <section aria-label="Drives and layout">
        <PoolTabs pools={pools} chosen={pool} choose={setChosen} />
        <PoolFields key={pool.id} pool={pool} />
        <Volumes poolId={pool.id} />
        <Boxes />
        <Purchases />
      </section>
      <section aria-label="What the pool gives" className="answer-column">
        <BoxFronts key={pool.id} pool={pool} />
        {pools.length > 1 && <AllPools results={evaluation.tiers.pools} />}
        {result ? (
          <PoolGives pool={pool} result={result} />
        ) : (
          <p className="faint">This pool is not judged yet.</p>
        )}
      </section>
    </div>
  );
}
