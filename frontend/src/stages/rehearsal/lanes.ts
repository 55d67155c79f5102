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

/** "11:30" of clock seconds, also after midnight. */
export function clockText(seconds: number): string {
  const minutes = Math.round(seconds / 60);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${two(Math.floor(minutes / 60) % 24)}:${two(minutes % 60)}`;
}

/** Clock seconds of "11:30", or null where it is no time of day. */
export function secondsOf(text: string): number | null {
  const match = /^([01]?\d|2[0-3]):([0-5]\d)$/.exec(text.trim());
  return match ? Number(match[1]) * HOUR + Number(match[2]) * 60 : null;
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

/** The outline of what stands still between moments (or, `sloped`, changes evenly): closed down to the base. */
export function outline(
  xs: readonly number[],
  ys: readonly number[],
  base: number,
  right: number,
  sloped = false,
): string {
  if (!xs.length) return "";
  const parts = [`M${xs[0]} ${base}`];
  xs.forEach((x, n) => {
    parts.push(`L${x} ${ys[n]}`);
    const next = xs[n + 1] ?? right;
    if (!sloped) parts.push(`H${next}`);
    else if (n === xs.length - 1) parts.push(`H${right}`);
  });
  return `${parts.join(" ")} V${base} Z`;
}
