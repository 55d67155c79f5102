import type { DrawnDay } from "../../api/client";
import { counted, sizeText } from "../../kit/format";
import { outline } from "./lanes";
import { LEFT, type LaneRow } from "./rows";

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
      return <CacheLane row={row} {...place} />;
    case "hop":
      return <HopLane row={row} {...place} />;
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

/** A copy from its beginning until it is done; its flag is the deadline, and a late one is hatched. */
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

function CacheLane({ row, day, x, right }: Place & { row: Of<"cache"> }) {
  const { cache, top, bottom } = row;
  const holds = day.day.caches.find((c) => c.id === cache.id)?.holds_bytes ?? 1;
  const y = (bytes: number) => bottom - 4 - Math.min(bytes / holds, 1) * (bottom - top - 10);
  return (
    <g>
      <Name y={top + 20} more={`${sizeText(holds)}, dirty`}>
        {cache.name}
      </Name>
      <path d={`M${LEFT} ${y(holds)} H${right}`} className="ink" strokeDasharray="4 3" />
      <path
        d={outline(day.moments_s.map(x), cache.dirty_bytes.map(y), bottom - 4, right, true)}
        className="teal-soft ink"
      />
    </g>
  );
}

/** How much of a hop is used; the dashed line is all of it. */
function HopLane({ row, day, x, right }: Place & { row: Of<"hop"> }) {
  const { hop, top, bottom } = row;
  const y = (share: number) => bottom - 3 - share * (bottom - top - 9);
  const most = Math.max(...hop.used);
  return (
    <g>
      <Name y={top + 16} more={`at most ${Math.round(most * 100)} % used`}>
        {hop.name}
      </Name>
      <path d={`M${LEFT} ${y(1)} H${right}`} className="ink" strokeDasharray="4 3" />
      <path
        d={outline(day.moments_s.map(x), hop.used.map(y), bottom - 3, right)}
        className="teal-soft ink"
      />
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
