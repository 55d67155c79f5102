import { useMutation } from "@tanstack/react-query";

import { client, dataOf, type Operation } from "../../api/client";
import { dateText, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";

/** The stock's figures that the plan stands on, and taking them over anew. */
export function StockTaken() {
  const { session, studio, mayWrite } = usePlanTools();
  const { evaluation } = useSnapshot();
  const { stock } = evaluation;
  const take = useMutation({
    mutationFn: () =>
      dataOf(client.GET("/api/studios/{studio}/stock/facts", { params: { path: { studio } } })),
    onSuccess: (facts) => {
      const set = (path: string, value: unknown): Operation => ({ op: "set", path, value });
      session.change(
        set("plan/brief/kept_today_bytes", facts.unique_bytes),
        ...Object.entries(facts).map(([name, value]) => set(`facts/stock/${name}`, value)),
      );
    },
  });
  return (
    <div className="mt-1 text-sm">
      {stock.taken_on && (
        <p className="faint">
          Stock of {dateText(stock.taken_on)}: {stock.device_count} devices,{" "}
          {sizeText(stock.used_bytes)} on them, {sizeText(stock.unique_bytes)} of it unique,{" "}
          {sizeText(stock.sole_bytes)} only once.
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
