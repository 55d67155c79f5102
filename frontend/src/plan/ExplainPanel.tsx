import { useQuery } from "@tanstack/react-query";

import { client, dataOf } from "../api/client";
import { valueText } from "../kit/format";
import { SidePanel } from "../kit/SidePanel";
import { usePlanTools, useSnapshot } from "./context";

/** A figure's working: formula in words, inputs with units, source, and what would move it most. */
export function ExplainPanel({ figureId, onClose }: { figureId: string; onClose: () => void }) {
  const { session, studio, planId } = usePlanTools();
  const { document, evaluation } = useSnapshot();
  const answer = useQuery({
    queryKey: ["explain", planId, figureId, evaluation],
    queryFn: () =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/explain", {
          params: { path: { studio, plan_id: planId } },
          body: { base: session.head, patch: session.pending, figure_id: figureId, seq: 0 },
        }),
      ),
    placeholderData: (before) => (before?.figure_id === figureId ? before : undefined),
    staleTime: Infinity,
  });
  const working = answer.data;
  const show = (value: number | string, unit: string) => valueText(value, unit, document.currency);
  return (
    <SidePanel title={working ? working.title : "Working"} onClose={onClose}>
      {answer.isPending && <p className="faint">Working it out …</p>}
      {answer.isError && <p className="problem">{answer.error.message}</p>}
      {working && (
        <>
          {working.value !== null && working.value !== undefined && (
            <p className="text-2xl font-semibold">{show(working.value, working.unit)}</p>
          )}
          <h3 className="mt-4">How it comes about</h3>
          <p>{working.formula}</p>
          <h3 className="mt-4">From</h3>
          <table className="ledger">
            <tbody>
              {working.inputs.map((input, index) => (
                <tr key={index}>
                  <td>{input.label}</td>
                  <td className="num font-semibold">{show(input.value, input.unit)}</td>
                </tr>
              ))}
            </tbody>
          </table>
          {working.movers.length > 0 && (
            <>
              <h3 className="mt-4">What would change it most</h3>
              <table className="ledger">
                <thead>
                  <tr>
                    <th scope="col">A tenth (or one)</th>
                    <th scope="col" className="num">
                      less
                    </th>
                    <th scope="col" className="num">
                      more
                    </th>
                  </tr>
                </thead>
                <tbody>
                  {working.movers.map((mover) => (
                    <tr key={mover.path}>
                      <td>{mover.label}</td>
                      <td className="num">
                        {mover.lower === null ? "–" : show(mover.lower, working.unit)}
                      </td>
                      <td className="num">
                        {mover.higher === null ? "–" : show(mover.higher, working.unit)}
                      </td>
                    </tr>
                  ))}
                </tbody>
              </table>
            </>
          )}
          <h3 className="mt-4">Source</h3>
          <p className="faint">{working.source}</p>
        </>
      )}
    </SidePanel>
  );
}
