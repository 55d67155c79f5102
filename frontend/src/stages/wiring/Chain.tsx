import type { HopResult } from "../../api/client";
import { rateText } from "../../kit/format";
import { Hatches } from "../../kit/patterns";
import { band } from "./chain";

const WIDTH = 720;
const HEIGHT = 190;
const MIDDLE = 88;
const ENDS = 62;

/** The chain from the seats to the pool: thickness is bandwidth, fill is load, the limiting hop stands out. */
export function Chain({ hops, limiting }: { hops: HopResult[]; limiting: string | null }) {
  const each = (WIDTH - ENDS) / Math.max(hops.length, 1);
  const most = Math.max(...hops.map((h) => h.capacity_bytes_per_s), 1);
  return (
    <svg
      className="drawing mt-3"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={hops
        .map(
          (h) =>
            `${h.name} carries ${rateText(h.capacity_bytes_per_s)} of ${rateText(h.required_bytes_per_s)} asked`,
        )
        .join("; ")}
    >
      <Hatches />
      <circle cx="26" cy={MIDDLE} r="17" className="hollow" strokeWidth="1.5" />
      <text x="26" y={MIDDLE + 4} textAnchor="middle">
        seats
      </text>
      {hops.map((hop, index) => {
        const { thickness, load } = band(hop.capacity_bytes_per_s, hop.required_bytes_per_s, most);
        const limits = hop.id === limiting;
        const x = ENDS - 12 + index * each;
        const width = each - (limits ? 14 : 3);
        const left = x + (limits ? 7 : 0);
        const short = hop.ratio !== null && hop.ratio !== undefined && hop.ratio < 1;
        return (
          <g key={hop.id}>
            <rect
              x={left}
              y={MIDDLE - thickness / 2}
              width={width}
              height={thickness}
              className="hollow"
              strokeWidth={limits ? 3 : 1.25}
            />
            <rect
              x={left}
              y={MIDDLE + thickness / 2 - thickness * load}
              width={width}
              height={thickness * load}
              className={short ? undefined : "teal-soft"}
              fill={short ? "url(#hatch-ink)" : undefined}
            />
            {limits && (
              <>
                <path
                  d={`M${left - 4} 14 V${MIDDLE + 62} M${left + width + 4} 14 V${MIDDLE + 62}`}
                  className="ink"
                  strokeDasharray="4 3"
                />
                <text x={left + width / 2} y="11" textAnchor="middle" className="strong">
                  limits
                </text>
              </>
            )}
            <foreignObject x={left} y={MIDDLE + 46} width={width} height="58">
              <p className="text-center text-[11.5px] leading-tight">
                {hop.name}
                <br />
                <b className="font-semibold">{rateText(hop.capacity_bytes_per_s)}</b>
              </p>
            </foreignObject>
          </g>
        );
      })}
    </svg>
  );
}
