/** Which devices are asked for, and how they lie on the drawn shelves. */

import type { Device } from "../../api/client";

/** Devices of which every word is found in label, place, holder, serial or material. */
export function found(devices: readonly Device[], words: string): Device[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  if (!wanted.length) return [...devices];
  return devices.filter((device) => {
    const text = [
      device.label,
      device.place,
      device.holder,
      device.serial,
      device.medium,
      ...(device.holdings ?? []).map((h) => h.material),
    ]
      .join(" ")
      .toLowerCase();
    return wanted.every((word) => text.includes(word));
  });
}

export interface Block {
  device: Device;
  x: number;
  width: number;
}

export interface Shelf {
  place: string;
  rows: Block[][];
}

const GAP = 5;
const NARROWEST = 26;

/** Devices grouped by place; each as wide as its capacity on one scale, rows broken where the shelf ends. */
export function shelves(devices: readonly Device[], width: number): Shelf[] {
  const largest = Math.max(...devices.map((d) => d.size_bytes), 1);
  const scale = Math.min(width / 5, 150) / largest;
  const places = new Map<string, Block[][]>();
  for (const device of devices) {
    const place = device.place || "No place";
    const rows = places.get(place) ?? [[]];
    places.set(place, rows);
    const blockWidth = Math.max(device.size_bytes * scale, NARROWEST);
    const row = rows[rows.length - 1] ?? [];
    const last = row[row.length - 1];
    const x = last ? last.x + last.width + GAP : 0;
    if (last && x + blockWidth > width) rows.push([{ device, x: 0, width: blockWidth }]);
    else row.push({ device, x, width: blockWidth });
  }
  return [...places].map(([place, rows]) => ({ place, rows }));
}
