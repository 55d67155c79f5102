import { useState } from "react";

import { useSnapshot } from "../../plan/context";
import { AllPools } from "./AllPools";
import { Boxes } from "./Boxes";
import { BoxFronts } from "./BoxFronts";
import { PoolFields } from "./PoolFields";
import { PoolGives } from "./PoolGives";
import { PoolTabs } from "./PoolTabs";
import { Purchases } from "./Purchases";
import { Volumes } from "./Volumes";

/** The pools: drives and layout on the left; what they hold, survive and deliver on the right. */
export function TiersStage() {
  const { document, evaluation } = useSnapshot();
  const [chosen, setChosen] = useState("");
  const pools = document.plan.pools;
  const pool = pools.find((p) => p.id === chosen) ?? pools[0];
  if (!pool) return <p className="p-8">This plan has no pool.</p>;
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
