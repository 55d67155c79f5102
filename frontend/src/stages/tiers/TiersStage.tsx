import layouts from "../../generated/layouts.json";
import { Choice, Quantity, TextField } from "../../kit/fields";
import { Figure } from "../../kit/Figure";
import { rateText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { Purchases } from "./Purchases";
import { DriveRow } from "./DriveRow";
import { Waterfall } from "./Waterfall";

const LAYOUTS = Object.entries(layouts);
const FILESYSTEMS: [string, string][] = [
  ["journal", "Journalling"],
  ["cow", "Copy-on-write"],
  ["none", "None"],
];
const KINDS: [string, string][] = [
  ["hdd", "Disk"],
  ["ssd", "Flash"],
];

/** The pool: drives and layout on the left; what they hold, survive and deliver on the right. */
export function TiersStage() {
  const { document, evaluation } = useSnapshot();
  const pool = document.plan.pools[0];
  const result = evaluation.tiers.pools[0];
  if (!pool || !result) return <p className="p-8">This plan has no pool.</p>;
  const path = `plan/pools/${pool.id}`;
  const survives =
    result.guaranteed_failures === result.max_failures
      ? `${result.guaranteed_failures}`
      : `${result.guaranteed_failures} to ${result.max_failures}`;
  return (
    <div className="ask-answer">
      <section aria-label="Drives and layout">
        <TextField field="Pool.name" path={`${path}/name`} />
        <h2 className="mt-4">Drives</h2>
        {!pool.mixed_sizes && (
          <>
            <Quantity field="Pool.drive_count" path={`${path}/drive_count`} />
            <Quantity field="Pool.drive_bytes" path={`${path}/drive_bytes`} />
          </>
        )}
        <TextField field="Pool.mixed_sizes" path={`${path}/mixed_sizes`} />
        <Choice field="Pool.drive_kind" path={`${path}/drive_kind`} options={KINDS} />
        <Quantity field="Pool.drive_read_bytes_per_s" path={`${path}/drive_read_bytes_per_s`} />
        <Quantity field="Pool.drive_write_bytes_per_s" path={`${path}/drive_write_bytes_per_s`} />
        <Quantity field="Pool.drive_unit_price" path={`${path}/drive_unit_price`} />
        <h2 className="mt-5">Layout</h2>
        <Choice field="Pool.layout" path={`${path}/layout`} options={LAYOUTS} />
        <Quantity field="Pool.spares" path={`${path}/spares`} />
        <Choice field="Pool.filesystem" path={`${path}/filesystem`} options={FILESYSTEMS} />
        <Quantity field="Pool.snapshot_reserve_percent" path={`${path}/snapshot_reserve_percent`} />
        <Quantity field="Pool.headroom_percent" path={`${path}/headroom_percent`} />
        <Purchases />
      </section>
      <section aria-label="What the pool gives">
        <div className="flex items-baseline justify-between">
          <h2>{pool.name}</h2>
          <span className="faint text-sm">
            {result.members} in the layout{result.spares ? `, ${result.spares} spare` : ""}
          </span>
        </div>
        <DriveRow pool={result} />
        <h3 className="mt-4">From the carton to what you may plan with</h3>
        <Waterfall pool={result} />
        <dl className="mt-5 grid grid-cols-[auto_1fr] gap-x-6 gap-y-1">
          <dt>Reads</dt>
          <dd>
            <Figure id={`tiers.${pool.id}.read`}>{rateText(result.read.middle_bytes_per_s)}</Figure>{" "}
            <span className="faint">
              between {rateText(result.read.low_bytes_per_s)} and{" "}
              {rateText(result.read.high_bytes_per_s)}, with {result.streams} streams on a pool
              filled to its limit
            </span>
          </dd>
          <dt>Writes</dt>
          <dd>
            <Figure id={`tiers.${pool.id}.write`}>
              {rateText(result.write.middle_bytes_per_s)}
            </Figure>{" "}
            <span className="faint">
              between {rateText(result.write.low_bytes_per_s)} (small writes) and{" "}
              {rateText(result.write.high_bytes_per_s)}
            </span>
          </dd>
          <dt>Survives</dt>
          <dd>
            <Figure id="scales.safety">
              {survives} {survives === "1" ? "dead drive" : "dead drives"}
            </Figure>{" "}
            <span className="faint">
              one more loses {result.loses}. Redundancy is not a backup.
            </span>
          </dd>
        </dl>
      </section>
    </div>
  );
}
