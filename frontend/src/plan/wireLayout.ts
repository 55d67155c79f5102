/** Where things stand in the drawing of the wires: seats, switches, boxes, left to right, each near what it is joined to. */

export const COLUMNS = { seat: 0, switch: 284, box: 554 } as const;
export const WIDTHS = { seat: 152, switch: 140, box: 166 } as const;
export const WIDTH = COLUMNS.box + WIDTHS.box;
const TOP = 8;
const GAP = 14;
const PORT = 9;
const LINE = 17;
/** Rows of seats by how many there are: two lines each, one line, a tight one. */
const ROWS: readonly [most: number, height: number][] = [
  [9, 54],
  [24, 32],
  [Infinity, 21],
];

export interface Thing {
  /** As links name it: `seat:edit`. */
  at: string;
  column: keyof typeof COLUMNS;
  lines: string[];
}

export interface Joined {
  id: string;
  near: string;
  far: string;
}

export interface Placed extends Thing {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface Wired<L extends Joined> {
  link: L;
  from: [number, number];
  to: [number, number];
  /** Between two switches, which stand under each other. */
  upright: boolean;
  /** How far it swings out to the right, past switches that stand between; 0 where none does. */
  swing: number;
}

export interface Layout<L extends Joined> {
  things: Placed[];
  wires: Wired<L>[];
  height: number;
}

const middle = (thing: Placed) => thing.y + thing.height / 2;

const mean = (ys: number[]) =>
  ys.length ? ys.reduce((sum, y) => sum + y, 0) / ys.length : Infinity;

/** Where each of a column would like to stand: amid what is placed and joined to it, else amid those of its own. */
function wishes(
  column: readonly Thing[],
  links: readonly Joined[],
  placed: ReadonlyMap<string, Placed>,
): Map<string, number> {
  const beside = (at: string) =>
    links.flatMap((l) => (l.near === at ? [l.far] : l.far === at ? [l.near] : []));
  const found = new Map<string, number>();
  for (const { at } of column) {
    const ys = beside(at).flatMap((other) => {
      const there = placed.get(other);
      return there ? [middle(there)] : [];
    });
    if (ys.length) found.set(at, mean(ys));
  }
  for (const { at } of column)
    if (!found.has(at)) found.set(at, mean(beside(at).flatMap((other) => found.get(other) ?? [])));
  return found;
}

/** Things of one column under each other, each as near its wish as those above let it. */
function stacked(wishes: { thing: Thing; height: number; wish: number }[], gap: number): Placed[] {
  let free = TOP;
  return wishes
    .toSorted((a, b) => a.wish - b.wish)
    .map(({ thing, height, wish }) => {
      const y = Math.max(free, Number.isFinite(wish) ? wish - height / 2 : free);
      free = y + height + gap;
      return { ...thing, x: COLUMNS[thing.column], y, width: WIDTHS[thing.column], height };
    });
}

export function laidOut<L extends Joined>(
  things: readonly Thing[],
  links: readonly L[],
): Layout<L> {
  const of = (column: Thing["column"]) => things.filter((thing) => thing.column === column);
  const count = (at: string) => links.filter((l) => l.near === at || l.far === at).length;
  const order = new Map(of("switch").map((thing, n) => [thing.at, n]));
  const seats = of("seat");
  const row = (ROWS.find(([most]) => seats.length <= most) ?? ROWS[0])?.[1] ?? 54;
  const into = (seat: Thing) =>
    Math.min(...links.filter((l) => l.near === seat.at).map((l) => order.get(l.far) ?? order.size));
  const placed = new Map<string, Placed>();
  const keep = (column: Placed[]) => column.forEach((thing) => placed.set(thing.at, thing));
  const rows = seats
    .toSorted((a, b) => into(a) - into(b))
    .map((thing, n) => ({ thing, height: row - GAP / 2, wish: n * row + row / 2 }));
  keep(stacked(rows, GAP / 2));
  for (const column of ["switch", "box"] as const) {
    const wish = wishes(of(column), links, placed);
    const tall = of(column).map((thing) => ({
      thing,
      height: Math.max(thing.lines.length * LINE + 10, count(thing.at) * PORT),
      wish: wish.get(thing.at) ?? Infinity,
    }));
    keep(stacked(tall, column === "switch" ? 44 : GAP));
  }
  const all = [...placed.values()];
  const wires = wired(links, placed);
  return { things: all, wires, height: Math.max(...all.map((t) => t.y + t.height), 60) + TOP };
}

/** Every link from side to side, its ends spread over the sides so that none lies on another. */
function wired<L extends Joined>(
  links: readonly L[],
  placed: ReadonlyMap<string, Placed>,
): Wired<L>[] {
  const drawn = links.flatMap((link) => {
    const near = placed.get(link.near);
    const far = placed.get(link.far);
    return near && far ? [{ link, near, far, upright: near.column === far.column }] : [];
  });
  const side = (thing: Placed, which: "near" | "far") =>
    drawn
      .filter((wire) => !wire.upright && wire[which] === thing)
      .toSorted(
        (a, b) =>
          middle(a[which === "near" ? "far" : "near"]) -
          middle(b[which === "near" ? "far" : "near"]),
      );
  const along = (thing: Placed, which: "near" | "far", link: L) => {
    const own = side(thing, which);
    const n = own.findIndex((wire) => wire.link === link);
    return thing.y + (thing.height * (n + 1)) / (own.length + 1);
  };
  return drawn.map(({ link, near, far, upright }) => {
    if (!upright)
      return {
        link,
        upright,
        swing: 0,
        from: [near.x + near.width, along(near, "near", link)],
        to: [far.x, along(far, "far", link)],
      };
    const [above, below] = near.y < far.y ? [near, far] : [far, near];
    const between = [...placed.values()].filter(
      (thing) => thing.column === near.column && thing.y > above.y && thing.y < below.y,
    ).length;
    if (between) {
      const x = above.x + above.width;
      const swing = 22 + 16 * between;
      return { link, upright, swing, from: [x, middle(above)], to: [x, middle(below)] };
    }
    const x = above.x + above.width / 2;
    return { link, upright, swing: 0, from: [x, above.y + above.height], to: [x, below.y] };
  });
}

const SLOWEST = 100e6 / 8;
const STEP = 1.6;

/** The thickness of a link: each doubling of what it carries is a step. */
export const thickness = (bytesPerS: number): number =>
  Math.min(3 + STEP * Math.max(Math.log2(bytesPerS / SLOWEST), 0), 24);
