import type { Evaluation } from "../../api/client";
import { dateText, monthText, moneyText, sizeText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { uprightAxis, yearsBetween, type Axis } from "./axes";

type Tier = Evaluation["growth"]["tiers"][number];
type Point = Evaluation["bands"][string][number];
type Month = Evaluation["costs"]["months"][number];

const WIDTH = 720;
const LEFT = 58;
const RIGHT = 674;
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
  const from = beginning(tier, Date.parse(first.on));
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
      <Ticks axis={axis} unit="TB" />
      <Band points={points} x={x} y={y} />
      <Capacity tier={tier} points={points} x={x} y={y} />
      <Readings tier={tier} x={x} y={y} from={from} />
      <Flags tier={tier} points={points} x={x} />
      {years.map((year) => (
        <text key={year} x={x(year) + 3} y={BASE + 15} className="quiet">
          {new Date(year).getUTCFullYear()}
        </text>
      ))}
      <Money
        months={evaluation.costs.months}
        even={evaluation.costs.break_even.either}
        budget={Number(document.plan.brief.budget)}
        currency={document.currency ?? "EUR"}
        x={x}
      />
    </svg>
  );
}

const YEAR_MS = 365.25 * 86_400_000;

/** Readings of the year before are drawn as well. */
const beginning = (tier: Tier, today: number) => {
  const within = tier.read
    .map((reading) => Date.parse(reading.on))
    .filter((on) => on > today - YEAR_MS);
  return Math.min(today, ...within);
};

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
  const begins = x(points[0]?.on ?? "");
  let path = `M${begins.toFixed(1)} ${y(bytes).toFixed(1)}`;
  const labels = [{ at: begins + 8, bytes, said: `plannable ${sizeText(bytes)}` }];
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

/** Readings as rings; one that a jump led to is crossed out of the slope. */
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
          strokeDasharray={reading.is_jump ? "2 2" : ""}
        >
          <title>{`${dateText(reading.on)}: ${sizeText(reading.used_bytes)}`}</title>
        </circle>
      ))}
    </g>
  );
}

/** A flag at the day by which a purchase is ordered, with what it is. */
function Flags({ tier, points, x }: { tier: Tier; points: readonly Point[]; x: Drawn["x"] }) {
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
        const at = Math.max(x(order.on), x(points[0]?.on ?? ""));
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
    </g>
  );
}

const WAYS = [
  { key: "plan", said: "this plan", dash: "", weight: 2.4, key_x: 166 },
  { key: "portable", said: "portable drives for ever", dash: "2 4", weight: 1.8, key_x: 306 },
  { key: "service", said: "a service alone", dash: "9 5", weight: 1.8, key_x: 540 },
] as const;

interface MoneyDrawn {
  months: readonly Month[];
  currency: string;
  x: Drawn["x"];
}

/** What is spent in all, by month, of the plan and of the two others. */
function Money({
  even,
  budget,
  ...drawn
}: MoneyDrawn & { even: string | null | undefined; budget: number }) {
  const { months, currency, x } = drawn;
  const last = months.at(-1);
  if (!last) return null;
  const most = Math.max(...WAYS.map((way) => Number(last[way.key])), 1);
  const axis = uprightAxis(most / 1000, 4, MONEY_TOP, MONEY_BASE);
  const y = (amount: string) => axis.at(Number(amount) / 1000);
  return (
    <g>
      <text x={LEFT - 52} y={MONEY_TOP - 14} className="strong">
        Spent in all, thousand {currency}
      </text>
      <Ticks axis={axis} unit="" />
      {budget > 0 && budget <= most && <Budget y={y(String(budget))} />}
      {WAYS.map((way) => (
        <path
          key={way.key}
          d={lineOf(months.map((month) => [x(month.on), y(month[way.key])] as const))}
          className="hollow"
          strokeWidth={way.weight}
          strokeDasharray={way.dash}
        />
      ))}
      <Key last={last} currency={currency} />
      <Crossing month={months.find((month) => month.on === even)} x={x} y={y} />
    </g>
  );
}

/** What each line is, with what it comes to. */
function Key({ last, currency }: { last: Month; currency: string }) {
  return WAYS.map((way) => (
    <g key={way.key}>
      <path
        d={`M${way.key_x} ${MONEY_TOP - 18} h24`}
        className="hollow"
        strokeWidth={way.weight}
        strokeDasharray={way.dash}
      />
      <text x={way.key_x + 29} y={MONEY_TOP - 14} className={way.key === "plan" ? "strong" : ""}>
        {way.said} {moneyText(Math.round(Number(last[way.key])), currency)}
      </text>
    </g>
  ));
}

/** What may be spent. */
function Budget({ y }: { y: number }) {
  return (
    <g>
      <path d={`M${LEFT} ${y} H${RIGHT}`} className="ink" strokeWidth="0.9" strokeDasharray="1 3" />
      <text x={RIGHT + 4} y={y + 4} className="quiet">
        budget
      </text>
    </g>
  );
}

/** From where on the plan has cost the least of the three. */
function Crossing({
  month,
  x,
  y,
}: {
  month: Month | undefined;
  x: Drawn["x"];
  y: (amount: string) => number;
}) {
  if (!month || Number(month.plan) <= 0) return null;
  return (
    <g>
      <circle cx={x(month.on)} cy={y(month.plan)} r="5" className="hollow" strokeWidth="1.8" />
      <text
        x={Math.min(x(month.on), RIGHT - 92)}
        y={MONEY_BASE + 16}
        textAnchor="middle"
        className="quiet"
      >
        the least of the three from {monthText(month.on)}
      </text>
    </g>
  );
}

/** Rules across the drawing with what they stand for. */
function Ticks({ axis, unit }: { axis: Axis; unit: string }) {
  return axis.ticks.map((tick) => (
    <g key={tick}>
      <path d={`M${LEFT} ${axis.at(tick)} H${RIGHT}`} className="rule" />
      <text x={LEFT - 6} y={axis.at(tick) + 4} textAnchor="end" className="quiet">
        {tick} {unit}
      </text>
    </g>
  ));
}
