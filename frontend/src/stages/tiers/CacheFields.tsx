import { Choice, Quantity, RefusedHere, TextField, Tick } from "../../kit/fields";
import { RemoveItem } from "../../kit/ItemFieldset";
import type { FieldName } from "../../kit/quantity";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";

const MODES: [string, string][] = [
  ["read", "Reads only"],
  ["write-through", "Reads, writes through"],
  ["write-back", "Reads and writes back"],
];
const NUMBERS = [
  "drive_count",
  "drive_bytes",
  "read_bytes_per_s",
  "write_bytes_per_s",
  "endurance_bytes",
  "drive_unit_price",
] as const;

/** The flash cache before a pool: there is one or there is none. */
export function CacheFields({ poolId }: { poolId: string }) {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const caches = document.plan.caches ?? [];
  const cache = caches.find((c) => c.pool_id === poolId);
  if (!cache) {
    const add = () =>
      session.change({
        op: "add",
        path: "plan/caches",
        value: {
          id: freshId("cache", caches),
          name: "Flash cache",
          pool_id: poolId,
          mode: "read",
          drive_count: 2,
          drive_bytes: 2_000_000_000_000,
          read_bytes_per_s: 3_000_000_000,
          write_bytes_per_s: 1_500_000_000,
          is_mirrored: false,
          keeps_power: false,
          endurance_bytes: 0,
          drive_unit_price: null,
        },
      });
    return (
      <>
        {mayWrite && (
          <button type="button" className="text-button mt-4" onClick={add}>
            Add a flash cache
          </button>
        )}
        <RefusedHere path="plan/caches" />
      </>
    );
  }
  const path = `plan/caches/${cache.id}`;
  return (
    <>
      <h2 className="mt-5 flex items-center justify-between">
        Flash cache
        <RemoveItem path={path} name={cache.name} />
      </h2>
      <TextField field="Cache.name" path={`${path}/name`} />
      <Choice field="Cache.mode" path={`${path}/mode`} options={MODES} />
      {NUMBERS.map((name) => (
        <Quantity key={name} field={`Cache.${name}` as FieldName} path={`${path}/${name}`} />
      ))}
      {(document.plan.boxes ?? []).length > 0 && (
        <TextField field="Cache.bays" path={`${path}/bays`} />
      )}
      <Tick field="Cache.is_mirrored" path={`${path}/is_mirrored`} />
      <Tick field="Cache.keeps_power" path={`${path}/keeps_power`} />
    </>
  );
}
