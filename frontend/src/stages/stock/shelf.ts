/** Which devices are asked for, and how they lie on the drawn shelves. */

import type { Device, Material, Stock, StockChange } from "../../api/client";

/** Devices of which every word is found in label, box, place, holder, serial or material. */
export function found(devices: readonly Device[], words: string): Device[] {
  const wanted = wordsOf(words);
  return devices.filter((device) => hasAll(textOf(device) + materialText(device), wanted));
}

/** Material of which every word is found in its names, or with one of the devices it lies on. */
export function foundMaterials(
  materials: readonly Material[],
  devices: ReadonlyMap<string, Device>,
  words: string,
): Material[] {
  const wanted = wordsOf(words);
  return materials.filter((material) => {
    const name = material.name.toLowerCase();
    return material.copies.some((copy) => {
      const device = devices.get(copy.device_id);
      return hasAll(
        `${name} ${copy.material.toLowerCase()} ${device ? textOf(device) : ""}`,
        wanted,
      );
    });
  });
}

const wordsOf = (words: string): string[] => words.toLowerCase().split(/\s+/).filter(Boolean);

const hasAll = (text: string, wanted: readonly string[]): boolean =>
  wanted.every((word) => text.includes(word));

/** What is searched of a device, kept as long as the device is: a search is made at every key. */
function kept(make: (device: Device) => string): (device: Device) => string {
  const texts = new WeakMap<Device, string>();
  return (device) => {
    const known = texts.get(device);
    if (known !== undefined) return known;
    const text = make(device).toLowerCase();
    texts.set(device, text);
    return text;
  };
}

const textOf = kept((d) => [d.label, d.box, d.place, d.holder, d.serial, d.medium, ""].join(" "));
const materialText = kept((d) => (d.holdings ?? []).map((h) => h.material).join(" "));

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

/** Devices grouped by place and box; each as wide as its capacity on one scale, rows broken where the shelf ends. */
export function shelves(devices: readonly Device[], width: number): Shelf[] {
  const largest = Math.max(...devices.map((d) => d.size_bytes), 1);
  const scale = Math.min(width / 5, 150) / largest;
  const places = new Map<string, Block[][]>();
  for (const device of devices) {
    const isOpenBox = device.kind === "box" && !device.size_bytes;
    const box = device.kind === "box" ? device.label : device.box;
    const place = [device.place || (box ? "" : "No place"), box].filter(Boolean).join(", ");
    if (isOpenBox) {
      // Its drives are drawn; the box itself is their shelf.
      places.set(place, places.get(place) ?? [[]]);
      continue;
    }
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

/** Drives in one box fail as one: a copy beside it in there is none. */
export const onlyHere = (device: Device | undefined): string =>
  device?.box ? "only in this box" : "only here";

/** The stock with what a change answered in its place; figures made of the whole shelf are as they were. */
export function withChange(stock: Stock, change: StockChange): Stock {
  const changed = new Map(change.devices.map((device) => [device.id, device]));
  const gone = new Set(change.removed);
  const kept = stock.devices
    .filter((device) => !gone.has(device.id))
    .map((device) => changed.get(device.id) ?? device);
  const known = new Set(stock.devices.map((device) => device.id));
  const added = change.devices.filter((device) => !known.has(device.id));
  return { ...stock, devices: [...kept, ...added] };
}
