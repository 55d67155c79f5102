import { fieldsIn } from "./AllFields";
import type { CatalogueBox } from "../api/client";
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
        const whole = `${box.name}, ${line.id}`;
        const its = fieldsIn("Allow", at, whole);
        return (
          <div key={line.id} className="flex flex-wrap items-center gap-2 py-1">
            {its("kind", "kind", KINDS)}
            <span>in a</span>
            {its("slot", "slot")}
            <span>as</span>
            {its("role", "role")}
            <span>up to</span>
            {its("largest_bytes", "up to")}
            <span>TB</span>
            <RemoveItem path={at} name={`${whole}: line of its list`} />
          </div>
        );
      })}
      <AddItem className="text-sm" path={`${path}/allows`}>
        Add a line to its list<span className="sr-only"> for {box.name}</span>
      </AddItem>
    </>
  );
}
