import { memo } from "react";

import type { Device, Material } from "../../api/client";
import { dateText, sizeText } from "../../kit/format";
import { onlyHere } from "./shelf";
import { Heads, Table } from "../../kit/Table";
import { Button } from "../../kit/Button";

const SHOWN = 4;
const COPIES_SHOWN = 12;
const EVIDENCE: Record<Material["evidence"], string> = {
  name: "told by the same name",
  label: "told by main and backup labels",
  checksums: "told by checksums",
};

interface Reach {
  devices: Map<string, Device>;
  onOpen: (id: string) => void;
}

/** Which drive is it on: every copy of the material asked for, with box, place, holder and last read-back. */
export const Where = memo(function Where({
  materials,
  devices,
  onOpen,
}: Reach & { materials: Material[] }) {
  return (
    <section aria-label="Where it is">
      {materials.slice(0, SHOWN).map((material) => (
        <div key={material.name} className="mt-4">
          <h2 className="text-base">{material.name}</h2>
          <p>
            {sizeText(material.unique_bytes)}
            {material.places === 1
              ? " in one place only"
              : ` in ${material.places} places, ${EVIDENCE[material.evidence]}`}
            {material.sole_bytes > 0 && material.places > 1 && (
              <b className="font-semibold">, {sizeText(material.sole_bytes)} only once</b>
            )}
          </p>
          <Copies material={material} devices={devices} onOpen={onOpen} />
          {material.copies.length > COPIES_SHOWN && (
            <p className="faint text-sm">and {material.copies.length - COPIES_SHOWN} more copies</p>
          )}
        </div>
      ))}
      {materials.length > SHOWN && (
        <p className="faint mt-1 text-sm">
          and {materials.length - SHOWN} more projects and shoots
        </p>
      )}
    </section>
  );
});

/** "Hall box, Hall", "with the boat unit since 20 Nov 2026". */
export function whereabouts(device: Device | undefined): string {
  if (!device) return "";
  const at = [device.box, device.place].filter(Boolean).join(", ");
  if (!device.holder) return at;
  const since = device.handed_on ? ` since ${dateText(device.handed_on)}` : "";
  return `with ${device.holder}${since}${at ? `, else ${at}` : ""}`;
}

function Copies({ material, devices, onOpen }: Reach & { material: Material }) {
  return (
    <Table>
      <Heads of={["On", "Where", "Copy", "#Size", "Last read back"]} />
      <tbody>
        {material.copies.slice(0, COPIES_SHOWN).map((copy) => {
          const device = devices.get(copy.device_id);
          return (
            <tr key={`${copy.device_id} ${copy.material}`}>
              <td>
                <Button look="text" onClick={() => onOpen(copy.device_id)}>
                  {device?.label}
                </Button>
                {copy.material !== material.name && (
                  <span className="faint block text-sm">as {copy.material}</span>
                )}
              </td>
              <td>{whereabouts(device)}</td>
              <td>
                {copy.role === "unsaid" ? "" : copy.role}
                {copy.sole_bytes > 0 && <b className="block font-semibold">{onlyHere(device)}</b>}
              </td>
              <td className="num">{sizeText(copy.bytes)}</td>
              <td className={copy.is_stale ? "state-tight" : ""}>
                {copy.read_back_on ? dateText(copy.read_back_on) : "never"}
                {copy.is_stale && copy.read_back_on ? ", too long ago" : ""}
              </td>
            </tr>
          );
        })}
      </tbody>
    </Table>
  );
}
