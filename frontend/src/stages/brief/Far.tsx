import type { Evaluation } from "../../api/client";
import { hoursText, rateText, sizeText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";

type Brief = Evaluation["brief"];

/** How long cards take to come in, and how those far away fare on their lines. */
export function ComingIn({
  ingest,
  cards,
}: {
  ingest: Brief["ingest"];
  cards: Evaluation["cards"];
}) {
  if (!ingest.bytes_per_day) return null;
  return (
    <>
      <h3 className="mt-5">Coming in</h3>
      <p>
        The busiest shooting day brings {sizeText(ingest.bytes_per_day)},{" "}
        {ingest.seconds_per_day === null
          ? "and there is no ingest station."
          : `${hoursText(ingest.seconds_per_day)} of copying at ${rateText(ingest.stations_bytes_per_s)} from the cards.`}
      </p>
      {cards && <SafeToWipe cards={cards} />}
    </>
  );
}

/** When the last card has been read back from every target. */
function SafeToWipe({ cards }: { cards: NonNullable<Evaluation["cards"]> }) {
  return (
    <p>
      {cards.safe_seconds === null
        ? "The cards never get through"
        : cards.is_read_back
          ? `Safe to wipe after ${hoursText(cards.safe_seconds)}, when every copy has been read back`
          : `Copied after ${hoursText(cards.safe_seconds)} and not read back: a card is not safe to wipe then`}
      . {sizeText(cards.moved_bytes_per_day)} are moved, and {cards.limiting_name}{" "}
      {cards.limiting_hop_id ? "holds them back" : "decide"}.
    </p>
  );
}

export function Far({ brief }: { brief: Brief }) {
  const { remote } = brief;
  if (!remote.length) return null;
  return (
    <>
      <h3 className="mt-5">Far away</h3>
      <Table>
        <Heads of={["Seat", "#Line", "#Needed", "Can start after"]} />
        <tbody>
          {remote.map((seat) => (
            <tr key={seat.id}>
              <td>
                {seat.name} <span className="faint">{seat.way}</span>
              </td>
              <td className="num">{rateText(seat.line_bytes_per_s)}</td>
              <td className="num">{rateText(seat.needed_bytes_per_s)}</td>
              <td>
                {seat.wait_s === null
                  ? "never: no line"
                  : seat.way === "proxies"
                    ? `${hoursText(seat.wait_s)} for a day’s ${sizeText(seat.day_bytes)}`
                    : `at once, ${Math.round(seat.round_trip_ms)} ms away`}
                <span className="faint block text-sm">{seat.limited_by} decides</span>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="faint mt-1">
        Beside them the house’s line sends {sizeText(brief.line_left_bytes_per_day)} a day
        {brief.growth_bytes_per_week > 0 &&
          `, for a copy elsewhere of the ${sizeText(brief.growth_bytes_per_week)} that a week adds`}
        .
      </p>
    </>
  );
}
