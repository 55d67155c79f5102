import type { PlanDocument } from "../../api/client";
import { RefusedHere } from "../../plan/fields";
import { usePlanTools } from "../../plan/context";
import { freshId } from "../../plan/patch";
import { useRemoval } from "../../plan/useRemoval";

type Pool = PlanDocument["plan"]["pools"][number];

/** Which pool is shown; pools are added with the drives of the one shown, and removed while one is left. */
export function PoolTabs({
  pools,
  chosen,
  choose,
}: {
  pools: Pool[];
  chosen: Pool;
  choose: (id: string) => void;
}) {
  const { session, mayWrite } = usePlanTools();
  const add = () => {
    const id = freshId("pool", pools);
    const tier = pools.some((p) => p.tier === "archive") ? "work" : "archive";
    session.change({
      op: "add",
      path: "plan/pools",
      value: {
        ...chosen,
        id,
        tier,
        bays: "",
        name: tier === "archive" ? "Archive pool" : "Work pool",
      },
    });
    choose(id);
  };
  const { problem, remove } = useRemoval(`plan/pools/${chosen.id}`);
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
      {pools.length > 1 &&
        pools.map((pool) => (
          <button
            key={pool.id}
            type="button"
            className={pool.id === chosen.id ? "plain-button font-semibold" : "text-button"}
            aria-pressed={pool.id === chosen.id}
            onClick={() => choose(pool.id)}
          >
            {pool.name}
          </button>
        ))}
      {mayWrite && (
        <button type="button" className="text-button" onClick={add}>
          Add a pool
        </button>
      )}
      {mayWrite && pools.length > 1 && (
        <button type="button" className="text-button" onClick={remove}>
          Remove {chosen.name}
        </button>
      )}
      {problem && (
        <p className="problem" role="alert">
          {problem}
        </p>
      )}
      <RefusedHere path="plan/pools" />
    </div>
  );
}
