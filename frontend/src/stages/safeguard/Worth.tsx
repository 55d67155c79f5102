import type { Safeguard } from "../../api/client";
import { moneyText, hoursText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { useSnapshot } from "../../plan/context";

/** What is at stake of each material, and what each copy saves beside what it costs. */
export function Worth({ worth }: { worth: Safeguard["worth"] }) {
  const { currency } = useSnapshot().document;
  const sum = (amount: string | number) => moneyText(Math.round(Number(amount)), currency);
  return (
    <>
      <p className="mt-2">
        About {sum(worth.lost_a_year)} a year are lost on average: work since the newest copy, work
        that stands still, and what has to be made again. How often each loss happens is a house
        rule.
      </p>
      <h3 className="mt-4">What is at stake</h3>
      <Table aria-label="What is at stake">
        <Heads
          of={["Material", "#Made again for", "#Work since its copy", "Lost for good", "#A year"]}
        />
        <tbody>
          {worth.materials.map((each) => (
            <tr key={each.id}>
              <td>
                {each.name} <span className="faint">{each.worth}</span>
              </td>
              <td className="num">{each.value ? sum(each.value) : "no sum"}</td>
              <td className="num">{workText(each.work_hours)}</td>
              <td>
                {each.gone_said}
                {each.gone_odds > 0 && <span className="faint">, mostly by {each.worst}</span>}
              </td>
              <td className="num">{sum(each.lost_a_year)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <h3 className="mt-4">What each copy is worth</h3>
      {worth.copies.length === 0 && <p className="faint">No copy is planned yet.</p>}
      {worth.copies.length > 0 && (
        <Table aria-label="What each copy is worth">
          <Heads of={["Copy", "#Costs a year", "#Saves a year", "If it is dropped"]} />
          <tbody>
            {worth.copies.map((each) => (
              <tr key={each.id}>
                <td>{each.name}</td>
                <td className="num">{sum(each.yearly_price)}</td>
                <td className="num">{sum(each.saves_a_year)}</td>
                <td>{each.sentence}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <p className="faint mt-2 text-sm">
        Only single losses are weighed here. What no money makes again has no sum; a copy of it is
        worth what it is worth to you.
      </p>
    </>
  );
}

const workText = (hours: number | null | undefined) => {
  if (hours === null || hours === undefined) return "all of it";
  return hours ? hoursText(hours * 3600).replace("days", "days’ work") : "none";
};
