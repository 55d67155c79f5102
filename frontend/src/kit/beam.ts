import type { components } from "../generated/api";

export type Verdict = components["schemas"]["Scale"]["verdict"];

const STEEPEST_DEGREES = 18;
const FULL_TILT_RATIO = 1.5;

/**
 * Tilt of the balance in degrees: level where have equals need, right pan down where there is more.
 * Half as much again tilts it fully, so that a tight plan is seen to lean; without a need it lies fully on the side of what we have.
 */
export function beamAngle(ratio: number | null): number {
  if (ratio === null) return STEEPEST_DEGREES;
  if (ratio <= 0) return -STEEPEST_DEGREES;
  const tilt = (Math.log(ratio) / Math.log(FULL_TILT_RATIO)) * STEEPEST_DEGREES;
  return Math.max(-STEEPEST_DEGREES, Math.min(STEEPEST_DEGREES, tilt));
}
