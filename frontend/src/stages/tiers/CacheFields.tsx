import { ClassChoice } from "../../kit/ClassChoice";
import { Choice, Quantity, RefusedHere, TextField, Tick } from "../../plan/fields";
import { RemoveItem } from "../../plan/ItemFieldset";
import type { PlanDocument } from "../../api/client";
import type { FieldName } from "../../kit/quantity";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { OwnFigures } from "../../plan/OwnFigures";
import { useClass } from "../../plan/useClass";
import { AddItem } from "../../plan/AddItem";

const MODES: [string, string][] = [
  ["read", "Reads only"],
  ["write-through", "Reads, writes through"],
  ["write-back", "Reads and writes back"],
  ["staging", "Staging drive, emptied in runs"],
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
  const { document } = useSnapshot();
  const caches = document.plan.caches ?? [];
  const cache = caches.find((c) => c.pool_id === poolId);
  if (!cache) {
    return (
      <>
        <AddItem className="mt-4" path="plan/caches" given={{ pool_id: poolId }}>
          Add a flash cache or staging drive
        </AddItem>
        <RefusedHere path="plan/caches" />
      </>
    );
  }
  const path = `plan/caches/${cache.id}`;
  return (
    <>
      <h2 className="mt-5 flex items-center justify-between">
        {cache.mode === "staging" ? "Staging drive" : "Flash cache"}
        <RemoveItem path={path} name={cache.name} />
      </h2>
      <TextField field="Cache.name" path={`${path}/name`} />
      <Choice field="Cache.mode" path={`${path}/mode`} options={MODES} />
      {cache.mode === "staging" && (
        <Quantity field="Cache.emptied_every_hours" path={`${path}/emptied_every_hours`} />
      )}
      <CacheClass cache={cache} />
      <OwnFigures path={path} />
      {NUMBERS.map((name) => (
        <Quantity key={name} field={`Cache.${name}` as FieldName} path={`${path}/${name}`} />
      ))}
      {(document.plan.boxes ?? []).length > 0 && (
        <TextField field="Cache.bays" path={`${path}/bays`} />
      )}
      {cache.mode !== "staging" && (
        <Tick field="Cache.admits_sequential" path={`${path}/admits_sequential`} />
      )}
      <Tick field="Cache.is_mirrored" path={`${path}/is_mirrored`} />
      <Tick field="Cache.keeps_power" path={`${path}/keeps_power`} />
    </>
  );
}

type Cache = NonNullable<PlanDocument["plan"]["caches"]>[number];

/** The class of a cache's drives; choosing one takes its figures over. */
function CacheClass({ cache }: { cache: Cache }) {
  const { mayWrite } = usePlanTools();
  const { problem, takeClass } = useClass();
  const { document } = useSnapshot();
  const drives = (document.catalogue?.drives ?? []).filter((d) => d.kind === "ssd");
  if (!drives.length) return null;
  return (
    <ClassChoice
      id={`class-${cache.id}`}
      label="Class of flash"
      classes={drives}
      value={cache.drive_id ?? ""}
      disabled={!mayWrite}
      problem={problem}
      onChoose={(id) => takeClass(`plan/caches/${cache.id}`, id)}
    />
  );
}
