import type { PoolResult } from "../../api/client";
import { sizeText } from "../../kit/format";

const WIDTH = 720;
const GAP = 8;
const MOST_DRAWN = 48;

/** Each drive as a block: its share of data plain, of copies or parity hatched, spares hollow. */
export function DriveRow({ pool }: { pool: PoolResult }) {
  const count = pool.members + pool.spares;
  const drawn = Math.min(count, MOST_DRAWN);
  const perRow = Math.min(drawn, drawn <= 8 ? 4 : drawn <= 24 ? 6 : 12);
  const width = (WIDTH - GAP * (perRow - 1)) / perRow;
  const height = perRow > 6 ? 34 : 46;
  const rows = Math.ceil(drawn / perRow);
  const sizes = [...new Set(pool.drives_bytes)].map(sizeText).join(", ");
  return (
    <>
      <svg
        className="drawing mt-2"
        viewBox={`0 0 ${WIDTH} ${rows * (height + GAP)}`}
        role="img"
        aria-label={`${pool.members} drives of ${sizes} in the layout, ${pool.spares} spare`}
      >
        {Array.from({ length: drawn }, (_, i) => (
          <g
            key={i}
            transform={`translate(${(i % perRow) * (width + GAP)} ${Math.floor(i / perRow) * (height + GAP)})`}
          >
            <Drive pool={pool} at={i} width={width} height={height} isNamed={perRow <= 6} />
          </g>
        ))}
      </svg>
      <p className="faint text-sm">
        <span aria-hidden="true">▬</span> data <span aria-hidden="true">▨</span> copies or parity{" "}
        <span aria-hidden="true">┄</span> spare
        {count > drawn ? ` · ${count - drawn} more drives not drawn` : ""}
      </p>
    </>
  );
}

function Drive({
  pool,
  at,
  width,
  height,
  isNamed,
}: {
  pool: PoolResult;
  at: number;
  width: number;
  height: number;
  isNamed: boolean;
}) {
  const spare = at >= pool.members;
  const data = (width - 4) * (1 - (pool.redundancy_shares[at] ?? 0));
  return (
    <>
      {!spare && (
        <>
          <rect x="2" y="2" width={data} height={height - 4} className="teal-soft" />
          <rect
            x={2 + data}
            y="2"
            width={Math.max(width - 4 - data, 0)}
            height={height - 4}
            fill="url(#hatch-copper)"
          />
        </>
      )}
      <rect
        x="0.75"
        y="0.75"
        width={width - 1.5}
        height={height - 1.5}
        rx="3"
        className="hollow"
        strokeWidth="1.5"
        strokeDasharray={spare ? "5 4" : undefined}
      />
      <text x="9" y={height / 2 - 3} className="font-semibold">
        {at + 1}
      </text>
      {isNamed && (
        <text x="9" y={height / 2 + 13}>
          {sizeText(pool.drives_bytes[at] ?? 0)}
          {spare ? " · spare" : ""}
        </text>
      )}
    </>
  );
}
