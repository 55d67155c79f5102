import type { DrawnDay } from "../../api/client";
import { LINK } from "../../kit/Button";
import { Behind } from "../../kit/Fold";
import { clockText, sizeText } from "../../kit/format";
import { Heads, Table } from "../../kit/Table";
import { usePlanTools } from "../../plan/context";
import type { Fails } from "./useDay";

const minutes = (seconds: number) => (seconds ? `${Math.round(seconds / 60)} min` : "–");

/** The day in figures: every job with its deadline, every seat with when it stood. */
export function DayTables({ day: { day }, fails }: { day: DrawnDay; fails: Fails }) {
  const { studio, planId } = usePlanTools();
  const asked = fails.length
    ? `?${new URLSearchParams(fails.map((fail) => ["fail", fail])).toString()}`
    : "";
  return (
    <Behind title="The day as a table" className="mt-5">
      {day.jobs.length > 0 && (
        <Table className="mb-4" aria-label="Jobs">
          <Heads of={["Job", "#Bytes", "#From", "#By", "#Done", "#Late"]} />
          <tbody>
            {day.jobs.map((job, n) => (
              <tr key={`${job.id} ${n}`}>
                <td>{job.name}</td>
                <td className="num">{sizeText(job.bytes)}</td>
                <td className="num">{clockText(job.starts_s)}</td>
                <td className="num">{clockText(job.deadline_s)}</td>
                <td className="num">{job.done_s === null ? "not" : clockText(job.done_s)}</td>
                <td className="num">{minutes(job.late_s)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      <Table aria-label="Seats">
        <Heads of={["Seat", "#At peak", "#Unwatchable", "#Missed", "#First frame", "Because of"]} />
        <tbody>
          {day.seats.map((seat) => (
            <tr key={`${seat.id} ${seat.number}`}>
              <td>
                {seat.name} {seat.number}
              </td>
              <td className="num">{minutes(seat.at_peak_s)}</td>
              <td className="num">{minutes(seat.unwatchable_s)}</td>
              <td className="num">{minutes(seat.frozen_s)}</td>
              <td className="num">
                {seat.first_frame_s === null || seat.first_frame_s === undefined
                  ? "–"
                  : `${seat.first_frame_s.toFixed(2)} s`}
              </td>
              <td>{seat.blamed_name}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <p className="mt-2">
        <a className={LINK} href={`/api/studios/${studio}/plans/${planId}/rehearsal.csv${asked}`}>
          The saved plan’s day as CSV, a row a moment
        </a>
      </p>
    </Behind>
  );
}
