import type { HopResult } from "../../api/client";
import { counted, rateText } from "../../kit/format";
import { band, branched } from "./chain";

const WIDTH = 720;
const ENDS = 62;
const JOINT = 22;
const MOST_BRANCHES = 3;
const ALONE = { height: 208, above: 88, label: 46, thickest: 82 };
const BRANCH = { height: 132, above: 40, label: 26, thickest: 44 };

const said = (hop: HopResult): string =>
  `${hop.name} carries ${rateText(hop.capacity_bytes_per_s)} of ${rateText(hop.required_bytes_per_s)} asked`;

/** The way from the seats to the pools: thickness is bandwidth, fill is load, the limiting hop stands out. */
export function Chain({ hops, limiting }: { hops: HopResult[]; limiting: string | null }) {
  const { trunk, branches, left } = branched(hops, MOST_BRANCHES);
  const many = branches.length > 1;
  const row = many ? BRANCH : ALONE;
  const height = row.height * Math.max(branches.length, 1);
  const columns = trunk.length + Math.max(...branches.map((b) => b.length), 0);
  const joint = many ? JOINT : 0;
  const each = (WIDTH - ENDS - joint) / Math.max(columns, 1);
  const most = Math.max(...hops.map((h) => h.capacity_bytes_per_s), 1);
  const middle = many ? height / 2 - 14 : row.above;
  const x = (column: number) => ENDS - 12 + column * each + (column >= trunk.length ? joint : 0);
  const drawn = (hop: HopResult, column: number, y: number) => (
    <Hop
      key={hop.id}
      hop={hop}
      most={most}
      at={{ x: x(column), y, width: each }}
      row={row}
      limits={hop.id === limiting}
    />
  );
  return (
    <>
      <svg
        className="drawing mt-3"
        viewBox={`0 0 ${WIDTH} ${height}`}
        role="img"
        aria-label={hops.map(said).join("; ")}
      >
        <circle cx="26" cy={middle} r="17" className="hollow" strokeWidth="1.5" />
        <text x="26" y={middle + 4} textAnchor="middle">
          seats
        </text>
        {trunk.map((hop, n) => drawn(hop, n, middle))}
        {branches.map((branch, b) => {
          const y = row.height * b + row.above;
          const start = x(trunk.length);
          return (
            <g key={branch.at(-1)?.id}>
              {many && (
                <path
                  d={`M${start - joint} ${middle} L${start - 6} ${y} H${start}`}
                  className="hollow"
                  strokeWidth="1.5"
                />
              )}
              {branch.map((hop, n) => drawn(hop, trunk.length + n, y))}
            </g>
          );
        })}
      </svg>
      {left > 0 && (
        <p className="faint text-sm">
          {counted(left, "more pool")} with more in hand: see the table.
        </p>
      )}
    </>
  );
}

interface HopProps {
  hop: HopResult;
  most: number;
  at: { x: number; y: number; width: number };
  row: { label: number; thickest: number };
  limits: boolean;
}

function Hop({ hop, most, at, row, limits }: HopProps) {
  const { thickness, load } = band(
    hop.capacity_bytes_per_s,
    hop.required_bytes_per_s,
    most,
    row.thickest,
  );
  const width = at.width - (limits ? 14 : 3);
  const left = at.x + (limits ? 7 : 0);
  const short = hop.ratio !== null && hop.ratio !== undefined && hop.ratio < 1;
  return (
    <g>
      <rect
        x={left}
        y={at.y - thickness / 2}
        width={width}
        height={thickness}
        className="hollow"
        strokeWidth={limits ? 3 : 1.25}
      />
      <rect
        x={left}
        y={at.y + thickness / 2 - thickness * load}
        width={width}
        height={thickness * load}
        className={short ? undefined : "teal-soft"}
        fill={short ? "url(#hatch-ink)" : undefined}
      />
      {limits && <Limits left={left} width={width} middle={at.y} thickest={row.thickest} />}
      <foreignObject x={left} y={at.y + row.label} width={width} height="72">
        <p className="text-center text-[11.5px] leading-tight">
          {hop.name}
          <br />
          <b className="font-semibold">{rateText(hop.capacity_bytes_per_s)}</b>
        </p>
      </foreignObject>
    </g>
  );
}

function Limits({
  left,
  width,
  middle,
  thickest,
}: {
  left: number;
  width: number;
  middle: number;
  thickest: number;
}) {
  const top = middle - thickest / 2 - 14;
  const bottom = middle + thickest / 2;
  return (
    <>
      <path
        d={`M${left - 4} ${top} V${bottom} M${left + width + 4} ${top} V${bottom}`}
        className="ink"
        strokeDasharray="4 3"
      />
      <text x={left + width / 2} y={top + 8} textAnchor="middle" className="font-semibold">
        limits
      </text>
    </>
  );
}
