import type { DrawnDay } from "../../api/client";
import { counted, sizeText } from "../../kit/format";
import { chartOf, LEFT, type LaneRow } from "./rows";

interface Place {
  day: DrawnDay;
  x: (time: number) => number;
  right: number;
}

type Of<K extends LaneRow["kind"]> = Extract<LaneRow, { kind: K }>;

/** One lane with its name. */
export function Row({ row, ...place }: Place & { row: LaneRow }) {
  switch (row.kind) {
    case "job":
      return <JobLane row={row} {...place} />;
    case "cache":
    case "hop":
      return <ChartedLane row={row} {...place} />;
    default:
      return <SeatLane row={row} {...place} />;
  }
}

const MOST_LETTERS = 22;

function Name({ y, children, more }: { y: number; children: string; more?: string }) {
  const short =
    children.length > MOST_LETTERS ? `${children.slice(0, MOST_LETTERS - 1)}…` : children;
  return (
    <text x="0" y={y} className="font-semibold">
      {short}
      {more && (
        <tspan x="0" dy="13" className="quiet font-normal">
          {more}
        </tspan>
      )}
    </text>
  );
}

/** A job from its beginning until it is done; its flag is the deadline, and a late one is hatched. */
function JobLane({ row, x, right }: Place & { row: Of<"job"> }) {
  const { job, top, bottom } = row;
  const from = x(job.starts_s);
  const to = job.done_s === null ? right : x(job.done_s);
  const flag = x(job.deadline_s);
  return (
    <g>
      <Name y={bottom - 5}>{`${job.name}, ${sizeText(job.bytes)}`}</Name>
      <rect
        x={from}
        y={top + 3}
        width={Math.max(to - from, 2)}
        height={bottom - top - 6}
        className={job.late_s > 0 ? "ink" : "teal-soft ink"}
        {...(job.late_s > 0 && { fill: "url(#hatch-copper)" })}
      />
      {flag < right && (
        <>
          <path d={`M${flag} ${top + 1} V${bottom - 1}`} className="ink stroke-[1.5]" />
          <path d={`M${flag} ${top + 1} h7 v5 h-7 Z`} />
        </>
      )}
    </g>
  );
}

/** A cache's or a hop's name and the line of all it has; what is used of it is charted over this. */
function ChartedLane({ row, day, right }: Omit<Place, "x"> & { row: Of<"cache"> | Of<"hop"> }) {
  const { top } = row;
  const holds =
    row.kind === "cache"
      ? (day.day.caches.find((c) => c.id === row.cache.id)?.holds_bytes ?? 1)
      : 0;
  return (
    <g>
      <Name
        y={top + (row.kind === "cache" ? 20 : 16)}
        more={
          row.kind === "cache"
            ? `${sizeText(holds)}, dirty`
            : `at most ${Math.round(Math.max(...row.hop.used) * 100)} % used`
        }
      >
        {row.kind === "cache" ? row.cache.name : row.hop.name}
      </Name>
      <path d={`M${LEFT} ${chartOf(row).top} H${right}`} className="ink" strokeDasharray="4 3" />
    </g>
  );
}

/** When a seat is at its peak, and hatched while it stands. */
function SeatLane({ row, x }: Place & { row: Of<"seat"> }) {
  const { top, bottom, seats } = row;
  const bars = seats.flatMap((seat) => seat.sessions.map((span) => ({ seat, span })));
  return (
    <g>
      <Name y={bottom - 4}>{row.name}</Name>
      {bars.map(({ seat, span }) => (
        <rect
          key={`${seat.number} ${span.from_s}`}
          x={x(span.from_s)}
          y={top + 3}
          width={x(span.to_s) - x(span.from_s)}
          height={bottom - top - 6}
          className="hollow"
        />
      ))}
      {seats.flatMap((seat) =>
        seat.spells.map((span) => (
          <rect
            key={`stands ${seat.number} ${span.from_s}`}
            x={x(span.from_s)}
            y={top + 3}
            width={Math.max(x(span.to_s) - x(span.from_s), 2)}
            height={bottom - top - 6}
            className="stroke-error stroke-2"
            fill="url(#hatch-copper)"
          />
        )),
      )}
      <title>{counted(seats.length, "seat")}</title>
    </g>
  );
}
