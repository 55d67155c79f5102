import { describe, expect, it } from "vitest";

import type { Device, Material, Stock, StockChange } from "../../api/client";
import { found, foundMaterials, shelves, withChange } from "./shelf";

const device = (label: string, terabytes: number, place: string, material = ""): Device =>
  ({
    id: label,
    label,
    size_bytes: terabytes * 1e12,
    place,
    holder: "",
    serial: `S-${label}`,
    medium: "hdd",
    holdings: material ? [{ material, bytes: 1, worth: "costly" }] : [],
  }) as unknown as Device;

const SHELF = [
  device("A", 4, "Loft", "Gannets"),
  device("B", 8, "Loft", "Terns"),
  device("C", 8, "", "Gannets"),
];

describe("the search", () => {
  it("finds a device by every word, wherever it stands", () => {
    expect(found(SHELF, "gannets").map((d) => d.label)).toEqual(["A", "C"]);
    expect(found(SHELF, "GANNETS loft").map((d) => d.label)).toEqual(["A"]);
    expect(found(SHELF, "s-b").map((d) => d.label)).toEqual(["B"]);
    expect(found(SHELF, " ")).toHaveLength(3);
  });
});

describe("a change", () => {
  it("is put in its place, what is new comes last, and what is gone goes", () => {
    const stock = { devices: SHELF, role: "technician" } as unknown as Stock;
    const change = {
      devices: [{ ...SHELF[1], label: "B2" }, device("D", 1, "Loft")],
      removed: ["A"],
    } as unknown as StockChange;
    const after = withChange(stock, change);
    expect(after.devices.map((d) => d.label)).toEqual(["B2", "C", "D"]);
    expect(stock.devices).toBe(SHELF);
  });
});

describe("the search for material", () => {
  const material = (name: string, ...on: string[]): Material =>
    ({ name, copies: on.map((id) => ({ device_id: id, material: name })) }) as unknown as Material;
  const byId = new Map(SHELF.map((d) => [d.label, d]));

  it("answers to its name, and to its name with one of its devices", () => {
    const all = [material("Gannets", "A", "C"), material("Terns", "B")];
    const names = (words: string) => foundMaterials(all, byId, words).map((m) => m.name);
    expect(names("gannets")).toEqual(["Gannets"]);
    expect(names("loft")).toEqual(["Gannets", "Terns"]);
    expect(names("terns s-a")).toEqual([]);
  });
});

describe("the drawn shelves", () => {
  it("group by place, with widths in proportion to capacity", () => {
    const [loft, none] = shelves(SHELF, 720);
    expect([loft?.place, none?.place]).toEqual(["Loft", "No place"]);
    const [a, b] = loft?.rows[0] ?? [];
    expect((b?.width ?? 0) / (a?.width ?? 1)).toBeCloseTo(2);
  });

  it("stand apart by box, and an open box is the shelf of its drives", () => {
    const inBox = { ...device("D", 4, "Hall"), box: "Hall box" };
    const box = { ...device("Hall box", 0, "Hall"), kind: "box" } as Device;
    const [hall] = shelves([box, inBox], 720);
    expect(hall?.place).toBe("Hall, Hall box");
    expect(hall?.rows.flat().map((b) => b.device.label)).toEqual(["D"]);
  });

  it("never reach past their end and lose no device", () => {
    const many = Array.from({ length: 40 }, (_, n) => device(`D${n}`, 1 + (n % 9), "Rack"));
    const rows = shelves(many, 720)[0]?.rows ?? [];
    expect(rows.flat()).toHaveLength(40);
    for (const row of rows) {
      const last = row[row.length - 1];
      expect((last?.x ?? 0) + (last?.width ?? 0)).toBeLessThanOrEqual(720);
    }
  });
});
