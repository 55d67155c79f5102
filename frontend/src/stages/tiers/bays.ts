/** Bays as one writes them, for the field they are kept in; the core reads and joins them. */

import type { Evaluation } from "../../api/client";

export type BoxResult = Evaluation["bays"]["boxes"][number];
export type BayResult = BoxResult["bays"][number];

export interface Place {
  box: string;
  slot: BayResult["slot"];
  number: number;
}

/** "east:1,2,3 east:f1", in their order: drives take the bays as they are written, spares last. */
export function written(places: readonly Place[]): string {
  const words: { key: string; list: string[] }[] = [];
  for (const { box, slot, number } of places) {
    const mark = slot === "bay" ? "" : "f";
    const key = `${box}:${mark}`;
    const last = words.at(-1);
    if (last?.key === key) last.list.push(`${mark}${number}`);
    else words.push({ key, list: [`${mark}${number}`] });
  }
  return words.map(({ key, list }) => `${key.replace(/f$/, "")}${list.join(",")}`).join(" ");
}

const same = (a: Place, b: Place) => a.box === b.box && a.slot === b.slot && a.number === b.number;

const found = (boxes: readonly BoxResult[], wanted: (bay: BayResult) => boolean) =>
  boxes.flatMap((box) => box.bays.filter(wanted).map((bay) => ({ place: placeOf(box, bay), bay })));

export const placeOf = (box: BoxResult, { slot, number }: BayResult): Place => ({
  box: box.id,
  slot,
  number,
});

/** Where a pool or cache lies, in the order of its drives. */
export const placesOf = (boxes: readonly BoxResult[], id: string): Place[] =>
  found(boxes, (bay) => bay.occupant_id === id)
    .sort((a, b) => (a.bay.order ?? 0) - (b.bay.order ?? 0))
    .map(({ place }) => place);

/** The places with one more or one less. */
export function toggled(now: readonly Place[], place: Place): Place[] {
  return now.some((p) => same(p, place)) ? now.filter((p) => !same(p, place)) : [...now, place];
}

/** The first free places for so many drives, of the kind of slot that is asked for. */
export const freePlaces = (
  boxes: readonly BoxResult[],
  slot: BayResult["slot"],
  count: number,
): Place[] =>
  found(boxes, (bay) => bay.slot === slot && bay.lies === "free")
    .map(({ place }) => place)
    .slice(0, Math.max(count, 0));

/** Who lies where once what is in two bays has changed places; a free bay takes, an occupied one gives. */
export function swapped(
  boxes: readonly BoxResult[],
  one: Place,
  other: Place,
): { id: string; places: Place[] }[] {
  const turned = (place: Place) => (same(place, one) ? other : same(place, other) ? one : place);
  const here = found(boxes, () => true).filter(
    ({ place }) => same(place, one) || same(place, other),
  );
  const ids = new Set(here.map(({ bay }) => bay.occupant_id).filter((id) => id !== null));
  return [...ids].map((id) => ({ id, places: placesOf(boxes, id).map(turned) }));
}
