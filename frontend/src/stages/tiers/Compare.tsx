import { useQuery } from "@tanstack/react-query";
import { useState } from "react";

import { client, dataOf } from "../../api/client";
import { hoursText, moneyText, rateNumber, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";

/** The same drives under every layout; asked for when it is opened. */
export function Compare({ poolId }: { poolId: string }) {
  const [open, setOpen] = useState(false);
  return (
    <details className="mt-5" onToggle={(event) => setOpen(event.currentTarget.open)}>
      <summary className="text-button inline-block cursor-pointer">
        These drives under every layout
      </summary>
      {open && <Rows poolId={poolId} />}
    </details>
  );
}

function Rows({ poolId }: { poolId: string }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const answer = useQuery({
    queryKey: ["compare", planId, poolId, evaluation],
    queryFn: () =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/compare", {
          params: { path: { studio, plan_id: planId } },
          body: { base: session.head, patch: session.pending, pool_id: poolId, seq: 0 },
        }),
      ),
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
  if (answer.isError) return <p className="problem">{answer.error.message}</p>;
  if (!answer.data) return <p className="faint">Working it out …</p>;
  return (
    <>
      <table className="ledger text-sm" aria-label="Layouts compared">
        <thead>
          <tr>
            <th scope="col">Layout</th>
            <th scope="col" className="num">
              Plannable
            </th>
            <th scope="col" className="num">
              Survives
            </th>
            <th scope="col" className="num">
              Reads
            </th>
            <th scope="col" className="num">
              Writes
            </th>
            <th scope="col" className="num">
              Rebuild
            </th>
            <th scope="col" className="num">
              Per TB
            </th>
            <th scope="col">
              <span className="sr-only">Take it</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {answer.data.map((row) => (
            <tr key={row.layout} className={row.is_current ? "font-semibold" : ""}>
              <td>
                {row.words}
                {row.is_current && <span className="sr-only">, the pool’s own</span>}
              </td>
              {row.why_not ? (
                <td colSpan={7} className="faint">
                  needs {row.why_not}
                </td>
              ) : (
                <>
                  <td className="num">{sizeText(row.plannable_bytes ?? 0)}</td>
                  <td className="num">
                    {row.guaranteed_failures === row.max_failures
                      ? row.guaranteed_failures
                      : `${row.guaranteed_failures} to ${row.max_failures}`}
                  </td>
                  <td className="num">{rateNumber(row.read_bytes_per_s ?? 0)}</td>
                  <td className="num">{rateNumber(row.write_bytes_per_s ?? 0)}</td>
                  <td className="num">
                    {row.rebuild_seconds == null ? "–" : hoursText(row.rebuild_seconds)}
                  </td>
                  <td className="num">
                    {row.price_per_plannable_tb == null
                      ? "–"
                      : moneyText(row.price_per_plannable_tb, document.currency)}
                  </td>
                  <td>
                    {mayWrite && !row.is_current && (
                      <button
                        type="button"
                        className="text-button"
                        onClick={() => session.change(...(row.patch ?? []))}
                      >
                        Take<span className="sr-only"> {row.words}</span>
                      </button>
                    )}
                  </td>
                </>
              )}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="faint text-sm">
        Rates in MB/s on a pool filled to its limit, without its cache. Rebuild writes one drive
        anew at the house rule’s share. Per TB is what the drives cost for each plannable TB.
      </p>
    </>
  );
}
