import { useMemo } from "react";

import type { PlanDocument } from "../../api/client";
import { Choice, Quantity, TextField, type Option } from "../../plan/fields";
import { usePart, useSnapshot } from "../../plan/context";
import { CacheFields } from "./CacheFields";
import { OwnFigures } from "../../plan/OwnFigures";
import { DriveClass } from "./DriveClass";
import { ListPrice } from "./ListPrice";
import { Origin } from "./Origin";
import { Fold } from "../../kit/Fold";

type Pool = PlanDocument["plan"]["pools"][number];

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

/** What a pool is made of: its drives, their layout, what stands before them, where they come from. */
export function PoolFields({ pool }: { pool: Pool }) {
  const { document } = useSnapshot();
  const path = `plan/pools/${pool.id}`;
  const layouts = useLayouts(pool);
  return (
    <>
      <TextField field="Pool.name" path={`${path}/name`} />
      <Choice field="Pool.tier" path={`${path}/tier`} options={TIERS} />
      <h2 className="mt-4">Drives</h2>
      <DriveClass poolId={pool.id} driveId={pool.drive_id ?? ""} />
      <OwnFigures path={path} />
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
      <Choice field="Pool.layout" path={`${path}/layout`} options={layouts} />
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

/** What the comparison offers for these drives; the pool's own stands among it before it is judged, too. */
function useLayouts({ id, layout }: Pool): Option[] {
  const { evaluation } = useSnapshot();
  const offered = evaluation.tiers.pools.find((p) => p.id === id)?.layouts_offered;
  // The same list for the same words, however often the pool is judged.
  const said = JSON.stringify((offered ?? []).map((each): Option => [each.layout, each.words]));
  return useMemo(() => {
    const listed = JSON.parse(said) as Option[];
    return listed.some(([own]) => own === layout) ? listed : [...listed, [layout, layout]];
  }, [said, layout]);
}

/** Another pool's hot spares that stand in here as well, where another has some. */
function SharedSpares({ pool }: { pool: Pool }) {
  const pools = usePart((snapshot) => snapshot.document.plan.pools);
  const options = useMemo(() => {
    const others = pools.filter((p) => p.id !== pool.id && p.spares);
    return [["", "no other pool"], ...others.map((p): Option => [p.id, p.name])] as Option[];
  }, [pools, pool.id]);
  if (options.length === 1 && !pool.spares_of) return null;
  return (
    <Choice field="Pool.spares_of" path={`plan/pools/${pool.id}/spares_of`} options={options} />
  );
}
