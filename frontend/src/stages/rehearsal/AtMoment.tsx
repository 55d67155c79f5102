import type { DrawnDay } from "../../api/client";
import { rateText, sizeText } from "../../kit/format";
import { Table } from "../../kit/Table";
import { clockText } from "../../kit/format";
import { momentAt } from "./lanes";
import { hopsOf } from "./rows";

/** What stands at the moment that is pointed at: hops, caches, and who gets less than is needed. */
export function AtMoment({ day, at, quiet }: { day: DrawnDay; at: number; quiet: boolean }) {
  const n = momentAt(day.moments_s, at);
  const short = day.seats.flatMap((lane, which) => {
    const seat = day.day.seats[which];
    const asked = lane.asked_bytes_per_s[n] ?? 0;
    const got = lane.got_bytes_per_s[n] ?? 0;
    return seat && got < asked * 0.999 ? [{ seat, asked, got }] : [];
  });
  return (
    <div role="status" aria-live={quiet ? "off" : "polite"} aria-label="At this moment">
      <h3 className="mt-2">At {clockText(at)}</h3>
      <Table className="max-w-md">
        <tbody>
          {hopsOf(day).map((hop) => (
            <tr key={hop.id}>
              <td>{hop.name}</td>
              <td className="num">{Math.round((hop.used[n] ?? 0) * 100)} % used</td>
            </tr>
          ))}
          {day.caches.map((cache) => (
            <tr key={cache.id}>
              <td>{cache.name}</td>
              <td className="num">{sizeText(cache.dirty_bytes[n] ?? 0)} dirty</td>
            </tr>
          ))}
          {short.map(({ seat, asked, got }) => (
            <tr key={`${seat.id} ${seat.number}`} className="font-semibold">
              <td>
                {seat.name} {seat.number} gets
              </td>
              <td className="num">
                {rateText(got)} of {rateText(asked)}
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
      {short.length === 0 && <p className="faint text-sm">Everybody gets what is asked.</p>}
    </div>
  );
}
