import type { GrowthAsked } from "../../api/client";
import { Behind } from "../../kit/Fold";
import { centsText, dateText, moneyText, wholeText, rateText, sizeText } from "../../kit/format";
import { Waiting } from "../../kit/Notice";
import { Problem } from "../../kit/Problem";
import { Heads, Table } from "../../kit/Table";
import { useSnapshot } from "../../plan/context";
import { useFlashOrDisks } from "./useGrowth";

/** Every class of drive by what a TB of it costs with its bay; new, used and taken apart on one line. */
export function Prices({ rows }: { rows: GrowthAsked["drive_prices"] }) {
  const { currency } = useSnapshot().document;
  const money = (amount: string | null | undefined) =>
    amount ? centsText(amount, currency ?? "EUR") : "";
  return (
    <>
      <div className="overflow-x-auto">
        <Table aria-label="What a TB costs" className="mt-2">
          <Heads
            of={[
              "Class",
              "#Price",
              "#A TB",
              "#With its bay",
              "#Five years",
              "Condition",
              "Price of",
            ]}
          />
          <tbody>
            {rows.map((row) => (
              <tr key={row.drive_id}>
                <td>
                  {row.name}
                  {row.is_used_here && <span className="faint"> in this plan</span>}
                </td>
                <td className="num">{money(row.price) || "no price"}</td>
                <td className="num">{money(row.per_tb)}</td>
                <td className="num font-semibold">{money(row.per_tb_with_bay)}</td>
                <td className="num">{money(row.five_years_per_tb)}</td>
                <td>
                  {row.condition}
                  <span className="faint text-sm">{conditionText(row)}</span>
                </td>
                <td className="faint text-sm whitespace-nowrap">
                  {row.priced_on ? dateText(row.priced_on) : ""}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      </div>
      {rows.length === 0 && <p>The catalogue has no class of drive yet.</p>}
      <p className="faint mt-2 text-sm">
        Per TB on the carton. Five years add the drives that die by their rate and outside of the
        warranty; used drives die about twice as often.
      </p>
      <Behind lazy title="Flash against disks behind a cache" className="mt-3">
        <FlashOrDisks />
      </Behind>
    </>
  );
}

type Row = GrowthAsked["drive_prices"][number];

const conditionText = (row: Row) => {
  const said = [
    row.warranty_years ? `warranty ${row.warranty_years} years` : "",
    row.hours_run ? `${wholeText(row.hours_run)} h run` : "",
    row.surface_test_hours ? `surface test ${Math.round(row.surface_test_hours)} h` : "",
  ].filter(Boolean);
  return said.length ? `, ${said.join(", ")}` : "";
};

/** The cheapest of both for the same bytes at the same speed. */
function FlashOrDisks() {
  const answer = useFlashOrDisks();
  const { currency } = useSnapshot().document;
  if (!answer.data) {
    return answer.error ? <Problem of={answer.error} /> : <Waiting>Reckoning …</Waiting>;
  }
  const { flash, disks, sentence, hold_bytes, read_bytes_per_s } = answer.data;
  const rows = [
    ["Flash", flash],
    ["Disks behind flash", disks],
  ] as const;
  return (
    <>
      <p className="mt-1">
        {sentence} Both hold {sizeText(hold_bytes)} and deliver {rateText(read_bytes_per_s)} or
        more.
      </p>
      <Table>
        <Heads of={["Way", "Drives", "#Plannable", "#Delivers", "#With bays", "#A TB"]} />
        <tbody>
          {rows.map(([name, built]) => (
            <tr key={name}>
              <td>{name}</td>
              {built ? (
                <>
                  <td>{built.words}</td>
                  <td className="num">{sizeText(built.plannable_bytes)}</td>
                  <td className="num">{rateText(built.read_bytes_per_s)}</td>
                  <td className="num">{moneyText(built.price, currency ?? "EUR")}</td>
                  <td className="num">{moneyText(built.per_tb, currency ?? "EUR")}</td>
                </>
              ) : (
                <td colSpan={5} className="faint">
                  the priced classes make none
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </Table>
    </>
  );
}
