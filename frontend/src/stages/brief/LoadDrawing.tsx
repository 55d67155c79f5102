import type { ReactNode } from "react";

import type { Evaluation } from "../../api/client";
import { rateNumber, rateText } from "../../kit/format";

const WIDTH = 720;
const HEIGHT = 118;
const TOP = 34;

/** The distribution of the joint load, with mean, P95, P99 and worst case marked. */
export function LoadDrawing({
  bars,
  load,
}: {
  bars: Evaluation["load_bars"];
  load: Evaluation["brief"]["both"];
}) {
  if (!bars.length) return null;
  const tallest = Math.max(...bars.map((b) => b.probability));
  const x = (rate: number) => (rate / load.max_bytes_per_s) * (WIDTH - 2) + 1;
  const marks = [
    { name: "mean", at: load.mean_bytes_per_s, y: 26 },
    { name: "P95", at: load.p95_bytes_per_s, y: 26 },
    { name: "P99", at: load.p99_bytes_per_s, y: 12 },
  ];
  return (
    <svg
      className="drawing mt-1"
      viewBox={`0 0 ${WIDTH} ${TOP + HEIGHT + 20}`}
      role="img"
      aria-label={`Load: mean ${rateText(load.mean_bytes_per_s)}, P95 ${rateText(load.p95_bytes_per_s)}, P99 ${rateText(load.p99_bytes_per_s)}, worst ${rateText(load.max_bytes_per_s)}`}
    >
      {bars.map((bar) => {
        const height = (bar.probability / tallest) * HEIGHT;
        const left = x(bar.from_bytes_per_s);
        return (
          <rect
            key={bar.from_bytes_per_s}
            x={left + 1}
            y={TOP + HEIGHT - height}
            width={Math.max(x(bar.to_bytes_per_s) - left - 2, 1)}
            height={height}
            className={bar.from_bytes_per_s >= load.sized_bytes_per_s ? "hollow" : "teal-soft"}
          />
        );
      })}
      <path d={`M0 ${TOP + HEIGHT} H${WIDTH}`} className="ink" strokeWidth="1.5" />
      {marks.map((mark) => (
        <Mark
          key={mark.name}
          x={x(mark.at)}
          y={mark.y}
          isMean={mark.name === "mean"}
          isLate={mark.at > load.max_bytes_per_s * 0.85}
        >
          {mark.name} {rateNumber(mark.at)}
        </Mark>
      ))}
      <text x="0" y={TOP + HEIGHT + 16} className="quiet">
        0
      </text>
      <text x={WIDTH} y={TOP + HEIGHT + 16} textAnchor="end" className="quiet">
        worst {rateText(load.max_bytes_per_s)}
      </text>
    </svg>
  );
}

function Mark({
  x,
  y,
  isMean,
  isLate,
  children,
}: {
  x: number;
  y: number;
  isMean: boolean;
  isLate: boolean;
  children: ReactNode;
}) {
  return (
    <g>
      <path
        d={`M${x} ${y + 4} V${TOP + HEIGHT}`}
        className="ink"
        strokeDasharray={isMean ? undefined : "5 3"}
        strokeWidth="1.5"
      />
      <text
        x={Math.min(x, WIDTH - 4)}
        y={y}
        textAnchor={isLate ? "end" : "middle"}
        className="font-semibold"
      >
        {children}
      </text>
    </g>
  );
}
