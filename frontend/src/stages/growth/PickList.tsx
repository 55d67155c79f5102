import { LINK } from "../../kit/Button";
import { centsText, dateText, moneyText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { usePlanTools, useSnapshot } from "../../plan/context";

/** Everything that has to be there, closed over what no box brings. */
export function PickList() {
  const { document, evaluation } = useSnapshot();
  const { studio, planId } = usePlanTools();
  const { money } = evaluation;
  const budget = Number(document.plan.brief.budget);
  return (
    <>
      <div className="overflow-x-auto">
        <Table aria-label="Pick list" className="mt-2">
          <Heads of={["What", "#Number", "#Each", "#Amount", "Price of"]} />
          <tbody>
            {money.lines.map((line) => (
              <tr key={`${line.of}${line.id}`}>
                <td>
                  {line.name}
                  {line.of === "lacking" && <b className="state-short"> lacking</b>}
                  {line.reused > 0 && (
                    <span className="faint"> {line.reused} from stock, costing nothing</span>
                  )}
                </td>
                <td className="num">{line.count}</td>
                <td className="num">
                  {line.unit_price ? centsText(line.unit_price, money.currency) : ""}
                </td>
                <td className="num">
                  {line.amount ? centsText(line.amount, money.currency) : "no price yet"}
                </td>
                <td className="faint">{line.priced_on ? dateText(line.priced_on) : ""}</td>
              </tr>
            ))}
            <tr>
              <th scope="row" colSpan={3}>
                In all
              </th>
              <td className="num font-semibold">{centsText(money.spent, money.currency)}</td>
              <td className="faint">
                {budget ? `of ${moneyText(budget, money.currency)}` : "no budget yet"}
              </td>
            </tr>
          </tbody>
        </Table>
      </div>
      <p className="mt-2">
        <a className={LINK} href={`/api/studios/${studio}/plans/${planId}/pick-list.csv`}>
          This list as CSV
        </a>
      </p>
      <p className="faint mt-2 text-sm">
        Cables and adapters are counted from the wires, rails, carriers, coolers and power leads
        from the boxes. A purchase says what it serves as; what is not covered is lacking.
      </p>
    </>
  );
}
