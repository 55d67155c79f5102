/** Bays as one writes them, for the field they are kept in; the core reads and joins them. */

import type { Evaluation } from "../../api/client";

export type BoxResult = Evaluation["bays"]["boxes"][number];
export type BayResult = BoxResult["bays"][number];

export interface Place {
  box: string;
  slot: BayResult["slot"];
  number: number;
}

/** "east:1,2,3 east:f1". */
export function written(places: readonly Place[]): string {
  const words = new Map<string, string[]>();
  for (const { box, slot, number } of places) {
    const mark = slot === "bay" ? "" : "f";
    const key = `${box}:${mark}`;
    words.set(key, [...(words.get(key) ?? []), `${mark}${number}`]);
  }
  return [...words].map(([key, list]) => `${key.replace(/f$/, "")}${list.join(",")}`).join(" ");
}

const places = (boxes: readonly BoxResult[], wanted: (bay: BayResult) => boolean): Place[] =>
  boxes.flatMap((box) =>
    box.bays.filter(wanted).map(({ slot, number }) => ({ box: box.id, slot, number })),
  );

/** Where a pool or cache lies. */
export const placesOf = (boxes: readonly BoxResult[], id: string): Place[] =>
  places(boxes, (bay) => bay.occupant_id === id);

/** The places with one more or one less. */
export function toggled(now: readonly Place[], place: Place): Place[] {
  const same = (other: Place) =>
    other.box === place.box && other.slot === place.slot && other.number === place.number;
  return now.some(same) ? now.filter((p) => !same(p)) : [...now, place];
}

/** The first free places for so many drives, of the kind of slot that is asked for. */
export const freePlaces = (
  boxes: readonly BoxResult[],
  slot: BayResult["slot"],
  count: number,
): Place[] =>
  places(boxes, (bay) => bay.slot === slot && bay.lies === "free").slice(0, Math.max(count, 0));
