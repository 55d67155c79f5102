import type { DrawnDay } from "../../api/client";

export const WIDTH = 720;
export const LEFT = 150;
export const RIGHT = 694;

type Job = DrawnDay["day"]["jobs"][number];
type Seat = DrawnDay["day"]["seats"][number];

/** A lane of the drawing: what it shows, and between which heights. */
export type LaneRow = { key: string; top: number; bottom: number } & (
  | { kind: "job"; job: Job }
  | { kind: "cache"; cache: DrawnDay["caches"][number] }
  | { kind: "hop"; hop: DrawnDay["hops"][number] }
  | { kind: "seat"; name: string; seats: Seat[] }
);

const HEIGHTS = { job: 20, cache: 52, hop: 40, seat: 18 } as const;
const GAP = 8;
const MOST_HOPS = 5;
const CHART = 6;

/** Between which heights a lane is charted: from the line of all there is down to nothing. */
export const chartOf = ({ top, bottom }: { top: number; bottom: number }) => ({
  top: top + CHART,
  bottom: bottom - CHART / 2,
});

/** The hops that are looked at: the fullest come first. */
export const hopsOf = (day: DrawnDay) => day.hops.slice(0, MOST_HOPS);
const MOST_STANDING = 10;
const MOST_FIXED = 12;

type Content = LaneRow extends infer R
  ? R extends LaneRow
    ? Omit<R, "top" | "bottom">
    : never
  : never;

/** The lanes one below the other: jobs, caches, hops, seats; each kind a little apart. */
export function rowsOf(day: DrawnDay, top: number, fixed: ReadonlySet<string>): LaneRow[] {
  const contents: Content[] = [
    ...day.day.jobs.map((job, n): Content => ({ kind: "job", key: `job ${n}`, job })),
    ...day.caches.map((cache): Content => ({ kind: "cache", key: `cache ${cache.id}`, cache })),
    ...hopsOf(day).map((hop): Content => ({ kind: "hop", key: `hop ${hop.id}`, hop })),
    ...seatRows(day.day.seats, fixed),
  ];
  let at = top;
  return contents.map((content, n) => {
    if (n && contents[n - 1]?.kind !== content.kind) at += GAP;
    const row = { ...content, top: at, bottom: at + HEIGHTS[content.kind] } as LaneRow;
    at = row.bottom;
    return row;
  });
}

/** Who stands, and whose hours are fixed, has a lane of its own; the others of a class share one. */
function seatRows(seats: readonly Seat[], fixed: ReadonlySet<string>): Content[] {
  const standing = [
    ...seats.filter((seat) => seat.spells.length > 0).slice(0, MOST_STANDING),
    ...seats.filter((seat) => !seat.spells.length && fixed.has(seat.id)).slice(0, MOST_FIXED),
  ].sort((a, b) => seats.indexOf(a) - seats.indexOf(b));
  const calm = seats.filter((seat) => !standing.includes(seat) && seat.sessions.length > 0);
  const classes = [...new Set(calm.map((seat) => seat.id))];
  const many = (id: string) => seats.filter((seat) => seat.id === id).length > 1;
  return [
    ...standing.map((seat): Content => ({
      kind: "seat",
      key: `seat ${seat.id} ${seat.number}`,
      name: many(seat.id) ? `${seat.name} ${seat.number}` : seat.name,
      seats: [seat],
    })),
    ...classes.map((id): Content => {
      const own = calm.filter((seat) => seat.id === id);
      const name = own[0]?.name ?? "";
      return {
        kind: "seat",
        key: `seats ${id}`,
        name:
          own.length > 1 ? `${name} ×${own.length}` : many(id) ? `${name} ${own[0]?.number}` : name,
        seats: own,
      };
    }),
  ];
}
