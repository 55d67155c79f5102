import { useMutation } from "@tanstack/react-query";

import { client, dataOf, type Evaluation, type Operation } from "../../api/client";
import { dateText, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";

const FACTS = "facts/stock";
const LOTS = `${FACTS}/reusable`;

/** What of the stock may go into a new pool, in a sentence. */
function servesAgain(lots: Evaluation["stock"]["reusable"]): string {
  if (lots.length === 0) return "No drive of it may serve in a new pool.";
  const said = lots.map(
    (lot) =>
      `${lot.count} × ${sizeText(lot.size_bytes)} ${lot.kind === "hdd" ? "disks" : "flash"} (${lot.interface})`,
  );
  return `Of its drives ${said.join(", ")} may serve again.`;
}

/** The stock's figures that the plan stands on, and taking them over anew. */
export function StockTaken() {
  const { session, studio, mayWrite } = usePlanTools();
  const { evaluation } = useSnapshot();
  const { stock } = evaluation;
  const take = useMutation({
    mutationFn: () =>
      dataOf(client.GET("/api/studios/{studio}/stock/facts", { params: { path: { studio } } })),
    onSuccess: ({ reusable, ...facts }) => {
      const set = (path: string, value: unknown): Operation => ({ op: "set", path, value });
      session.change(
        set("plan/brief/kept_today_bytes", facts.unique_bytes),
        ...Object.entries(facts).map(([name, value]) => set(`${FACTS}/${name}`, value)),
        ...stock.reusable.map(({ id }): Operation => ({ op: "remove", path: `${LOTS}/${id}` })),
        ...reusable.map((value): Operation => ({ op: "add", path: LOTS, value })),
      );
    },
  });
  return (
    <div className="mt-1 text-sm">
      {stock.taken_on && (
        <p className="faint">
          Stock of {dateText(stock.taken_on)}: {stock.device_count} devices,{" "}
          {sizeText(stock.used_bytes)} on them, {sizeText(stock.unique_bytes)} of it unique,{" "}
          {sizeText(stock.sole_bytes)} only once. {servesAgain(stock.reusable)}
        </p>
      )}
      {mayWrite && (
        <Button disabled={take.isPending} onClick={() => take.mutate()}>
          Take the stock’s figures
        </Button>
      )}
      <Problem of={take.error} />
    </div>
  );
}
