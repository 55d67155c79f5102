import type { HopResult, PlanDocument } from "../api/client";
import { rateText, ratioText } from "../kit/format";
import { laidOut, thickness, WIDTH, type Placed, type Thing, type Wired } from "./wireLayout";

type Plan = PlanDocument["plan"];

interface DrawnLink {
  id: string;
  near: string;
  far: string;
  hop: HopResult;
}

const EDGE = 2.4;
const LETTER = 5.9;

/** The whole way from the seats to the pools: thickness is bandwidth, the filled part is what is asked. */
export function WireDrawing({
  plan,
  hops,
  used,
  chosen,
  limiting,
  choose,
}: {
  plan: Plan;
  hops: readonly HopResult[];
  /** The part of every hop that is used, 0 to 1, by its id. */
  used: ReadonlyMap<string, number>;
  chosen: string;
  /** The hop that holds the chosen seat back. */
  limiting: string | null;
  choose?: (seatId: string) => void;
}) {
  const links = hops
    .filter((hop) => hop.kind === "link")
    .map((hop): DrawnLink => ({ id: hop.id, near: hop.near ?? "", far: hop.far ?? "", hop }));
  const { things, wires, height } = laidOut(thingsOf(plan, links), links);
  const said = links.map((l) => `${l.hop.name} carries ${rateText(l.hop.capacity_bytes_per_s)}`);
  return (
    <svg
      className="drawing mt-3"
      viewBox={`0 0 ${WIDTH} ${height}`}
      role="img"
      aria-label={`From the seats to the storage: ${said.join("; ")}`}
    >
      {wires.map((wire) => (
        <Wire key={wire.link.id} wire={wire} used={used.get(wire.link.id) ?? 0} />
      ))}
      {things.map((thing) => (
        <Box
          key={thing.at}
          thing={thing}
          isChosen={thing.at === `seat:${chosen}`}
          limits={limiting !== null && holds(plan, thing, limiting)}
          {...(choose && thing.column === "seat" && { choose: () => choose(thing.at.slice(5)) })}
        />
      ))}
      {wires
        .filter((wire) => wire.link.id === limiting)
        .map((wire) => (
          <Limits key={wire.link.id} wire={wire} />
        ))}
    </svg>
  );
}

/** Whether a thing of the drawing holds the hop: a pool in a box, or what the box itself has. */
function holds(plan: Plan, thing: Placed, hopId: string): boolean {
  if (thing.column !== "box") return false;
  const pool = plan.pools.find((p) => p.id === hopId);
  if (pool) return thing.lines.includes(pool.name);
  const box = thing.at.slice(4);
  return [`bus-${box}`, `processor-${box}`].includes(hopId) || hopId.startsWith(`slot-${box}-`);
}

function thingsOf(plan: Plan, links: readonly DrawnLink[]): Thing[] {
  const speed = (at: string) => links.find((l) => l.near === at)?.hop.speed ?? "";
  const seats = plan.brief.seats ?? [];
  const linked = new Set(links.flatMap((l) => [l.near, l.far]));
  const boxes = plan.boxes ?? [];
  const inBox = (id: string) =>
    plan.pools
      .filter((p) => (p.bays ?? "").includes(`${id}:`) || (boxes.length === 1 && !p.bays))
      .map((p) => p.name);
  return [
    ...seats
      .filter((s) => linked.has(`seat:${s.id}`) || (s.kind !== "remote" && s.seated !== "inside"))
      .map((s): Thing => ({
        at: `seat:${s.id}`,
        column: "seat",
        lines: [
          (s.count ?? 1) > 1 ? `${s.name} ×${s.count ?? 1}` : s.name,
          speed(`seat:${s.id}`) || "plugged in nowhere",
        ],
      })),
    ...(linked.has("outside")
      ? [{ at: "outside", column: "seat", lines: ["Outside line"] } satisfies Thing]
      : []),
    ...(plan.wiring?.switches ?? []).map((s): Thing => ({
      at: `switch:${s.id}`,
      column: "switch",
      lines: [s.name, ...(s.ports ?? "").split(" ").filter(Boolean)],
    })),
    ...boxes
      .filter((b) => b.form !== "expansion unit")
      .map((b): Thing => ({ at: `box:${b.id}`, column: "box", lines: [b.name, ...inBox(b.id)] })),
    ...(linked.has("storage")
      ? [
          {
            at: "storage",
            column: "box",
            lines: ["Storage", ...(boxes.length ? [] : plan.pools.map((p) => p.name))],
          } satisfies Thing,
        ]
      : []),
  ];
}

function path({ from, to, upright, swing }: Wired<DrawnLink>): string {
  const [x1, y1] = from;
  const [x2, y2] = to;
  if (swing) return `M${x1} ${y1} C${x1 + swing} ${y1} ${x2 + swing} ${y2} ${x2} ${y2}`;
  if (upright) return `M${x1} ${y1} V${y2}`;
  const bend = (x2 - x1) / 2;
  return `M${x1} ${y1} C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`;
}

/** A link: its two edges, and between them what is asked of it. */
function Wire({ wire, used }: { wire: Wired<DrawnLink>; used: number }) {
  const { hop } = wire.link;
  const wide = thickness(hop.link_bytes_per_s * hop.links);
  const d = path(wire);
  const isShort = hop.ratio !== null && hop.ratio !== undefined && hop.ratio < 1;
  return (
    <g fill="none">
      <title>{`${hop.name}: ${hop.links > 1 ? `${hop.links} × ` : ""}${hop.speed}, ${rateText(hop.capacity_bytes_per_s)}`}</title>
      <path d={d} className="stroke-base-content" strokeWidth={wide + EDGE} />
      <path d={d} className="stroke-base-100" strokeWidth={wide} />
      {used > 0 && (
        <path
          d={d}
          className={isShort ? "stroke-error" : "stroke-primary"}
          strokeWidth={Math.max(wide * Math.min(used, 1), 0.8)}
          strokeDasharray={isShort ? "7 3" : undefined}
        />
      )}
    </g>
  );
}

/** The hop that holds the chosen seat back, between two brackets. */
function Limits({ wire }: { wire: Wired<DrawnLink> }) {
  const { hop } = wire.link;
  const x = (wire.from[0] + wire.to[0]) / 2 + wire.swing * 0.75;
  const y = (wire.from[1] + wire.to[1]) / 2;
  const half = thickness(hop.link_bytes_per_s * hop.links) / 2 + 7;
  const ratio = hop.ratio === null || hop.ratio === undefined ? "" : ` ${ratioText(hop.ratio)}`;
  const bars = wire.upright
    ? `M${x - half} ${y - 8} v16 M${x + half} ${y - 8} v16`
    : `M${x - 10} ${y - half} h20 M${x - 10} ${y + half} h20`;
  return (
    <g>
      <path d={bars} className="stroke-error" strokeWidth="3" />
      <text
        x={wire.upright ? x + half + 6 : x}
        y={wire.upright ? y + 4 : y - half - 5}
        textAnchor={wire.upright ? "start" : "middle"}
        className="fill-error font-semibold [paint-order:stroke] stroke-base-100 stroke-4"
      >
        limits{ratio}
      </text>
    </g>
  );
}

/** A seat, a switch or a box with what is in it. */
function Box({
  thing,
  isChosen,
  limits,
  choose,
}: {
  thing: Placed;
  isChosen: boolean;
  limits: boolean;
  choose?: () => void;
}) {
  const tight = thing.height < 30;
  const longest = Math.floor((thing.width - 16) / LETTER);
  const lines = tight ? [thing.lines.join(", ")] : thing.lines;
  const first = thing.y + thing.height / 2 - (lines.length * 14.5) / 2 + 11;
  return (
    // What a click on a seat does, the table of the seats does for everybody else.

    <g onClick={choose} className={choose ? "cursor-pointer" : ""}>
      <rect
        x={thing.x + 1}
        y={thing.y}
        width={thing.width - 2}
        height={thing.height}
        rx="3"
        className={`fill-base-200 ${limits ? "stroke-error" : "stroke-base-content"}`}
        strokeWidth={isChosen || limits ? 2.6 : 1.1}
        strokeDasharray={thing.at === "outside" ? "5 3" : undefined}
      />
      {lines.map((line, n) => (
        <text
          key={n}
          x={thing.x + 9}
          y={first + n * 14.5}
          className={n ? "quiet text-[11px]" : "text-[12px] font-semibold"}
        >
          {line.length > longest ? `${line.slice(0, longest - 1)}…` : line}
        </text>
      ))}
    </g>
  );
}
