import type { PlanDocument } from "../../api/client";
import { Quantity, Tick } from "../../plan/fields";
import { Fold } from "../../kit/Fold";

type Pool = PlanDocument["plan"]["pools"][number];

/** Where a pool's drives come from, and what replaces them. */
export function Origin({ pool }: { pool: Pool }) {
  const path = `plan/pools/${pool.id}`;
  const said = [
    pool.are_used ? "used" : "",
    pool.cold_spares ? `${pool.cold_spares} on the shelf` : "",
    pool.reused_drives ? `${pool.reused_drives} from stock` : "",
  ].filter(Boolean);
  const isWholeFile = pool.layout.startsWith("filewise");
  return (
    <Fold title="Spares and age" said={said.join(", ")}>
      <Quantity field="Pool.cold_spares" path={`${path}/cold_spares`} />
      {!pool.mixed_sizes && pool.spares ? (
        <Quantity field="Pool.spare_bytes" path={`${path}/spare_bytes`} />
      ) : null}
      {!pool.mixed_sizes && isWholeFile && (
        <Quantity field="Pool.parity_bytes" path={`${path}/parity_bytes`} />
      )}
      <Quantity field="Pool.batches" path={`${path}/batches`} />
      <Tick field="Pool.are_used" path={`${path}/are_used`} />
      {pool.are_used && <Tick field="Pool.surface_tested" path={`${path}/surface_tested`} />}
      <Quantity field="Pool.reused_drives" path={`${path}/reused_drives`} />
      <Quantity field="Pool.hours_run" path={`${path}/hours_run`} />
      <p className="faint text-sm">
        A hot spare starts a rebuild by itself and is shared by the pool’s groups; hot-swap only
        means that a drive can be changed while the box runs.
      </p>
    </Fold>
  );
}
