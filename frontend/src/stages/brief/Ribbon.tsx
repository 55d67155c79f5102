import type { Evaluation } from "../../api/client";
import { rateText } from "../../kit/format";

type Seat = Evaluation["brief"]["seats"][number];
const WIDTH = 720;
const HEIGHT = 62;

const demandOf = (seat: Seat) => seat.read_bytes_per_s + seat.write_bytes_per_s;

/** Every seat as a block: as wide as its full demand, filled as high as the part of the day it is at peak. */
export function Ribbon({ seats }: { seats: Seat[] }) {
  const blocks = seats.flatMap((seat) => {
    const demand = demandOf(seat);
    return demand > 0
      ? Array.from({ length: Math.min(seat.count, 60) }, (_, n) => ({ seat, demand, n }))
      : [];
  });
  const total = blocks.reduce((sum, b) => sum + b.demand, 0);
  if (!total)
    return (
      <p className="faint my-2">No seat asks for anything yet: add seats, or give them streams.</p>
    );
  const starts = blocks.reduce<number[]>(
    (at, b) => [...at, (at.at(-1) ?? 0) + (b.demand / total) * WIDTH],
    [0],
  );
  return (
    <>
      <svg
        className="drawing mt-2"
        viewBox={`0 0 ${WIDTH} ${HEIGHT + 20}`}
        role="img"
        aria-label={seats
          .map((s) => `${s.count} times ${s.name}, ${rateText(demandOf(s))} each`)
          .join("; ")}
      >
        {blocks.map(({ seat, demand, n }, i) => {
          const width = (demand / total) * WIDTH;
          const isNamed = n === 0 && width * seat.count > seat.name.length * 6;
          return (
            <Block
              key={`${seat.id}-${n}`}
              seat={seat}
              x={starts[i] ?? 0}
              width={width}
              name={isNamed ? seat.name : ""}
            />
          );
        })}
      </svg>
      <p className="faint text-sm">
        Width is a seat’s full demand ({rateText(total)} in all), height the part of the day at
        peak; <span aria-hidden="true">▨</span> writes.
      </p>
    </>
  );
}

/** One seat: reads plain, writes hatched, as high as the part of the day it is at its peak. */
function Block({ seat, x, width, name }: { seat: Seat; x: number; width: number; name: string }) {
  const filled = HEIGHT * seat.probability;
  const reads = width * (seat.read_bytes_per_s / demandOf(seat));
  return (
    <g>
      <rect x={x} y={HEIGHT - filled} width={reads} height={filled} className="teal-soft" />
      <rect
        x={x + reads}
        y={HEIGHT - filled}
        width={width - reads}
        height={filled}
        fill="url(#hatch-copper)"
      />
      <rect x={x} y="0.75" width={width} height={HEIGHT - 1.5} className="hollow" strokeWidth="1" />
      {name && (
        <text x={x + 3} y={HEIGHT + 15}>
          {name}
        </text>
      )}
    </g>
  );
}
