import { useQuery } from "@tanstack/react-query";
import type { ReactNode } from "react";

import { client, dataOf, type AskPool, type BuiltRow } from "../../api/client";
import { hoursText, moneyText, rateNumber, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { Behind } from "../../kit/Fold";
import { Problem } from "../../kit/Problem";
import { Heads, Table } from "../../kit/Table";
import { Button } from "../../kit/Button";

const HEADS = ["#Usable", "#Plannable", "#Survives", "#Reads", "#Writes", "#Rebuild", "#Per TB"];

/** One pool built in many ways, asked for when it is opened; a row is taken in one click. */
function BuiltTable({
  title,
  what,
  ask,
  poolId,
  children,
}: {
  title: string;
  /** The first column's head, and the name of the table. */
  what: [string, string];
  ask: (body: AskPool) => Promise<readonly BuiltRow[]>;
  poolId: string;
  children: ReactNode;
}) {
  return (
    <Behind lazy className="mt-5" title={title}>
      <Rows what={what} ask={ask} poolId={poolId} />
      <p className="faint text-sm">{children}</p>
    </Behind>
  );
}

function Rows({
  what: [head, name],
  ask,
  poolId,
}: {
  what: [string, string];
  ask: (body: AskPool) => Promise<readonly BuiltRow[]>;
  poolId: string;
}) {
  const { session, planId } = usePlanTools();
  const { shown } = useSnapshot();
  const answer = useQuery({
    queryKey: [name, planId, poolId, ...shown],
    queryFn: () => ask({ ...session.question, pool_id: poolId }),
    placeholderData: (before) => before,
    staleTime: Infinity,
  });
  if (answer.isError) return <Problem of={answer.error} />;
  if (!answer.data) return <p className="faint">Working it out …</p>;
  if (!answer.data.length) return <p className="faint">The catalogue has none yet.</p>;
  return (
    <div className="overflow-x-auto">
      <Table className="text-sm" aria-label={name}>
        <Heads of={[head, ...HEADS, "-Take it"]} />
        <tbody>
          {answer.data.map((row) => (
            <Built key={row.words} row={row} />
          ))}
        </tbody>
      </Table>
    </div>
  );
}

/** One way to build it: what that gives and costs, or what it would need. */
function Built({ row }: { row: BuiltRow }) {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const patch = row.patch ?? [];
  return (
    <tr className={row.is_current ? "font-semibold" : ""}>
      <td>
        {row.words}
        {row.is_current && <span className="sr-only">, the pool’s own</span>}
      </td>
      {row.why_not ? (
        <td colSpan={HEADS.length + 1} className="faint">
          needs {row.why_not}
        </td>
      ) : (
        <>
          {figures(row, document.currency).map((figure, n) => (
            <td key={HEADS[n]} className="num">
              {figure}
            </td>
          ))}
          <td>
            {mayWrite && patch.length > 0 && (
              <Button look="text" onClick={() => session.change(...patch)}>
                Take<span className="sr-only"> {row.words}</span>
              </Button>
            )}
          </td>
        </>
      )}
    </tr>
  );
}

/** What stands under {@link HEADS}. */
const figures = (row: BuiltRow, currency: string): (string | number | null | undefined)[] => [
  sizeText(row.usable_bytes ?? 0),
  sizeText(row.plannable_bytes ?? 0),
  row.guaranteed_failures === row.max_failures
    ? row.guaranteed_failures
    : `${row.guaranteed_failures} to ${row.max_failures}`,
  rateNumber(row.read_bytes_per_s ?? 0),
  rateNumber(row.write_bytes_per_s ?? 0),
  row.rebuild_seconds == null ? "–" : hoursText(row.rebuild_seconds),
  row.price_per_plannable_tb == null ? "–" : moneyText(row.price_per_plannable_tb, currency),
];

/** The same drives under every layout. */
export function LayoutsCompared({ poolId }: { poolId: string }) {
  const { studio, planId } = usePlanTools();
  const path = { studio, plan_id: planId };
  return (
    <BuiltTable
      title="These drives under every layout"
      what={["Layout", "Layouts compared"]}
      poolId={poolId}
      ask={(body) =>
        dataOf(
          client.POST("/api/studios/{studio}/plans/{plan_id}/compare", { params: { path }, body }),
        )
      }
    >
      Rates in MB/s on a pool filled to its limit, without its cache. Rebuild writes one drive anew
      at the house rule’s share. Per TB is what the drives cost for each plannable TB.
    </BuiltTable>
  );
}

/** As many drives of every class of the catalogue in the same layout. */
export function DrivesCompared({ poolId }: { poolId: string }) {
  const { studio, planId } = usePlanTools();
  const path = { studio, plan_id: planId };
  return (
    <BuiltTable
      title="Other drives in this layout"
      what={["Class of drive", "Drives compared"]}
      poolId={poolId}
      ask={(body) =>
        dataOf(
          client.POST("/api/studios/{studio}/plans/{plan_id}/swap", { params: { path }, body }),
        )
      }
    >
      As many drives of each class of the catalogue, at the price list’s price. Taking one swaps all
      drives of the pool; undo brings the old ones back.
    </BuiltTable>
  );
}
