import { centsText, moneyText } from "../../kit/format";
import { Table } from "../../kit/Table";
import { Figure } from "../../plan/Figure";
import { useSnapshot } from "../../plan/context";

/** Five years, line by line, and what each TB costs. */
export function Costs() {
  const { costs, money } = useSnapshot().evaluation;
  const sum = (amount: string) => moneyText(Math.round(Number(amount)), costs.currency);
  const each: [string, string | null][] = [
    ["raw", money.per_raw_tb ?? null],
    ["usable", money.per_usable_tb ?? null],
    ["protected", money.per_protected_tb ?? null],
    ["plannable", money.per_plannable_tb ?? null],
  ];
  return (
    <>
      <h3 className="mt-4">Five years</h3>
      <Table aria-label="Five years">
        <tbody>
          {costs.lines.map((line) => (
            <tr key={line.id}>
              <td>{line.name}</td>
              <td className="num">
                {line.id === "bought" ? (
                  <Figure id="scales.money">{sum(line.amount)}</Figure>
                ) : (
                  sum(line.amount)
                )}
              </td>
            </tr>
          ))}
          <tr>
            <th scope="row">In all</th>
            <td className="num font-semibold">
              <Figure id="costs.five-years">{sum(costs.five_years)}</Figure>
            </td>
          </tr>
          {each.map(([name, amount]) => (
            <tr key={name}>
              <td>Bought, per {name} TB</td>
              <td className="num">
                {amount ? (
                  centsText(amount, costs.currency)
                ) : (
                  <span className="faint">none yet</span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="mt-1 text-sm">{costs.sentence}</p>
      {costs.unpriced_steps > 0 && (
        <p className="faint text-sm">
          {costs.unpriced_steps} of what is bought later has no price yet.
        </p>
      )}
    </>
  );
}
