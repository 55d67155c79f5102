import { memo, useState } from "react";

import type { Device, DeviceResult } from "../../api/client";
import { sizeText } from "../../kit/format";
import { onlyHere } from "./shelf";
import { HEALTH_MARKS } from "./ShelfDrawing";

const PAGE = 50;

/** The devices as a table, a page at a time. */
export const DeviceList = memo(function DeviceList({
  devices,
  results,
  onOpen,
}: {
  devices: Device[];
  results: Map<string, DeviceResult>;
  onOpen: (id: string) => void;
}) {
  const [page, setPage] = useState(0);
  if (!devices.length) return null;
  const pages = Math.ceil(devices.length / PAGE);
  const shown = devices.slice(page * PAGE, (page + 1) * PAGE);
  return (
    <>
      <table className="ledger mt-4" aria-label="Devices">
        <thead>
          <tr>
            <th scope="col">Device</th>
            <th scope="col" className="num">
              Used
            </th>
            <th scope="col" className="num">
              Size
            </th>
            <th scope="col">State</th>
            <th scope="col">Place</th>
            <th scope="col">Holds</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((device) => {
            const result = results.get(device.id);
            const sole = new Set(result?.sole_material);
            return (
              <tr key={device.id}>
                <td>
                  <button type="button" className="text-button" onClick={() => onOpen(device.id)}>
                    {device.label}
                  </button>
                </td>
                <td className="num">{device.size_bytes ? sizeText(device.used_bytes ?? 0) : ""}</td>
                <td className="num">{device.size_bytes ? sizeText(device.size_bytes) : "box"}</td>
                <td className="whitespace-nowrap">
                  {result ? `${HEALTH_MARKS[result.health]} ${result.health}` : ""}
                </td>
                <td>
                  {[device.place, device.box].filter(Boolean).join(", ")}
                  {device.holder ? <span className="faint"> with {device.holder}</span> : ""}
                </td>
                <td>
                  {device.kind === "box" && <span className="faint">{boxText(device)}</span>}
                  {(device.holdings ?? []).map((h) => (
                    <span key={h.material} className="block">
                      {h.material}{" "}
                      {sole.has(h.material) && <b className="font-semibold">{onlyHere(device)}</b>}
                    </span>
                  ))}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {pages > 1 && (
        <p className="mt-2 flex items-center gap-3">
          <button
            type="button"
            className="plain-button"
            disabled={page === 0}
            onClick={() => setPage(page - 1)}
          >
            Earlier
          </button>
          page {page + 1} of {pages}
          <button
            type="button"
            className="plain-button"
            disabled={page + 1 >= pages}
            onClick={() => setPage(page + 1)}
          >
            Later
          </button>
        </p>
      )}
    </>
  );
});

const boxText = (box: Device): string =>
  [box.ports, box.bays ? `${box.bays} bays` : ""].filter(Boolean).join(", ");
