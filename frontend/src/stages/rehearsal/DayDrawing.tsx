import type { KeyboardEvent, PointerEvent, ReactNode } from "react";

import type { DrawnDay } from "../../api/client";
import { clockText } from "../../kit/format";
import { Bars } from "./Bars";
import type { Broken } from "./breaks";
import { hourMarks, momentAt, spanOf, timeAt } from "./lanes";
import { Row } from "./Rows";
import { chartOf, LEFT, RIGHT, WIDTH, rowsOf, type LaneRow } from "./rows";
import { Series } from "./Series";
import { useTimetable } from "./useTimetable";

const TOP = 24;
const HOUR = 3_600;

interface Props {
  day: DrawnDay;
  at: number;
  setAt: (time: number) => void;
  /** Space starts and stops it. */
  onPlay: () => void;
  broken: readonly Broken[];
}

/** The day on one time axis. The line is moved by pointer or arrow keys, from moment to moment. */
export function DayDrawing({ day, at, setAt, onPlay, broken }: Props) {
  const [from, to] = dayDrawn(day);
  const x = (time: number) =>
    LEFT + ((Math.min(Math.max(time, from), to) - from) / (to - from)) * (RIGHT - LEFT);
  const fixed = new Set(useTimetable().sessions.map((session) => session.seat_id));
  const rows = rowsOf(day, TOP, fixed);
  const bottom = (rows.at(-1)?.bottom ?? TOP) + 6;
  const height = bottom + 20;
  return (
    <div className="relative">
      <Movable at={at} setAt={setAt} onPlay={onPlay} from={from} to={to} moments={day.moments_s}>
        <svg className="drawing" viewBox={`0 0 ${WIDTH} ${height}`} aria-hidden="true">
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
        </svg>
        <Charts day={day} rows={rows} height={height} from={from} to={to} />
        {/* Over the charts, so that the moment is seen in them. */}
        <svg
          className="drawing pointer-events-none absolute inset-0"
          viewBox={`0 0 ${WIDTH} ${height}`}
          aria-hidden="true"
        >
          {broken.map(
            (each) =>
              each.what && (
                <Cross
                  key={`${each.what} ${each.at}`}
                  x={x(fromMorning(each.at, from))}
                  top={TOP}
                />
              ),
          )}
          <path d={`M${x(at)} ${TOP - 6} V${bottom}`} className="stroke-error stroke-2" />
          <text x={x(at)} y={bottom + 14} textAnchor="middle" className="fill-error font-semibold">
            {clockText(at)}
          </text>
        </svg>
      </Movable>
      <Bars day={day} rows={rows} height={height} from={from} to={to} />
    </div>
  );
}

/** [from, to] of what is drawn, clock seconds. */
export const dayDrawn = (day: DrawnDay): [number, number] =>
  spanOf(day.day.begins_s, [
    ...day.day.jobs.map((job) => job.done_s ?? job.deadline_s),
    ...day.day.seats.flatMap((seat) => seat.sessions.map((span) => span.to_s)),
  ]);

/** What is used of hops and caches, charted in their lanes. */
function Charts({
  day,
  rows,
  height,
  from,
  to,
}: {
  day: DrawnDay;
  rows: readonly LaneRow[];
  height: number;
  from: number;
  to: number;
}) {
  return rows.map((row) => {
    if (row.kind !== "hop" && row.kind !== "cache") return null;
    const chart = chartOf(row);
    const holds =
      row.kind === "cache"
        ? (day.day.caches.find((cache) => cache.id === row.cache.id)?.holds_bytes ?? 1)
        : 1;
    return (
      <div
        key={row.key}
        className="pointer-events-none absolute"
        style={{
          left: `${(LEFT / WIDTH) * 100}%`,
          width: `${((RIGHT - LEFT) / WIDTH) * 100}%`,
          top: `${(chart.top / height) * 100}%`,
          height: `${((chart.bottom - chart.top) / height) * 100}%`,
        }}
      >
        <Series
          xs={day.moments_s}
          ys={row.kind === "hop" ? row.hop.used : row.cache.dirty_bytes}
          from={from}
          to={to}
          most={holds}
          isSloped={row.kind === "cache"}
        />
      </div>
    );
  });
}

/** What the line is moved over, by pointer or by keys; it says the time to those who do not see it. */
function Movable({
  at,
  setAt,
  onPlay,
  from,
  to,
  moments,
  children,
}: {
  at: number;
  setAt: (time: number) => void;
  onPlay: () => void;
  from: number;
  to: number;
  moments: readonly number[];
  children: ReactNode;
}) {
  const onKeyDown = (event: KeyboardEvent) => {
    const next = moved(event.key, at, moments);
    if (event.key === " ") onPlay();
    else if (next !== null) setAt(Math.min(Math.max(next, from), to));
    else return;
    event.preventDefault();
  };
  const onPoint = (event: PointerEvent<HTMLDivElement>) => {
    if (event.type === "pointermove" && !event.buttons) return;
    const box = event.currentTarget.getBoundingClientRect();
    const place = ((event.clientX - box.left) / box.width) * WIDTH;
    setAt(timeAt((place - LEFT) / (RIGHT - LEFT), from, to));
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
      className="relative cursor-ew-resize touch-pan-y"
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

function Cross({ x, top }: { x: number; top: number }) {
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
