import { moneyText } from "../kit/format";
import { ScaleStrip } from "../studio/ScaleStrip";
import { usePlanTools, useSnapshot } from "./context";

/** The strip that never leaves the screen: four verdicts, each opening its working. */
export function ScalesStrip() {
  const { evaluation, document } = useSnapshot();
  const { explain } = usePlanTools();
  const { money } = evaluation;
  const perTb = evaluation.scales.money.verdict === "open" ? null : money.per_plannable_tb;
  return (
    <ScaleStrip
      scales={evaluation.scales}
      currency={document.currency}
      {...(perTb && {
        because: { money: `${moneyText(perTb, document.currency)} per plannable TB` },
      })}
      onOpen={(name) => explain(`scales.${name}`)}
    />
  );
}
