import type { Evaluation } from "../../api/client";
import { Behind } from "../../kit/Fold";
import { dateText, moneyText, sizeText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { useSnapshot } from "../../plan/context";

type Tier = Evaluation["growth"]["tiers"][number];
type Point = Evaluation["bands"][string][number];

/** Every row of the drawing's band that is about half a year from the one before. */
const EVERY = 6;

/** The drawing as figures. */
export function YearTable({ tier, points }: { tier: Tier; points: readonly Point[] }) {
  const { costs } = useSnapshot().evaluation;
  const spent = (on: string) =>
    costs.months.findLast((month) => month.on <= on)?.plan ?? costs.months[0]?.plan ?? "0";
  return (
    <Behind lazy title="The same as a table" className="mt-1">
      <Table aria-label={`${tier.name} over the years`}>
        <Heads
          of={["Day", "#Early edge", "#Middle", "#Late edge", "#Plannable", "#Spent in all"]}
        />
        <tbody>
          {points
            .filter((_, n) => n % EVERY === 0)
            .map((point) => (
              <tr key={point.on}>
                <td>{dateText(point.on)}</td>
                <td className="num">{sizeText(point.high_bytes)}</td>
                <td className="num">{sizeText(point.middle_bytes)}</td>
                <td className="num">{sizeText(point.low_bytes)}</td>
                <td className="num">{sizeText(point.plannable_bytes)}</td>
                <td className="num">
                  {moneyText(Math.round(Number(spent(point.on))), costs.currency)}
                </td>
              </tr>
            ))}
        </tbody>
      </Table>
    </Behind>
  );
}
