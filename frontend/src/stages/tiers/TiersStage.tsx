import { useState } from "react";

import type { Operation, PlanDocument, PoolResult } from "../../api/client";
import layouts from "../../generated/layouts.json";
import { Choice, Quantity, RefusedHere, TextField } from "../../kit/fields";
import { Figure } from "../../kit/Figure";
import { Fold } from "../../kit/Fold";
import { hoursText, oddsText, rateText, sizeText } from "../../kit/format";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";
import { Boxes } from "./Boxes";
import { BoxGives } from "./BoxGives";
import { BoxFronts } from "./BoxFronts";
import { CacheFields } from "./CacheFields";
import { CacheGives } from "./CacheGives";
import { DrivesCompared, LayoutsCompared } from "./BuiltTable";
import { DriveClass } from "./DriveClass";
import { DriveRow } from "./DriveRow";
import { ListPrice } from "./ListPrice";
import { Origin } from "./Origin";
import { Purchases } from "./Purchases";
import { SpeedInTrouble } from "./SpeedInTrouble";
import { Volumes } from "./Volumes";
import { Waterfall } from "./Waterfall";

type Pool = PlanDocument["plan"]["pools"][number];

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
const TIERS: [string, string][] = [
  ["work", "Work at hand"],
  ["archive", "The archive"],
];

/** The pools: drives and layout on the left; what they hold, survive and deliver on the right. */
export function TiersStage() {
  const { document, evaluation } = useSnapshot();
  const [chosen, setChosen] = useState("");
  const pools = document.plan.pools;
  const pool = pools.find((p) => p.id === chosen) ?? pools[0];
  if (!pool) return <p className="p-8">This plan has no pool.</p>;
  // A pool just added is on the screen before it is judged.
  const result = evaluation.tiers.pools.find((p) => p.id === pool.id);
  return (
    <div className="ask-answer">
      <section aria-label="Drives and layout">
        <PoolTabs pools={pools} chosen={pool} choose={setChosen} />
        <PoolFields key={pool.id} pool={pool} />
        <Volumes poolId={pool.id} />
        <Boxes />
        <Purchases />
      </section>
      <section aria-label="What the pool gives" className="answer-column">
        <BoxFronts key={pool.id} pool={pool} />
        {pools.length > 1 && <AllPools results={evaluation.tiers.pools} />}
        {result ? (
          <Gives pool={pool} result={result} />
        ) : (
          <p className="faint">This pool is not judged yet.</p>
        )}
      </section>
    </div>
  );
}

/** Which pool is shown; pools are added with the drives of the one shown, and removed while one is left. */
function PoolTabs({
  pools,
  chosen,
  choose,
}: {
  pools: Pool[];
  chosen: Pool;
  choose: (id: string) => void;
}) {
  const { session, mayWrite } = usePlanTools();
  const add = () => {
    const id = freshId("pool", pools);
    const tier = pools.some((p) => p.tier === "archive") ? "work" : "archive";
    session.change({
      op: "add",
      path: "plan/pools",
      value: {
        ...chosen,
        id,
        tier,
        bays: "",
        name: tier === "archive" ? "Archive pool" : "Work pool",
      },
    });
    choose(id);
  };
  const { document } = useSnapshot();
  const remove = () => {
    const of = (list: "caches" | "volumes") =>
      (document.plan[list] ?? [])
        .filter((each) => each.pool_id === chosen.id)
        .map((each): Operation => ({ op: "remove", path: `plan/${list}/${each.id}` }));
    const sharing = pools
      .filter((p) => p.spares_of === chosen.id)
      .map((p): Operation => ({ op: "set", path: `plan/pools/${p.id}/spares_of`, value: "" }));
    session.change(...of("caches"), ...of("volumes"), ...sharing, {
      op: "remove",
      path: `plan/pools/${chosen.id}`,
    });
  };
  return (
    <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-1">
      {pools.length > 1 &&
        pools.map((pool) => (
          <button
            key={pool.id}
            type="button"
            className={pool.id === chosen.id ? "plain-button font-semibold" : "text-button"}
            aria-pressed={pool.id === chosen.id}
            onClick={() => choose(pool.id)}
          >
            {pool.name}
          </button>
        ))}
      {mayWrite && (
        <button type="button" className="text-button" onClick={add}>
          Add a pool
        </button>
      )}
      {mayWrite && pools.length > 1 && (
        <button type="button" className="text-button" onClick={remove}>
          Remove {chosen.name}
        </button>
      )}
      <RefusedHere path="plan/pools" />
    </div>
  );
}

function PoolFields({ pool }: { pool: Pool }) {
  const { document } = useSnapshot();
  const path = `plan/pools/${pool.id}`;
  return (
    <>
      <TextField field="Pool.name" path={`${path}/name`} />
      <Choice field="Pool.tier" path={`${path}/tier`} options={TIERS} />
      <h2 className="mt-4">Drives</h2>
      <DriveClass poolId={pool.id} driveId={pool.drive_id ?? ""} />
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
      <ListPrice typed={pool.drive_unit_price} id={pool.drive_id} />
      <h2 className="mt-5">Layout</h2>
      <Choice field="Pool.layout" path={`${path}/layout`} options={LAYOUTS} />
      <Quantity field="Pool.spares" path={`${path}/spares`} />
      <SharedSpares pool={pool} />
      <Choice field="Pool.filesystem" path={`${path}/filesystem`} options={FILESYSTEMS} />
      <Quantity field="Pool.snapshot_reserve_percent" path={`${path}/snapshot_reserve_percent`} />
      <Quantity field="Pool.headroom_percent" path={`${path}/headroom_percent`} />
      <Fold
        title="Measured instead of assumed"
        open={pool.scaling_exponent != null || pool.filesystem_percent != null}
      >
        <Quantity field="Pool.scaling_exponent" path={`${path}/scaling_exponent`} />
        <Quantity field="Pool.filesystem_percent" path={`${path}/filesystem_percent`} />
      </Fold>
      {(document.plan.boxes ?? []).length > 0 && (
        <TextField field="Pool.bays" path={`${path}/bays`} />
      )}
      <CacheFields poolId={pool.id} />
      <Origin pool={pool} />
    </>
  );
}

/** Another pool's hot spares that stand in here as well, where another has some. */
function SharedSpares({ pool }: { pool: Pool }) {
  const { document } = useSnapshot();
  const others = document.plan.pools.filter((p) => p.id !== pool.id && p.spares);
  if (!others.length && !pool.spares_of) return null;
  return (
    <Choice
      field="Pool.spares_of"
      path={`plan/pools/${pool.id}/spares_of`}
      options={[["", "no other pool"], ...others.map((p): [string, string] => [p.id, p.name])]}
    />
  );
}

/** All pools in one table: what each holds, and the load of its tier against what it carries. */
function AllPools({ results }: { results: PoolResult[] }) {
  const { evaluation } = useSnapshot();
  return (
    <>
      <h2>All pools</h2>
      <table className="ledger mb-5" aria-label="All pools">
        <thead>
          <tr>
            <th scope="col">Pool</th>
            <th scope="col">Holds</th>
            <th scope="col" className="num">
              Plannable
            </th>
            <th scope="col" className="num">
              Survives
            </th>
            <th scope="col" className="num">
              Carries of what is asked
            </th>
          </tr>
        </thead>
        <tbody>
          {results.map((pool) => {
            const hop = evaluation.wiring.hops.find((h) => h.id === pool.id);
            return (
              <tr key={pool.id}>
                <td>{pool.name}</td>
                <td>{pool.tier}</td>
                <td className="num">{sizeText(pool.plannable_bytes)}</td>
                <td className="num">{pool.guaranteed_failures}</td>
                <td className="num">
                  {hop &&
                    `${rateText(hop.capacity_bytes_per_s)} of ${rateText(hop.required_bytes_per_s)}`}
                </td>
              </tr>
            );
          })}
          <tr>
            <td className="font-semibold">Together</td>
            <td />
            <td className="num font-semibold">{sizeText(evaluation.tiers.plannable_bytes)}</td>
            <td />
            <td />
          </tr>
        </tbody>
      </table>
      <details className="mb-5">
        <summary className="text-button w-fit">The whole plan from carton to plannable</summary>
        <Waterfall of={evaluation.tiers} />
      </details>
    </>
  );
}

function Gives({ pool, result }: { pool: Pool; result: PoolResult }) {
  const { evaluation } = useSnapshot();
  const survives =
    result.guaranteed_failures === result.max_failures
      ? `${result.guaranteed_failures}`
      : `${result.guaranteed_failures} to ${result.max_failures}`;
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
            between {rateText(result.read.low_bytes_per_s)} and{" "}
            {rateText(result.read.high_bytes_per_s)}, with {result.streams} streams on a pool filled
            to its limit
          </span>
        </dd>
        <dt>Writes</dt>
        <dd>
          <Figure id={`tiers.${pool.id}.write`}>{rateText(result.write.middle_bytes_per_s)}</Figure>{" "}
          <span className="faint">
            between {rateText(result.write.low_bytes_per_s)} (small writes) and{" "}
            {rateText(result.write.high_bytes_per_s)}
            {result.fast_write &&
              `; the first ${sizeText(result.fast_write_bytes)} go in at ${rateText(result.fast_write.middle_bytes_per_s)}`}
          </span>
        </dd>
        <dt>Survives</dt>
        <dd>
          <Figure id="scales.safety">
            {survives} {survives === "1" ? "dead drive" : "dead drives"}
          </Figure>{" "}
          <span className="faint">
            one more loses {result.loses}. Redundancy is not a backup.
            {result.rebuild_seconds !== null && (
              <>
                {" "}
                A drive takes{" "}
                <Figure id={`tiers.${pool.id}.rebuild`}>
                  {hoursText(result.rebuild_seconds)}
                </Figure>{" "}
                to rebuild.
              </>
            )}
            {result.unreadable_odds !== null && (
              <>
                {" "}
                By data sheets{" "}
                <Figure id={`tiers.${pool.id}.unreadable`}>
                  {oddsText(result.unreadable_odds)}
                </Figure>{" "}
                rebuilds{" "}
                {result.final_members > result.members &&
                  `at its final width of ${result.final_members} drives `}
                meet a sector that cannot be read: {result.unreadable_costs}.
              </>
            )}
          </span>
        </dd>
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
