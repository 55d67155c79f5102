import { useState } from "react";

import type { LongJob } from "../../api/client";
import { Button } from "../../kit/Button";
import { agoText, clockText, counted } from "../../kit/format";
import { Select } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { Heads, Table } from "../../kit/Table";
import { usePlanTools } from "../../plan/context";
import { JobStanding } from "../../plan/JobStanding";
import { isOpen } from "../../plan/useLongJob";
import type { Fails } from "./useDay";
import { useManyDays } from "./useManyDays";

const OFFERED = [200, 500, 2_000] as const;
type Days = NonNullable<LongJob["days"]>;
type Quantile = Days["unwatchable_p50_s"];

/** Many drawn days: how bad one is as a rule, and how bad the worst of twenty. */
export function ManyDays({ fails }: { fails: Fails }) {
  const { mayWrite } = usePlanTools();
  const { job, begin, step } = useManyDays();
  const [days, setDays] = useState<number>(OFFERED[0]);
  const open = job !== null && isOpen(job);
  return (
    <>
      <h3 className="mt-5">Many days</h3>
      {job && <JobStanding job={job} part="day" label="Days drawn" />}
      {job?.days && <Result job={job} days={job.days} />}
      <Problem of={begin.error ?? step.error} />
      {mayWrite && (
        <p className="mt-1 flex flex-wrap items-center gap-2">
          {open ? (
            <Button onClick={() => step.mutate({ id: job.id, to: "cancel" })}>Cancel</Button>
          ) : (
            <>
              <Select
                aria-label="How many days"
                value={days}
                onChange={(event) => setDays(Number(event.target.value))}
              >
                {OFFERED.map((many) => (
                  <option key={many} value={many}>
                    {counted(many, "day")}
                  </option>
                ))}
              </Select>
              <Button disabled={begin.isPending} onClick={() => begin.mutate({ days, fails })}>
                Draw them
              </Button>
              {job && (job.status === "cancelled" || job.status === "failed") && (
                <Button look="text" onClick={() => step.mutate({ id: job.id, to: "retry" })}>
                  Go on with the last
                </Button>
              )}
            </>
          )}
        </p>
      )}
    </>
  );
}

function Result({ job, days }: { job: LongJob; days: Days }) {
  const stand = days.seats.filter((seat) => seat.p95.high > 0);
  const [now] = useState(() => Date.now());
  const besides = job.about ? `, with ${job.about}` : "";
  return (
    <>
      <p className="faint text-sm">
        {counted(days.days, "drawn day")} of the plan as it was asked {agoText(job.asked_at, now)}
        {besides}. Half of them are at most the first figure, nineteen of twenty the second; between
        brackets is where that lies nineteen times in twenty.
      </p>
      {stand.length === 0 ? (
        <p>Nobody sees a frame drop on nineteen days of twenty.</p>
      ) : (
        <Table aria-label="Unwatchable on many days">
          <Heads of={["Unwatchable a day", "#P50", "#P95"]} />
          <tbody>
            {stand.map((seat) => (
              <tr key={seat.id}>
                <td>{seat.name}</td>
                <td className="num">{minutes(seat.p50)}</td>
                <td className="num">{minutes(seat.p95)}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
      {days.jobs.length > 0 && (
        <Table aria-label="Jobs on many days">
          <Heads of={["Done at", "#P50", "#P95", "#Late"]} />
          <tbody>
            {days.jobs.map((each, n) => (
              <tr key={`${each.id} ${n}`}>
                <td>{each.name}</td>
                <td className="num">{clockText(each.p50.value)}</td>
                <td className="num">{clockText(each.p95.value)}</td>
                <td className="num">{each.late_days ? counted(each.late_days, "day") : "–"}</td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </>
  );
}

const inMinutes = (seconds: number) => Math.round(seconds / 60);

function minutes({ value, low, high }: Quantile): string {
  const range = inMinutes(low) === inMinutes(high) ? "" : ` (${inMinutes(low)}–${inMinutes(high)})`;
  return `${inMinutes(value)} min${range}`;
}
