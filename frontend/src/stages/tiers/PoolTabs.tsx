import type { PlanDocument } from "../../api/client";
import { RefusedHere } from "../../plan/fields";
import { usePlanTools } from "../../plan/context";
import { useRemoval } from "../../plan/useRemoval";
import { AddItem } from "../../plan/AddItem";
import { Tabs } from "../../kit/Tabs";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";

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
  const { mayWrite } = usePlanTools();
  const { problem, remove } = useRemoval(`plan/pools/${chosen.id}`);
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
      {pools.length > 1 && <Tabs label="Pools" tabs={pools} chosen={chosen.id} choose={choose} />}
      <AddItem path="plan/pools" after={chosen.id} onAdded={choose}>
        Add a pool
      </AddItem>
      {mayWrite && pools.length > 1 && (
        <Button look="text" onClick={remove}>
          Remove {chosen.name}
        </Button>
      )}
      <Problem of={problem} />
      <RefusedHere path="plan/pools" />
    </div>
  );
}
