import { useId, useState } from "react";

import { Input, Select } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { Row } from "../../kit/Row";
import { useSnapshot } from "../../plan/context";
import { clockText, secondsOf } from "./lanes";
import type { Breaks } from "./useDay";

/** A disk of a pool dies at a time of day; then its pool is slower, or gone. */
export function BreakSomething({
  breaks,
  onBreak,
}: {
  breaks: Breaks;
  onBreak: (breaks: Breaks) => void;
}) {
  const id = useId();
  const pools = useSnapshot().document.plan.pools ?? [];
  const [typed, setTyped] = useState(clockText(breaks.fail_at_s));
  const seconds = secondsOf(typed);
  return (
    <>
      <h3 className="mt-5">Break something</h3>
      <Row of={`${id}-pool`} label="A disk dies in">
        <Select
          id={`${id}-pool`}
          className="max-w-56"
          value={breaks.fail_pool}
          onChange={(event) => onBreak({ ...breaks, fail_pool: event.target.value })}
        >
          <option value="">nothing breaks</option>
          {pools.map((pool) => (
            <option key={pool.id} value={pool.id}>
              {pool.name}
            </option>
          ))}
        </Select>
      </Row>
      <Row
        of={`${id}-at`}
        label="At"
        below={
          <Problem
            of={seconds === null ? `“${typed}” is no time of day: say one such as 11:30.` : ""}
          />
        }
      >
        <Input
          id={`${id}-at`}
          className="w-[5.2rem] text-right"
          value={typed}
          aria-invalid={seconds === null || undefined}
          onChange={(event) => {
            setTyped(event.target.value);
            const at = secondsOf(event.target.value);
            if (at !== null) onBreak({ ...breaks, fail_at_s: at });
          }}
        />
      </Row>
    </>
  );
}
