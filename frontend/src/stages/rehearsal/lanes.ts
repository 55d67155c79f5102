/** Arithmetic of the day's drawing: where a time of day lies, which moment it is in, steps as a path. */

const HOUR = 3_600;
/** A day is drawn from its beginning until the night's work is done, at least so long. */
const LEAST_HOURS = 10;

/** [from, to] of what is drawn, clock seconds: whole hours from the beginning to the last thing that happens. */
export function spanOf(begins: number, ends: readonly number[]): [number, number] {
  const last = Math.max(begins + LEAST_HOURS * HOUR, ...ends);
  return [
    Math.floor(begins / HOUR) * HOUR,
    Math.min(Math.ceil(last / HOUR), begins / HOUR + 24) * HOUR,
  ];
}

/** Which of the moments a time lies in: the last that has begun. */
export function momentAt(moments: readonly number[], time: number): number {
  let low = 0;
  let high = moments.length - 1;
  while (low < high) {
    const middle = Math.ceil((low + high) / 2);
    if ((moments[middle] ?? Infinity) <= time) low = middle;
    else high = middle - 1;
  }
  return Math.max(low, 0);
}

/** Every so many hours a line: about eight of them. */
export function hourMarks(from: number, to: number): number[] {
  const hours = (to - from) / HOUR;
  const step = hours > 16 ? 3 : hours > 8 ? 2 : 1;
  const first = Math.ceil(from / HOUR / step) * step;
  return Array.from(
    { length: Math.floor((to / HOUR - first) / step) + 1 },
    (_, n) => (first + n * step) * HOUR,
  );
}

/** A time of day at a share of a lane that is drawn from one time to another, clock seconds. */
export const timeAt = (share: number, from: number, to: number): number =>
  from + Math.min(Math.max(share, 0), 1) * (to - from);

const DAY = 1_440;

/**
 * A session moved by so many minutes, whole or by one end, within the day and never shorter than a quarter of an
 * hour; null where it cannot go there. Minutes of the clock, the day begins at `begins`.
 */
export function movedSession(
  { from_minute, to_minute }: { from_minute: number; to_minute: number },
  minutes: number,
  part: "whole" | "start" | "end",
  begins: number,
): { from_minute: number; to_minute: number } | null {
  const into = (minute: number) => (minute - begins + DAY) % DAY;
  const start = into(from_minute) + (part === "end" ? 0 : minutes);
  const end = (into(to_minute) || DAY) + (part === "start" ? 0 : minutes);
  if (start < 0 || end > DAY || end - start < SHORTEST) return null;
  return { from_minute: (start + begins) % DAY, to_minute: (end + begins) % DAY };
}

/** Sessions are moved in steps of so many minutes. */
export const STEP = 15;
const SHORTEST = 15;
