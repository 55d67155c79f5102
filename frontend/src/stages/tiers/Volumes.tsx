import { fieldsIn } from "../../plan/AllFields";
import { Quantity, RefusedHere, TextField, Tick } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { counted, sizeText, valueText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";
import { Fold, More } from "../../kit/Fold";

const KINDS: [string, string][] = [
  ["file", "files, quota"],
  ["block", "block, size"],
];

/** The volumes of one pool: what each may hold, what is set aside for it, who can unlock it. */
export function Volumes({ poolId }: { poolId: string }) {
  const { document, evaluation } = useSnapshot();
  const all = document.plan.volumes ?? [];
  const own = all.filter((v) => v.pool_id === poolId);
  const told = evaluation.tiers.volumes.find((v) => v.pool_id === poolId);
  return (
    <Fold title="Volumes" said={counted(own.length, "volume")} open={own.length > 0}>
      {own.map((volume) => {
        const path = `plan/volumes/${volume.id}`;
        const its = fieldsIn("Volume", path, volume.name);
        return (
          <ItemFieldset key={volume.id} field="Volume.name" path={path} name={volume.name}>
            {its("kind", "kind", KINDS)}
            {its("size_bytes", "quota or size")}
            <span>TB, of it set aside</span>
            {its("reserved_bytes", "reserved")}
            <span>TB; snapshots for</span>
            {its("snapshot_days", "snapshots kept")}
            <span>days</span>
            <More of={volume.name}>
              <Quantity
                field="Volume.rewritten_bytes_per_day"
                path={`${path}/rewritten_bytes_per_day`}
              />
              <Tick field="Volume.is_thin" path={`${path}/is_thin`} />
              <Tick field="Volume.is_encrypted" path={`${path}/is_encrypted`} />
              {volume.is_encrypted && (
                <TextField field="Volume.key_holder" path={`${path}/key_holder`} />
              )}
            </More>
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/volumes" />
      {told && told.count > 0 && (
        <p className="mt-1 text-sm">
          {sizeText(told.promised_bytes)} promised
          {told.overcommit !== null &&
            `, ${valueText(told.overcommit, "share", "")} of plannable`};{" "}
          {sizeText(told.set_aside_bytes)} set aside.{" "}
          {told.encrypted_share > 0 &&
            `${valueText(told.encrypted_share, "share", "")} of it encrypted.`}{" "}
          <span className="faint">A quota of 0 is none: such a volume may fill the pool.</span>
        </p>
      )}
      <AddItem className="mt-2" path="plan/volumes" given={{ pool_id: poolId }}>
        Add a volume
      </AddItem>
    </Fold>
  );
}
