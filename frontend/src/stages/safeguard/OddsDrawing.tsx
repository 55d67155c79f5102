import type { LayoutOdds } from "../../api/client";
import { POWERS, powerText, rungOf } from "./ladder";

const WIDTH = 720;
const LEFT = 250;
const RIGHT = 700;
const TOP = 26;
const ROW = 22;
const MOST_LETTERS = 38;

/** The odds of every layout on one scale of powers of ten, the safest above; reads and dead drives apart. */
export function OddsDrawing({ rows }: { rows: readonly LayoutOdds[] }) {
  const x = (rung: number) => LEFT + rung * (RIGHT - LEFT);
  const bottom = TOP + rows.length * ROW;
  const marks = [POWERS, 6, 4, 3, 2, 1, 0];
  return (
    <svg className="drawing mt-3" viewBox={`0 0 ${WIDTH} ${bottom + 8}`} aria-hidden="true">
      {marks.map((power) => {
        const at = x(rungOf(10 ** -power));
        return (
          <g key={power}>
            <path d={`M${at} ${TOP - 6} V${bottom}`} className="stroke-base-300" />
            <text x={at} y={TOP - 11} textAnchor="middle" className="quiet text-[10px]">
              {power === POWERS ? "1 in a billion" : powerText(power)}
            </text>
          </g>
        );
      })}
      {rows.map((row, n) => (
        <Lane key={row.layout} row={row} y={TOP + n * ROW} x={x} />
      ))}
    </svg>
  );
}

function Lane({ row, y, x }: { row: LayoutOdds; y: number; x: (rung: number) => number }) {
  const words =
    row.words.length > MOST_LETTERS ? `${row.words.slice(0, MOST_LETTERS - 1)}…` : row.words;
  const width = (odds: number) => Math.max(x(rungOf(odds)) - LEFT, 1);
  return (
    <g>
      <text x="0" y={y + 14} className={row.is_current ? "font-semibold" : ""}>
        {words}
      </text>
      <rect
        x={LEFT}
        y={y + 4}
        width={width(row.odds.total)}
        height={ROW - 9}
        className="teal-soft ink"
      />
      {row.odds.reads > row.odds.disks && (
        <rect
          x={LEFT}
          y={y + 4}
          width={width(row.odds.total)}
          height={ROW - 9}
          className="ink"
          fill="url(#hatch-copper)"
        />
      )}
      {row.is_current && (
        <path
          d={`M${LEFT + width(row.odds.total) + 5} ${y + ROW / 2} l9 -5 v10 Z`}
          className="fill-base-content"
        />
      )}
    </g>
  );
}
