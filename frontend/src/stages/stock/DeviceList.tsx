import { memo, useState } from "react";

import type { Device, DeviceResult } from "../../api/client";
import { sizeText } from "../../kit/format";
import { onlyHere } from "./shelf";
import { HEALTH_MARKS } from "./ShelfDrawing";
import { Heads, Table } from "../../kit/Table";
import { Button } from "../../kit/Button";

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
      <Table className="mt-4" aria-label="Devices">
        <Heads of={["Device", "#Used", "#Size", "State", "Place", "Holds"]} />
        <tbody>
          {shown.map((device) => (
            <Line key={device.id} device={device} result={results.get(device.id)} onOpen={onOpen} />
          ))}
        </tbody>
      </Table>
      {pages > 1 && (
        <p className="mt-2 flex items-center gap-3">
          <Button disabled={page === 0} onClick={() => setPage(page - 1)}>
            Earlier
          </Button>
          page {page + 1} of {pages}
          <Button disabled={page + 1 >= pages} onClick={() => setPage(page + 1)}>
            Later
          </Button>
        </p>
      )}
    </>
  );
});

const boxText = (box: Device): string =>
  [box.ports, box.bays ? `${box.bays} bays` : ""].filter(Boolean).join(", ");

function Line({
  device,
  result,
  onOpen,
}: {
  device: Device;
  result: DeviceResult | undefined;
  onOpen: (id: string) => void;
}) {
  return (
    <tr>
      <td>
        <Button look="text" onClick={() => onOpen(device.id)}>
          {device.label}
        </Button>
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
            {result?.sole_material.includes(h.material) && (
              <b className="font-semibold">{onlyHere(device)}</b>
            )}
          </span>
        ))}
      </td>
    </tr>
  );
}
