import type { Evaluation, ShareOut } from "../../api/client";
import { Button } from "../../kit/Button";
import { rateText, ratioText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";

/** Who gets what in the state that is chosen, and which hop stops them; a seat is chosen by its name. */
export function Shares({
  shares,
  wiring,
  hasStorage,
  chosen,
  choose,
}: {
  shares: ShareOut;
  wiring: Evaluation["wiring"];
  hasStorage: boolean;
  chosen: string;
  choose: (seatId: string) => void;
}) {
  const judged = new Map(wiring.seats.map((seat) => [seat.id, seat]));
  if (!shares.seats.length)
    return (
      <p className="faint mt-2">
        {hasStorage
          ? "Nobody asks for anything then."
          : "No storage yet that anybody could get it from."}
      </p>
    );
  return (
    <Table className="mt-3" aria-label="What every seat gets">
      <Heads
        of={["Seat", "#At once", "#Needs", "#Gets", "Held back by", "#To spare", "#In hand"]}
      />
      <tbody>
        {shares.seats.map((seat) => {
          const ratio = judged.get(seat.id)?.ratio;
          return (
            <tr key={seat.id}>
              <td>
                <Button
                  look="text"
                  className={seat.id === chosen ? "font-semibold" : ""}
                  aria-pressed={seat.id === chosen}
                  onClick={() => choose(seat.id)}
                >
                  {seat.name}
                </Button>
              </td>
              <td className="num">{seat.at_once.toFixed(1)}</td>
              <td className="num">{rateText(seat.needed_bytes_per_s)}</td>
              <td className="num font-semibold">{rateText(seat.delivered_bytes_per_s)}</td>
              <td className="faint">{seat.limiting_name || "nothing"}</td>
              <td className="num">{rateText(seat.headroom_bytes_per_s)}</td>
              <td className="num">
                {ratio === null || ratio === undefined ? "–" : ratioText(ratio)}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}
