import type { PoolResult } from "../../api/client";
import { rateText, sizeText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { Waterfall } from "./Waterfall";

/** All pools in one table: what each holds, and the load of its tier against what it carries. */
export function AllPools({ results }: { results: PoolResult[] }) {
  const { evaluation } = useSnapshot();
  return (
    <>
      <h2>All pools</h2>
      <table className="ledger mb-5" aria-label="All pools">
        <thead>
          <tr>
            <th scope="col">Pool</th>
            <th scope="col">Holds</th>
            <th scope="col" className="num">
              Plannable
            </th>
            <th scope="col" className="num">
              Survives
            </th>
            <th scope="col" className="num-long">
              Carries of what is asked
            </th>
          </tr>
        </thead>
        <tbody>
          {results.map((pool) => {
            const hop = evaluation.wiring.hops.find((h) => h.id === pool.id);
            return (
              <tr key={pool.id}>
                <td>{pool.name}</td>
                <td>{pool.tier}</td>
                <td className="num">{sizeText(pool.plannable_bytes)}</td>
                <td className="num">{pool.guaranteed_failures}</td>
                <td className="num-long">
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
      </table>
      <details className="mb-5">
        <summary className="text-button w-fit">The whole plan from carton to plannable</summary>
        <Waterfall of={evaluation.tiers} />
      </details>
    </>
  );
}
