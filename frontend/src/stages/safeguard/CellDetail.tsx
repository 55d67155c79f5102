import type { MaterialKept } from "../../api/client";
import { moneyText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { Heads, Table } from "../../kit/Table";
import type { Spot } from "./LossGrid";
import { waitText } from "./words";

/** The copies of one material, and what becomes of each in the gravest loss of a kind. */
export function CellDetail({ material, loss }: { material: MaterialKept; loss: Spot["loss"] }) {
  const { currency } = useSnapshot().document;
  const cell = material.cells.find((each) => each.loss === loss);
  if (!cell) return null;
  const becomes = (n: number) => {
    if (material.holdings[n]?.missing) return material.holdings[n].missing;
    if (cell.gone.includes(n)) return "gone";
    return cell.set_back.includes(n) ? "set back to an earlier state" : "left";
  };
  return (
    <section aria-live="polite" className="mt-3">
      <h3>
        {material.name} after {loss}
      </h3>
      <p>
        {cell.survivors === 0
          ? "Nothing is left."
          : `The newest copy that is left is ${ageText(cell.recovery_point_hours)}; people wait ${waitText(cell.recovery_hours)}.`}
        {cell.survivors > 0 && cell.is_late && " That is longer than is tolerated."}
        {cell.survivors > 0 && cell.is_old && " More work is lost than is tolerated."}
      </p>
      <Table aria-label={`Copies of ${material.name}`}>
        <Heads of={["Lies on", "Then", "#Old at most", "#Back in", "#For"]} />
        <tbody>
          {material.holdings.map((holding, n) => (
            <tr key={holding.copy_id || "in-use"}>
              <td>
                {holding.where}
                {!holding.copy_id && <span className="faint"> in use</span>}
              </td>
              <td>{becomes(n)}</td>
              <td className="num">{waitText(holding.age_hours)}</td>
              <td className="num">{waitText(holding.restore_hours)}</td>
              <td className="num">
                {holding.retrieval_price ? moneyText(holding.retrieval_price, currency) : ""}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}

const ageText = (hours: number | null | undefined) => {
  const said = waitText(hours);
  return said === "–" ? "as new as it was" : `${said} old`;
};
