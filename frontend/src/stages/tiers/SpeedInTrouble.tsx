import type { PoolResult } from "../../api/client";
import { Figure } from "../../plan/Figure";
import { rateText, valueText, wholeText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";

const COUNT = { format: wholeText };
const TENTHS = new Intl.NumberFormat("en-GB", { maximumFractionDigits: 1 });

/** What holds a pool back, what is left of it with a dead drive, and how it does with many small files. */
export function SpeedInTrouble({ result }: { result: PoolResult }) {
  const { evaluation } = useSnapshot();
  const files = evaluation.small_files.filter((f) => f.pool_id === result.id);
  return (
    <dl className="facts mt-1">
      {result.limits.length > 0 && (
        <>
          <dt>On the way</dt>
          <dd>
            {result.limits.map((limit) => (
              <p key={limit.name}>
                {limit.name}: {rateText(limit.read_bytes_per_s)} reading,{" "}
                {rateText(limit.write_bytes_per_s)} writing
                {limit.holds_back && <b className="font-semibold"> holds the drives back</b>}
              </p>
            ))}
          </dd>
        </>
      )}
      {result.degraded_read && result.rebuilding_read && result.rebuilding_write && (
        <>
          <dt>One drive dead</dt>
          <dd>
            reads{" "}
            <Figure id={`tiers.${result.id}.degraded`}>
              {rateText(result.degraded_read.middle_bytes_per_s)}
            </Figure>
            <span className="faint">
              ; while it rebuilds {rateText(result.rebuilding_read.middle_bytes_per_s)} reading and{" "}
              {rateText(result.rebuilding_write.middle_bytes_per_s)} writing are left
            </span>
          </dd>
        </>
      )}
      <dt>Scattered</dt>
      <dd>
        {COUNT.format(result.small_reads_per_s)} small reads or{" "}
        {COUNT.format(result.small_writes_per_s)} small writes a second
        {files.map((f) => (
          <p key={f.seat_id}>
            {f.seat_name}:{" "}
            <Figure id={`files.${f.seat_id}`}>{TENTHS.format(f.given_files_per_s)}</Figure> files a
            second for one of {TENTHS.format(f.asked_files_per_s)} asked
            <span className="faint">
              ; {valueText(f.latency_share, "share", "")} of a file’s time is waiting for round
              trips and seeks
            </span>
          </p>
        ))}
      </dd>
    </dl>
  );
}
