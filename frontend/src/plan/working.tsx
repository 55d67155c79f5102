import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";

import { client, dataOf, type Explanation } from "../api/client";
import { valueText } from "../kit/format";
import { usePlanTools, useSnapshot } from "./context";
import { Heads, Table } from "../kit/Table";

const CALM_MS = 500;

/** A value once it has not changed for a while. */
function useCalm<T>(value: T): T {
  const [calm, setCalm] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setCalm(value), CALM_MS);
    return () => clearTimeout(timer);
  }, [value]);
  return calm;
}

/**
 * A figure's working, asked for anew whenever the plan has been judged anew. What moves the figure most takes
 * the server some hundred judgements, so that is asked apart, and only once the plan is calm.
 */
export function useWorking(figureId: string, withMovers = true) {
  const { session, studio, planId } = usePlanTools();
  const { shown } = useSnapshot();
  const now = shown.join(".");
  const calm = useCalm(now);
  return useQuery({
    queryKey: ["explain", planId, figureId, withMovers, withMovers ? calm : now],
    queryFn: () =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/explain", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, figure_id: figureId, with_movers: withMovers },
        }),
      ),
    placeholderData: (before) => (before?.figure_id === figureId ? before : undefined),
    staleTime: Infinity,
  });
}

/** What the figure becomes when one input is a tenth lower and higher. */
export function MoversTable({ working }: { working: Explanation }) {
  const { document } = useSnapshot();
  const show = (value: number) => valueText(value, working.unit, document.currency);
  return (
    <Table>
      <Heads of={["A tenth (or one)", "#less", "#more"]} />
      <tbody>
        {working.movers.map((mover) => (
          <tr key={mover.path}>
            <td>{mover.label}</td>
            <td className="num">{mover.lower === null ? "–" : show(mover.lower)}</td>
            <td className="num">{mover.higher === null ? "–" : show(mover.higher)}</td>
          </tr>
        ))}
      </tbody>
    </Table>
  );
}
