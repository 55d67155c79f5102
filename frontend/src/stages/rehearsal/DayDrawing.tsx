import type { KeyboardEvent, PointerEvent, ReactNode } from "react";

import type { DrawnDay } from "../../api/client";
import { LEFT, RIGHT, WIDTH, rowsOf } from "./rows";
import { clockText, hourMarks, momentAt, spanOf } from "./lanes";
import { Row } from "./Rows";
import type { Breaks } from "./useDay";

const TOP = 24;
const HOUR = 3_600;

/** The day on one time axis. The line is moved by pointer or arrow keys, from moment to moment. */
export function DayDrawing({ day, at, setAt, breaks }: Props) {
  const [from, to] = spanOf(day.day.begins_s, endsOf(day));
  const x = (time: number) =>
    LEFT + ((Math.min(Math.max(time, from), to) - from) / (to - from)) * (RIGHT - LEFT);
  const rows = rowsOf(day, TOP);
  const bottom = (rows.at(-1)?.bottom ?? TOP) + 6;
  return (
    <Movable at={at} setAt={setAt} from={from} to={to} moments={day.moments_s}>
      <svg className="drawing" viewBox={`0 0 ${WIDTH} ${bottom + 20}`} aria-hidden="true">
        {hourMarks(from, to).map((mark) => (
          <g key={mark}>
            <path d={`M${x(mark)} ${TOP - 6} V${bottom}`} className="stroke-base-300" />
            <text x={x(mark)} y={TOP - 11} textAnchor="middle" className="quiet">
              {clockText(mark)}
            </text>
          </g>
        ))}
        {rows.map((row) => (
          <Row key={row.key} row={row} day={day} x={x} right={x(to)} />
        ))}
        {breaks.fail_pool && <Broken x={x(fromMorning(breaks.fail_at_s, from))} top={TOP} />}
        <path d={`M${x(at)} ${TOP - 6} V${bottom}`} className="stroke-error stroke-2" />
        <text x={x(at)} y={bottom + 14} textAnchor="middle" className="fill-error font-semibold">
          {clockText(at)}
        </text>
      </svg>
    </Movable>
  );
}

interface Props {
  day: DrawnDay;
  at: number;
  setAt: (time: number) => void;
  breaks: Breaks;
}

const endsOf = ({ day }: DrawnDay) => [
  ...day.jobs.map((job) => job.done_s ?? job.deadline_s),
  ...day.seats.flatMap((seat) => seat.sessions.map((span) => span.to_s)),
];

/** What the line is moved over, by pointer or by keys; it says the time to those who do not see it. */
function Movable({
  at,
  setAt,
  from,
  to,
  moments,
  children,
}: {
  at: number;
  setAt: (time: number) => void;
  from: number;
  to: number;
  moments: readonly number[];
  children: ReactNode;
}) {
  const onKeyDown = (event: KeyboardEvent) => {
    const next = moved(event.key, at, moments);
    if (next === null) return;
    event.preventDefault();
    setAt(Math.min(Math.max(next, from), to));
  };
  const onPoint = (event: PointerEvent<HTMLDivElement>) => {
    if (event.type === "pointermove" && !event.buttons) return;
    const box = event.currentTarget.getBoundingClientRect();
    const place = ((event.clientX - box.left) / box.width) * WIDTH;
    const share = Math.min(Math.max((place - LEFT) / (RIGHT - LEFT), 0), 1);
    setAt(from + share * (to - from));
  };
  return (
    <div
      role="slider"
      tabIndex={0}
      aria-label="Moment of the day"
      aria-valuemin={from}
      aria-valuemax={to}
      aria-valuenow={Math.round(at)}
      aria-valuetext={clockText(at)}
      className="cursor-ew-resize touch-pan-y"
      onKeyDown={onKeyDown}
      onPointerDown={onPoint}
      onPointerMove={onPoint}
    >
      {children}
    </div>
  );
}

/** An earlier time of day than the morning's is after midnight. */
const fromMorning = (time: number, from: number) => (time < from ? time + 24 * HOUR : time);

function Broken({ x, top }: { x: number; top: number }) {
  return (
    <path
      d={`M${x - 5} ${top - 4} L${x + 5} ${top + 6} M${x + 5} ${top - 4} L${x - 5} ${top + 6}`}
      className="stroke-error stroke-2"
    />
  );
}

/** Where a key moves the line: to the next moment, or by an hour; null for other keys. */
function moved(key: string, at: number, moments: readonly number[]): number | null {
  const now = momentAt(moments, at);
  switch (key) {
    case "ArrowRight":
      return moments[now + 1] ?? at;
    case "ArrowLeft":
      return (moments[now] ?? at) < at ? (moments[now] ?? at) : (moments[now - 1] ?? at);
    case "PageDown":
      return at + HOUR;
    case "PageUp":
      return at - HOUR;
    default:
      return null;
  }
}
