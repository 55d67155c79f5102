import type { Evaluation } from "../../api/client";
import { dateText, monthText, moneyText, sizeText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { apart, uprightAxis, yearsBetween } from "./axes";

type Tier = Evaluation["growth"]["tiers"][number];
type Point = Evaluation["bands"][string][number];
type Month = Evaluation["costs"]["months"][number];

const WIDTH = 720;
const LEFT = 58;
const RIGHT = 700;
const TOP = 62;
const BASE = 318;
const MONEY_TOP = 366;
const MONEY_BASE = 476;
const HEIGHT = 500;
const TB = 1e12;
const LINE = 14;
/** A flag's words end at its mast where they would pass this. */
const WORDS_TURN = 470;

/** What fills as a band over years against what fits, purchases as flags, and the money on the same axis. */
export function GrowthDrawing({ tier, points }: { tier: Tier; points: readonly Point[] }) {
  const { evaluation, document } = useSnapshot();
  const first = points[0];
  const last = points.at(-1);
  if (!first || !last) return null;
  const from = Date.parse(first.on);
  const until = Date.parse(last.on);
  const x = (iso: string | number) => {
    const at = typeof iso === "number" ? iso : Date.parse(iso);
    return LEFT + ((at - from) / (until - from)) * (RIGHT - LEFT);
  };
  const most = Math.max(...points.map((p) => Math.max(p.high_bytes, p.plannable_bytes)), 1e9);
  const axis = uprightAxis(most / TB, 5, TOP, BASE);
  const y = (bytes: number) => axis.at(bytes / TB);
  const years = yearsBetween(from, until);
  return (
    <svg
      className="drawing mt-2"
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      role="img"
      aria-label={`${tier.sentence} ${evaluation.costs.sentence}`}
    >
      {years.map((year) => (
        <path
          key={year}
          d={`M${x(year)} ${TOP} V${BASE} M${x(year)} ${MONEY_TOP} V${MONEY_BASE}`}
          className="rule"
        />
      ))}
      {axis.ticks.map((tick) => (
        <g key={tick}>
          <path d={`M${LEFT} ${axis.at(tick)} H${RIGHT}`} className="rule" />
          <text x={LEFT - 6} y={axis.at(tick) + 4} textAnchor="end" className="quiet">
            {tick} TB
          </text>
        </g>
      ))}
      <Band points={points} x={x} y={y} />
      <Capacity tier={tier} points={points} x={x} y={y} />
      <Readings tier={tier} x={x} y={y} from={from} />
      <Flags tier={tier} points={points} x={x} y={y} />
      {years.map((year) => (
        <text key={year} x={x(year) + 3} y={BASE + 15} className="quiet">
          {new Date(year).getUTCFullYear()}
        </text>
      ))}
      <Money
        months={evaluation.costs.months}
        even={evaluation.costs.break_even.either}
        currency={document.currency ?? "EUR"}
        x={x}
      />
    </svg>
  );
}

interface Drawn {
  x: (iso: string | number) => number;
  y: (value: number) => number;
}

const lineOf = (places: readonly (readonly [number, number])[]) =>
  places.map(([px, py], n) => `${n ? "L" : "M"}${px.toFixed(1)} ${py.toFixed(1)}`).join(" ");

/** Eight of ten courses lie within; its edges are dashed, its middle is drawn through. */
function Band({ points, x, y }: { points: readonly Point[] } & Drawn) {
  const of = (key: "low_bytes" | "middle_bytes" | "high_bytes") =>
    points.map((p) => [x(p.on), y(p[key])] as const);
  const high = of("high_bytes");
  const low = of("low_bytes");
  return (
    <g>
      <path d={`${lineOf([...high, ...low.toReversed()])}Z`} className="teal-soft" />
      <path d={lineOf(high)} className="hollow" strokeWidth="0.9" strokeDasharray="3 3" />
      <path d={lineOf(low)} className="hollow" strokeWidth="0.9" strokeDasharray="3 3" />
      <path d={lineOf(of("middle_bytes"))} className="hollow" strokeWidth="2.2" />
    </g>
  );
}

/** What is plannable, in steps at the days on which purchases are in use. */
function Capacity({ tier, points, x, y }: { tier: Tier; points: readonly Point[] } & Drawn) {
  const end = points.at(-1)?.on ?? "";
  let bytes = tier.plannable_bytes;
  let path = `M${LEFT} ${y(bytes).toFixed(1)}`;
  const labels = [{ at: LEFT + 8, bytes, said: `plannable ${sizeText(bytes)}` }];
  for (const step of tier.steps) {
    if (!step.in_use_on || step.in_use_on > end) continue;
    bytes += step.adds_bytes;
    path += ` H${x(step.in_use_on).toFixed(1)} V${y(bytes).toFixed(1)}`;
    labels.push({ at: x(step.in_use_on) + 6, bytes, said: sizeText(bytes) });
  }
  return (
    <g>
      <path d={`${path} H${RIGHT}`} className="hollow" strokeWidth="3" />
      {labels.map((label) => (
        <text key={label.said} x={label.at} y={y(label.bytes) - 6} className="strong paper">
          {label.said}
        </text>
      ))}
    </g>
  );
}

/** Readings of the days before are drawn where the axis begins: as many as there is room for. */
function Readings({ tier, x, y, from }: { tier: Tier; from: number } & Drawn) {
  const inside = tier.read.filter((reading) => Date.parse(reading.on) >= from);
  return (
    <g>
      {inside.map((reading) => (
        <circle
          key={reading.on}
          cx={x(reading.on)}
          cy={y(reading.used_bytes)}
          r="4"
          className="mark-hollow"
        >
          <title>{`${dateText(reading.on)}: ${sizeText(reading.used_bytes)}`}</title>
        </circle>
      ))}
    </g>
  );
}

/** A flag at the day by which a purchase is ordered, with what it is. */
function Flags({ tier, points, x, y }: { tier: Tier; points: readonly Point[] } & Drawn) {
  const end = points.at(-1)?.on ?? "";
  const orders = tier.steps
    .filter((step) => step.order_by && step.order_by <= end)
    .map((step) => ({ on: step.order_by ?? "", what: step.name, late: step.is_late }));
  if (!orders.length && tier.order_by) {
    orders.push({ on: tier.order_by, what: "nothing is planned yet", late: tier.is_late });
  }
  return (
    <g>
      {orders.map((order, n) => {
        const at = Math.max(x(order.on), LEFT);
        const top = 8 + (n % 2) * (2 * LINE);
        const isLeft = at > WORDS_TURN;
        return (
          <g key={`${order.on}${order.what}`}>
            <path d={`M${at} ${top} V${BASE}`} className="ink" strokeDasharray="2 3" />
            <path d={`M${at} ${top} h11 l-3 4 l3 4 h-11 Z`} />
            <text
              x={isLeft ? at - 5 : at + 15}
              y={top + 9}
              textAnchor={isLeft ? "end" : "start"}
              className="strong paper"
            >
              {order.late ? "order now" : `order by ${dateText(order.on)}`}
            </text>
            <text
              x={isLeft ? at - 5 : at + 15}
              y={top + 9 + LINE}
              textAnchor={isLeft ? "end" : "start"}
              className="quiet paper"
            >
              {order.what}
            </text>
          </g>
        );
      })}
      <title>{`plannable now ${y(0) ? sizeText(tier.plannable_bytes) : ""}`}</title>
    </g>
  );
}

const WAYS = [
  { key: "plan", said: "this plan", dash: "", weight: 2.4 },
  { key: "portable", said: "portable drives for ever", dash: "2 4", weight: 1.8 },
  { key: "service", said: "a service alone", dash: "9 5", weight: 1.8 },
] as const;

/** What is spent in all, by month, of the plan and of the two others. */
function Money({
  months,
  even,
  currency,
  x,
}: {
  months: readonly Month[];
  even: string | null | undefined;
  currency: string;
  x: Drawn["x"];
}) {
  const last = months.at(-1);
  if (!last) return null;
  const most = Math.max(...WAYS.map((way) => Number(last[way.key])), 1);
  const axis = uprightAxis(most / 1000, 4, MONEY_TOP, MONEY_BASE);
  const y = (amount: string) => axis.at(Number(amount) / 1000);
  const labels = apart(
    WAYS.map((way) => y(last[way.key]) - 6),
    LINE,
    MONEY_BASE - 4,
  );
  const crossing = months.find((month) => month.on === even);
  return (
    <g>
      <text x={LEFT - 52} y={MONEY_TOP - 14} className="strong">
        Spent in all, thousand {currency}
      </text>
      {axis.ticks.map((tick) => (
        <g key={tick}>
          <path d={`M${LEFT} ${axis.at(tick)} H${RIGHT}`} className="rule" />
          <text x={LEFT - 6} y={axis.at(tick) + 4} textAnchor="end" className="quiet">
            {tick}
          </text>
        </g>
      ))}
      {WAYS.map((way) => (
        <path
          key={way.key}
          d={lineOf(months.map((month) => [x(month.on), y(month[way.key])] as const))}
          className="hollow"
          strokeWidth={way.weight}
          strokeDasharray={way.dash}
        />
      ))}
      {WAYS.map((way, n) => (
        <text
          key={way.key}
          x={RIGHT - 2}
          y={labels[n]}
          textAnchor="end"
          className={way.key === "plan" ? "strong paper" : "paper"}
        >
          {way.said} {moneyText(Math.round(Number(last[way.key])), currency)}
        </text>
      ))}
      {crossing && Number(crossing.plan) > 0 && (
        <g>
          <circle
            cx={x(crossing.on)}
            cy={y(crossing.plan)}
            r="5"
            className="hollow"
            strokeWidth="1.8"
          />
          <text x={x(crossing.on)} y={MONEY_BASE + 16} textAnchor="middle" className="quiet">
            the least of the three from {monthText(crossing.on)}
          </text>
        </g>
      )}
    </g>
  );
}
