import type { CatalogueBox } from "../api/client";
import { Choice, Quantity } from "./fields";
import { RemoveItem } from "./ItemFieldset";
import { AddItem } from "./AddItem";

const KINDS: [string, string][] = [
  ["hdd", "disks"],
  ["ssd", "flash"],
];

/** What the list of a box, or of a class of boxes, lets in: drives by slot and role, up to a size. */
export function AllowLines({
  box,
  path,
}: {
  box: Pick<CatalogueBox, "name" | "allows">;
  path: string;
}) {
  const allows = box.allows ?? [];
  return (
    <>
      <p className="faint mt-2 text-sm">
        {allows.length ? "Its list lets in:" : "It has no list: every drive is taken to fit."}
      </p>
      {allows.map((line) => {
        const at = `${path}/allows/${line.id}`;
        const label = (what: string) => `${box.name}, ${line.id}: ${what}`;
        return (
          <div key={line.id} className="flex flex-wrap items-center gap-2 py-1">
            <Choice
              bare
              field="Allow.kind"
              path={`${at}/kind`}
              options={KINDS}
              label={label("kind")}
            />
            <span>in a</span>
            <Choice bare field="Allow.slot" path={`${at}/slot`} label={label("slot")} />
            <span>as</span>
            <Choice bare field="Allow.role" path={`${at}/role`} label={label("role")} />
            <span>up to</span>
            <Quantity
              bare
              field="Allow.largest_bytes"
              path={`${at}/largest_bytes`}
              label={label("up to")}
            />
            <span>TB</span>
            <RemoveItem path={at} name={label("line of its list")} />
          </div>
        );
      })}
      <AddItem className="text-sm" path={`${path}/allows`}>
        Add a line to its list<span className="sr-only"> for {box.name}</span>
      </AddItem>
    </>
  );
}
