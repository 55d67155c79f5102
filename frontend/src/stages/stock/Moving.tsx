import { useState, type SubmitEvent } from "react";

import type { Stock } from "../../api/client";
import { hoursText, sizeText } from "../../kit/format";
import { Input } from "../../kit/Input";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import { Heads, Table } from "../../kit/Table";

const SHOWN = 8;

/** How long it takes to bring everything over, once each, and what holds each copy job back. */
export function Moving({
  move,
  problem,
  onPorts,
}: {
  move: Stock["result"]["move"];
  problem: string;
  onPorts: (ports: string) => void;
}) {
  const [ports, setPorts] = useState<string | null>(null);
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    onPorts((ports ?? move.ports).trim());
  };
  if (!move.job_count) return null;
  return (
    <>
      <h2 className="mt-5">Moving it</h2>
      <p>
        <b className="font-semibold">{hoursText(move.seconds)}</b> for {sizeText(move.bytes)} in{" "}
        {move.job_count} copy jobs, one after the other on each port; the time to change drives
        comes on top.
      </p>
      <form className="mt-1 flex items-center gap-2" onSubmit={submit}>
        <label htmlFor="move-ports">Over the ports</label>
        <Input
          id="move-ports"
          className="grow"
          maxLength={200}
          value={ports ?? move.ports}
          aria-invalid={problem ? true : undefined}
          onChange={(event) => setPorts(event.target.value)}
        />
        <Button type="submit">Reckon</Button>
      </form>
      <Problem of={problem} />
      <Table className="mt-1">
        <Heads of={["Copy job", "#Ends after", "Held back by"]} />
        <tbody>
          {move.jobs.slice(0, SHOWN).map((job) => (
            <tr key={`${job.label} ${job.starts_s} ${job.port}`}>
              <td>
                {job.label} <span className="faint">{sizeText(job.bytes)}</span>
              </td>
              <td className="num">{hoursText(job.ends_s)}</td>
              <td>{job.limiting_hop}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {move.job_count > SHOWN && (
        <p className="faint text-sm">and {move.job_count - SHOWN} more jobs</p>
      )}
    </>
  );
}
