import { useId, useState } from "react";

import { Button } from "../../kit/Button";
import { clockText, secondsOf } from "../../kit/format";
import { Input, Select } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { useSnapshot } from "../../plan/context";
import { breakable, type Broken } from "./breaks";

const ELEVEN = 39_600;
const MOST = 8;
export const NOTHING_YET: readonly Broken[] = [{ what: "", at: ELEVEN }];

/** Disks, cables, switches, boxes and supplies that break at a time of day. */
export function BreakSomething({
  broken,
  onBreak,
}: {
  broken: readonly Broken[];
  onBreak: (broken: readonly Broken[]) => void;
}) {
  const put = (at: number, next: Broken | null) =>
    onBreak(broken.flatMap((each, n) => (n === at ? (next ?? []) : each)));
  return (
    <>
      <h3 className="mt-5">Break something</h3>
      {broken.map((each, n) => (
        <OneBroken
          key={n}
          number={n + 1}
          broken={each}
          onChange={(next) => put(n, next)}
          {...(broken.length > 1 && { onRemove: () => put(n, null) })}
        />
      ))}
      {broken.length < MOST && broken.every((each) => each.what) && (
        <Button look="text" onClick={() => onBreak([...broken, { what: "", at: ELEVEN }])}>
          And something else
        </Button>
      )}
    </>
  );
}

function OneBroken({
  number,
  broken,
  onChange,
  onRemove,
}: {
  number: number;
  broken: Broken;
  onChange: (broken: Broken) => void;
  onRemove?: () => void;
}) {
  const id = useId();
  const [typed, setTyped] = useState(clockText(broken.at));
  const seconds = secondsOf(typed);
  const which = number > 1 ? ` ${number}` : "";
  return (
    <>
      <div className="flex items-center gap-2 border-b border-base-300 py-[0.22rem]">
        <What
          label={`What breaks${which}`}
          what={broken.what}
          onChange={(what) => onChange({ ...broken, what })}
        />
        <label htmlFor={id}>at</label>
        <Input
          id={id}
          aria-label={`When${which}`}
          className="w-[4.6rem] text-right"
          value={typed}
          aria-invalid={seconds === null || undefined}
          onChange={(event) => {
            setTyped(event.target.value);
            const at = secondsOf(event.target.value);
            if (at !== null) onChange({ ...broken, at });
          }}
        />
        {onRemove && (
          <Button look="text" onClick={onRemove}>
            <span aria-hidden="true">✕</span>
            <span className="sr-only">It does not break</span>
          </Button>
        )}
      </div>
      <Problem
        of={seconds === null ? `“${typed}” is no time of day: say one such as 11:30.` : ""}
      />
    </>
  );
}

function What({
  label,
  what,
  onChange,
}: {
  label: string;
  what: string;
  onChange: (what: string) => void;
}) {
  const { document, evaluation } = useSnapshot();
  const named = (link: string) =>
    evaluation.wiring.hops.find((hop) => hop.id === link)?.name ?? link;
  return (
    <Select
      aria-label={label}
      className="min-w-0 flex-1"
      value={what}
      onChange={(event) => onChange(event.target.value)}
    >
      <option value="">nothing breaks</option>
      {breakable(document, named).map(({ group, options }) => (
        <optgroup key={group} label={group}>
          {options.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </optgroup>
      ))}
    </Select>
  );
}
