import type { LongJob } from "../api/client";
import { counted } from "../kit/format";
import { Progress } from "../kit/Progress";
import { isOpen } from "./useLongJob";

/** How far long work is, or why it came to nothing; nothing where it is done. */
export function JobStanding({ job, part, label }: { job: LongJob; part: string; label: string }) {
  const far = `${job.done.toLocaleString("en-GB")} of ${counted(job.wanted, part)}`;
  if (isOpen(job))
    return (
      <div role="status">
        <Progress label={label} done={job.done} of={job.wanted} />
        <span className="faint text-sm">{far}</span>
      </div>
    );
  if (job.status === "failed") return <p>{job.fault}</p>;
  return job.status === "cancelled" ? <p>Cancelled after {far}.</p> : null;
}
