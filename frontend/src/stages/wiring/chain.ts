const THICKEST = 82;
const THINNEST = 4;

/** Thickness of a hop on the scale of the widest one, and the part of it that is asked (0 to 1). */
export function band(
  capacity: number,
  required: number,
  most: number,
): { thickness: number; load: number } {
  const thickness = Math.max(THINNEST, (capacity / most) * THICKEST);
  return { thickness, load: capacity > 0 ? Math.min(required / capacity, 1) : 0 };
}
