/** Where things stand on a drawing over years: presentation only. */

export interface Axis {
  /** From a value to its place in the drawing. */
  at: (value: number) => number;
  ticks: readonly number[];
}

const STEPS = [1, 2, 2.5, 5, 10];

/** Round steps of which at most `most` reach up to a value; the last one is at or above it. */
export function ticksTo(value: number, most: number): number[] {
  const least = Math.max(value, 1e-9) / most;
  const ten = 10 ** Math.floor(Math.log10(least));
  const step = (STEPS.find((each) => each * ten >= least) ?? 10) * ten;
  const count = Math.max(Math.ceil(value / step - 1e-9), 1);
  return Array.from({ length: count + 1 }, (_, n) => n * step);
}

/** An upright axis from 0 at `bottom` to the last tick at `top`. */
export function uprightAxis(value: number, most: number, top: number, bottom: number): Axis {
  const ticks = ticksTo(value, most);
  const last = ticks.at(-1) ?? 1;
  return { ticks, at: (each) => bottom - (each / last) * (bottom - top) };
}

/** The first days of years within two days, as times. */
export function yearsBetween(from: number, until: number): number[] {
  const first = new Date(from).getUTCFullYear() + 1;
  const last = new Date(until).getUTCFullYear();
  return Array.from({ length: Math.max(last - first + 1, 0) }, (_, n) => Date.UTC(first + n, 0, 1));
}
