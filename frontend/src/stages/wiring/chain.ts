const THICKEST = 82;
const THINNEST = 4;

/** Thickness of a hop on the scale of the widest one, and the part of it that is asked (0 to 1). */
export function band(
  capacity: number,
  required: number,
  most: number,
  thickest = THICKEST,
): { thickness: number; load: number } {
  const thickness = Math.max(THINNEST, (capacity / most) * thickest);
  return { thickness, load: capacity > 0 ? Math.min(required / capacity, 1) : 0 };
}

interface Linked {
  id: string;
  kind: string;
  ratio?: number | null;
  pool_ids?: readonly string[];
}

export interface Branches<H> {
  /** What all seats' bytes pass, one after the other. */
  trunk: H[];
  /** For each pool what lies between the trunk and it, and itself last. */
  branches: H[][];
  /** Pools that are not drawn, because others have less in hand. */
  left: number;
}

/** The way as it is: links in a row, then each pool on its own way, those with the least in hand drawn. */
export function branched<H extends Linked>(hops: readonly H[], mostDrawn: number): Branches<H> {
  const pools = hops.filter((hop) => hop.kind === "pool");
  const tightness = (hop: H) =>
    Math.min(...hops.filter((h) => h.pool_ids?.includes(hop.id)).map((h) => h.ratio ?? Infinity));
  const drawn = new Set(
    pools
      .toSorted((a, b) => tightness(a) - tightness(b))
      .slice(0, mostDrawn)
      .map((hop) => hop.id),
  );
  return {
    trunk: hops.filter((hop) => hop.kind === "link"),
    branches: pools
      .filter((pool) => drawn.has(pool.id))
      .map((pool) => hops.filter((hop) => hop.pool_ids?.includes(pool.id))),
    left: pools.length - drawn.size,
  };
}
