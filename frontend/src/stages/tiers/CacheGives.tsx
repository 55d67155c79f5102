import type { Evaluation, PoolResult } from "../../api/client";
import { Figure } from "../../plan/Figure";
import { useSnapshot } from "../../plan/context";
import { hoursText, rateText, sizeText, valueText } from "../../kit/format";

type Cache = NonNullable<PoolResult["cache"]>;
type Curve = Evaluation["hit_curves"][string];
const WIDTH = 720;
const HEIGHT = 120;
const TOP = 26;

/** What the cache hits, absorbs and lasts, with the curve of hits over its size. */
export function CacheGives({ cache }: { cache: Cache }) {
  const { evaluation } = useSnapshot();
  const curve = evaluation.hit_curves[cache.id] ?? [];
  return (
    <>
      <h3 className="mt-5">{cache.name}</h3>
      {curve.length > 0 && <HitCurve cache={cache} curve={curve} />}
      <dl className="facts mt-2">
        {cache.mode === "staging" ? (
          <Staged cache={cache} />
        ) : (
          <Hits cache={cache} isHot={curve.length > 0} />
        )}
        {cache.mode === "write-back" && <WrittenBack cache={cache} />}
        <dt>Recommended</dt>
        <dd>
          <Figure id={`tiers.${cache.pool_id}.recommended`}>
            {sizeText(cache.recommended_bytes)}
          </Figure>{" "}
          for {cache.recommended_because}
          <span className="faint">
            {cache.recommended_hit_ratio > 0 &&
              `, which hits ${shareText(cache.recommended_hit_ratio)}`}
            {cache.is_mirrored && "; twice that in drives, as it is mirrored"}
          </span>
        </dd>
        <dt>Lanes a drive</dt>
        <dd>
          {cache.lanes_by_generation
            .map((w) => `${w.lanes} of generation ${w.generation}`)
            .join(", or ")}{" "}
          <span className="faint">to read at its rate</span>
        </dd>
        {cache.wear_years !== null && (
          <>
            <dt>Worn</dt>
            <dd>
              after{" "}
              <Figure id={`tiers.${cache.pool_id}.worn`}>
                {cache.wear_years > 99 ? "more than 99" : cache.wear_years.toFixed(1)} years
              </Figure>
            </dd>
          </>
        )}
      </dl>
    </>
  );
}

const shareText = (share: number) => valueText(share, "share", "");

function Hits({ cache, isHot }: { cache: Cache; isHot: boolean }) {
  if (!isHot)
    return (
      <>
        <dt>Hits</dt>
        <dd className="faint">nothing is hot in this plan yet, so there is nothing to hit</dd>
      </>
    );
  return (
    <>
      <dt>Hits</dt>
      <dd>
        <Figure id={`tiers.${cache.pool_id}.hits`}>{shareText(cache.hit_ratio)}</Figure> of a
        working week’s reads
        {cache.hit_ratio < cache.hit_ratio_admitted &&
          `, since what is played passes it by; ${shareText(cache.hit_ratio_admitted)} if it were kept`}
        ; twice the size would hit {shareText(cache.doubled_hit_ratio)} and read{" "}
        {rateText(cache.doubled_read_bytes_per_s)}.{" "}
        <span className="faint">
          The knee is at {sizeText(cache.knee_bytes)}. A reading in a circle that is larger than the
          cache hits nothing.
        </span>
      </dd>
    </>
  );
}

/** A write-back cache: how it takes a shooting day, and the parts of the day that it does not last through. */
function WrittenBack({ cache }: { cache: Cache }) {
  const full = cache.full_in
    .map((part) => `full after ${hoursText(part.seconds_to_full)} in ${part.name}`)
    .join(", ");
  return (
    <>
      {cache.burst_bytes > 0 && (
        <>
          <dt>A shooting day</dt>
          <dd>
            its {sizeText(cache.burst_bytes)}{" "}
            {cache.absorbs_burst
              ? "goes in at the speed of the flash"
              : `fills it after ${hoursText(cache.seconds_to_full ?? 0)}; then the pool sets the pace`}
            ; at most {sizeText(cache.dirty_bytes_max)} are at stake
          </dd>
        </>
      )}
      {full && (
        <>
          <dt>Over the days</dt>
          <dd>
            {cache.grows_daily && "more goes in every day than its pool is given of it; "}
            {full}; from then on writes are as slow as the pool
          </dd>
        </>
      )}
    </>
  );
}

/** A staging drive: what comes between two runs, how long a run takes, what lies on it alone. */
function Staged({ cache }: { cache: Cache }) {
  return (
    <>
      <dt>Between runs</dt>
      <dd>
        {sizeText(cache.burst_bytes)} are written;{" "}
        {cache.absorbs_burst
          ? `they fit into its ${sizeText(cache.usable_bytes)}`
          : `its ${sizeText(cache.usable_bytes)} are full after ${hoursText(cache.seconds_to_full ?? 0)}, then the pool sets the pace`}
        . A run takes {hoursText(cache.seconds_to_empty ?? 0)}.{" "}
        {cache.unprotected_bytes_mean > 0
          ? `On average ${sizeText(cache.unprotected_bytes_mean)} lie on it alone, ${sizeText(cache.dirty_bytes_max)} at most.`
          : "It is mirrored, so nothing lies on one drive alone."}
      </dd>
    </>
  );
}

function HitCurve({ cache, curve }: { cache: Cache; curve: Curve }) {
  const last = curve.at(-1);
  if (!last) return null;
  const whole = Math.max(last.cache_bytes, cache.usable_bytes);
  const x = (bytes: number) => (bytes / whole) * (WIDTH - 2) + 1;
  const y = (share: number) => TOP + HEIGHT * (1 - share);
  const line = curve.map((p) => `${x(p.cache_bytes)} ${y(p.hit_ratio)}`).join(" L");
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
            className="font-semibold"
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
