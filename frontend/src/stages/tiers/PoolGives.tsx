import type { PlanDocument, PoolResult } from "../../api/client";
import { Figure } from "../../plan/Figure";
import { counted, hoursText, oddsText, rangeText, rateText, sizeText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { BoxGives } from "./BoxGives";
import { DrivesCompared, LayoutsCompared } from "./BuiltTable";
import { CacheGives } from "./CacheGives";
import { DriveRow } from "./DriveRow";
import { SpeedInTrouble } from "./SpeedInTrouble";
import { Waterfall } from "./Waterfall";

type Pool = PlanDocument["plan"]["pools"][number];

/** What a pool holds, delivers, survives and grows by. */
export function PoolGives({ pool, result }: { pool: Pool; result: PoolResult }) {
  const { evaluation } = useSnapshot();
  return (
    <>
      <div className="flex items-baseline justify-between">
        <h2>{pool.name}</h2>
        <span className="faint text-sm">
          {result.members} in the layout{result.spares ? `, ${result.spares} spare` : ""}
          {result.shared_spares ? `, ${result.shared_spares} spare shared` : ""}
        </span>
      </div>
      {evaluation.bays.unplaced[pool.id] !== 0 && <DriveRow pool={result} />}
      <h3 className="mt-4">From the carton to what you may plan with</h3>
      <Waterfall of={result} figure={`tiers.${result.id}.plannable`} />
      <dl className="facts mt-5">
        <dt>Reads</dt>
        <dd>
          <Figure id={`tiers.${pool.id}.read`}>{rateText(result.read.middle_bytes_per_s)}</Figure>{" "}
          <span className="faint">
            {rangeText(result.read.low_bytes_per_s, result.read.high_bytes_per_s, rateText)}, with{" "}
            {counted(result.streams, "stream")} on a pool filled to its limit
          </span>
        </dd>
        <dt>Writes</dt>
        <dd>
          <Figure id={`tiers.${pool.id}.write`}>{rateText(result.write.middle_bytes_per_s)}</Figure>{" "}
          <span className="faint">
            {rangeText(result.write.low_bytes_per_s, result.write.high_bytes_per_s, rateText)}
            {result.write.low_bytes_per_s < result.write.high_bytes_per_s &&
              ", small writes the least"}
            {result.fast_write &&
              `; the first ${sizeText(result.fast_write_bytes)} go in at ${rateText(result.fast_write.middle_bytes_per_s)}`}
          </span>
        </dd>
        <Survives result={result} />
        <dt>Grows by</dt>
        <dd>
          {result.grows_by}
          <span className="faint">; more parity later: {result.more_parity_later}.</span>
        </dd>
      </dl>
      {result.cache && <CacheGives cache={result.cache} />}
      <SpeedInTrouble result={result} />
      <BoxGives poolId={pool.id} />
      <LayoutsCompared key={`layouts-${pool.id}`} poolId={pool.id} />
      <DrivesCompared key={`drives-${pool.id}`} poolId={pool.id} />
    </>
  );
}

/** How many dead drives, what one more loses, how long a rebuild takes, and what it may meet. */
function Survives({ result }: { result: PoolResult }) {
  const survives =
    result.guaranteed_failures === result.max_failures
      ? `${result.guaranteed_failures}`
      : `${result.guaranteed_failures} to ${result.max_failures}`;
  return (
    <>
      <dt>Survives</dt>
      <dd>
        <b className="font-semibold">
          {survives} {survives === "1" ? "dead drive" : "dead drives"}
        </b>{" "}
        <span className="faint">
          one more loses {result.loses}. Redundancy is not a backup.
          {result.rebuild_seconds !== null && (
            <>
              {" "}
              A drive takes{" "}
              <Figure id={`tiers.${result.id}.rebuild`}>
                {hoursText(result.rebuild_seconds)}
              </Figure>{" "}
              to rebuild beside people, {hoursText(result.rebuild_alone_seconds ?? 0)} alone
              {result.rebuild_high_seconds !== null &&
                `, up to ${hoursText(result.rebuild_high_seconds)} where its records lie scattered`}
              .
            </>
          )}
          {result.unreadable_odds !== null && (
            <>
              {" "}
              From drives alone{" "}
              <Figure id={`tiers.${result.id}.unreadable`}>
                {oddsText(result.unreadable_odds)}
              </Figure>{" "}
              rebuilds{" "}
              {result.final_members > result.members &&
                `at its final width of ${result.final_members} drives `}
              meet a sector that cannot be read, by data sheets at most{" "}
              <Figure id={`tiers.${result.id}.unreadable-by-sheets`}>
                {oddsText(result.unreadable_sheet_odds ?? 0)}
              </Figure>{" "}
              them: {result.unreadable_costs}.
            </>
          )}
        </span>
      </dd>
    </>
  );
}
