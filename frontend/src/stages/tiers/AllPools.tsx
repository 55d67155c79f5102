import type { PoolResult } from "../../api/client";
import { rateText, sizeText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { Waterfall } from "./Waterfall";
import { Heads, Table } from "../../kit/Table";
import { Behind } from "../../kit/Fold";

/** All pools in one table: what each holds, and the load of its tier against what it carries. */
export function AllPools({ results }: { results: PoolResult[] }) {
  const { evaluation } = useSnapshot();
  return (
    <>
      <h2>All pools</h2>
      <Table className="mb-5" aria-label="All pools">
        <Heads of={["Pool", "Holds", "#Plannable", "#Survives", "#Carries of what is asked"]} />
        <tbody>
          {results.map((pool) => {
            const hop = evaluation.wiring.hops.find((h) => h.id === pool.id);
            return (
              <tr key={pool.id}>
                <td>{pool.name}</td>
                <td>{pool.tier}</td>
                <td className="num">{sizeText(pool.plannable_bytes)}</td>
                <td className="num">{pool.guaranteed_failures}</td>
                <td className="num whitespace-normal">
                  {hop &&
                    `${rateText(hop.capacity_bytes_per_s)} of ${rateText(hop.required_bytes_per_s)}`}
                </td>
              </tr>
            );
          })}
          <tr>
            <td className="font-semibold">Together</td>
            <td />
            <td className="num font-semibold">{sizeText(evaluation.tiers.plannable_bytes)}</td>
            <td />
            <td />
          </tr>
        </tbody>
      </Table>
      <Behind className="mb-5" title="The whole plan from carton to plannable">
        <Waterfall of={evaluation.tiers} />
      </Behind>
    </>
  );
}
