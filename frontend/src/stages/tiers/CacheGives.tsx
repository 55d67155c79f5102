import type { PoolResult } from "../../api/client";
import { counted, hoursText, rateText, sizeText, valueText } from "../../kit/format";

type Cache = NonNullable<PoolResult["cache"]>;
const WIDTH = 720;
const HEIGHT = 120;
const TOP = 26;

/** What the cache hits, absorbs and lasts, with the curve of hits over its size. */
export function CacheGives({ cache }: { cache: Cache }) {
  const percent = (share: number) => valueText(share, "share", "");
  return (
    <>
      <h3 className="mt-5">{cache.name}</h3>
      {cache.mode === "staging" ? (
        <Staged cache={cache} />
      ) : cache.curve.length > 0 ? (
        <>
          <HitCurve cache={cache} />
          <p>
            Hits <b className="font-semibold">{percent(cache.hit_ratio)}</b> of a working week’s
            reads; twice the size would hit {percent(cache.doubled_hit_ratio)} and read{" "}
            {rateText(cache.doubled_read_bytes_per_s)}.{" "}
            <span className="faint">
              The knee is at {sizeText(cache.knee_bytes)}. A reading in a circle that is larger than
              the cache hits nothing.
            </span>
          </p>
        </>
      ) : (
        <p className="faint">Nothing is hot in this plan yet, so there is nothing to hit.</p>
      )}
      {cache.mode === "write-back" && cache.burst_bytes > 0 && (
        <p>
          A shooting day’s {sizeText(cache.burst_bytes)}{" "}
          {cache.absorbs_burst
            ? "goes in at the speed of the flash"
            : `fills it after ${hoursText(cache.seconds_to_full ?? 0)}; then the pool sets the pace`}
          ; at most {sizeText(cache.dirty_bytes_max)} are at stake.
        </p>
      )}
      <p>
        Recommended: <b className="font-semibold">{sizeText(cache.recommended_bytes)}</b>{" "}
        <span className="faint">
          for {cache.recommended_because}
          {cache.recommended_hit_ratio > 0 &&
            `, which hits ${percent(cache.recommended_hit_ratio)}`}
          {cache.is_mirrored && ", twice that in drives as it is mirrored"}. Each drive wants{" "}
          {cache.lanes_by_generation
            .map((w) => `${counted(w.lanes, "lane")} of generation ${w.generation}`)
            .join(", or ")}{" "}
          for its rate.
        </span>
      </p>
      {cache.wear_years !== null && (
        <p>
          Worn after {cache.wear_years > 99 ? "more than 99" : cache.wear_years.toFixed(1)} years.
        </p>
      )}
    </>
  );
}

/** A staging drive: what comes between two runs, how long a run takes, what lies on it alone. */
function Staged({ cache }: { cache: Cache }) {
  return (
    <p>
      Between two runs {sizeText(cache.burst_bytes)} are written;{" "}
      {cache.absorbs_burst
        ? `they fit into its ${sizeText(cache.usable_bytes)}`
        : `its ${sizeText(cache.usable_bytes)} are full after ${hoursText(cache.seconds_to_full ?? 0)}, then the pool sets the pace`}
      . A run takes {hoursText(cache.seconds_to_empty ?? 0)}.{" "}
      {cache.unprotected_bytes_mean > 0
        ? `On average ${sizeText(cache.unprotected_bytes_mean)} lie on it alone, ${sizeText(cache.dirty_bytes_max)} at most.`
        : "It is mirrored, so nothing lies on one drive alone."}
    </p>
  );
}

function HitCurve({ cache }: { cache: Cache }) {
  const last = cache.curve.at(-1);
  if (!last) return null;
  const whole = Math.max(last.cache_bytes, cache.usable_bytes);
  const x = (bytes: number) => (bytes / whole) * (WIDTH - 2) + 1;
  const y = (share: number) => TOP + HEIGHT * (1 - share);
  const line = cache.curve.map((p) => `${x(p.cache_bytes)} ${y(p.hit_ratio)}`).join(" L");
  const kneeFirst = cache.knee_bytes < cache.usable_bytes;
  const marks = [
    {
      name: `here ${sizeText(cache.usable_bytes)}`,
      at: cache.usable_bytes,
      dash: undefined,
      isLeft: (!kneeFirst && cache.usable_bytes > whole * 0.12) || cache.usable_bytes > whole * 0.8,
    },
    {
      name: `knee ${sizeText(cache.knee_bytes)}`,
      at: cache.knee_bytes,
      dash: "5 3",
      isLeft: kneeFirst && cache.knee_bytes > whole * 0.12,
    },
  ];
  return (
    <svg
      className="drawing mt-1"
      viewBox={`0 0 ${WIDTH} ${TOP + HEIGHT + 20}`}
      role="img"
      aria-label={`Hits against cache size: ${Math.round(cache.hit_ratio * 100)} % with ${sizeText(cache.usable_bytes)}, knee at ${sizeText(cache.knee_bytes)}, the pool then reads up to ${rateText(last.read_bytes_per_s)}`}
    >
      <path d={`M${line} L${x(last.cache_bytes)} ${y(0)} L1 ${y(0)} Z`} className="teal-soft" />
      <path d={`M${line}`} className="hollow" strokeWidth="1.5" />
      <path d={`M0 ${y(0)} H${WIDTH}`} className="ink" strokeWidth="1.5" />
      {marks.map((mark, n) => (
        <g key={mark.name}>
          <path
            d={`M${x(mark.at)} ${12 + n * 12} V${y(0)}`}
            className="ink"
            strokeWidth="1.5"
            strokeDasharray={mark.dash}
          />
          <text
            x={x(mark.at) + (mark.isLeft ? -5 : 5)}
            y={12 + n * 12}
            textAnchor={mark.isLeft ? "end" : "start"}
            className="strong"
          >
            {mark.name}
          </text>
        </g>
      ))}
      <text x="0" y={TOP + HEIGHT + 16} className="quiet">
        no cache
      </text>
      <text x={WIDTH} y={TOP + HEIGHT + 16} textAnchor="end" className="quiet">
        {sizeText(whole)}, all that is hot
      </text>
    </svg>
  );
}
