import type { Evaluation } from "../../api/client";
import { dateText, sizeText } from "../../kit/format";

type Calendar = Evaluation["calendar"];
const WIDTH = 720;
const LANE = 20;
const BARS = 70;
const MOST_LANES = 12;
const DAY_MS = 86_400_000;

/** Productions as lanes (shot, cut, kept until archived) over the footage that every week brings. */
export function CalendarDrawing({ calendar, hotMax }: { calendar: Calendar; hotMax: number }) {
  const { steps, productions } = calendar;
  const first = steps[0];
  const last = steps.at(-1);
  if (!first || !last) return null;
  const from = Date.parse(first.from_date);
  const stepMs = calendar.weeks_a_step * 7 * DAY_MS;
  const until = Date.parse(last.from_date) + stepMs;
  const x = (iso: string) =>
    Math.min(Math.max((Date.parse(iso) - from) / (until - from), 0), 1) * WIDTH;
  const lanes = productions.slice(0, MOST_LANES);
  const most = Math.max(...steps.map((s) => s.footage_bytes_per_week), 1);
  const top = lanes.length * LANE + 8;
  const base = top + BARS;
  const width = WIDTH / steps.length;
  return (
    <>
      <svg
        className="drawing mt-1"
        viewBox={`0 0 ${WIDTH} ${base + 18}`}
        role="img"
        aria-label={`${productions.length} productions; the busiest week brings ${sizeText(calendar.busiest_week_bytes)}, at most ${hotMax} are hot at once`}
      >
        {lanes.map((production, n) => (
          <Lane key={production.id} production={production} x={x} y={n * LANE + 2} />
        ))}
        {steps.map((step, n) => {
          const height = (step.footage_bytes_per_week / most) * (BARS - 14);
          return (
            <rect
              key={step.from_date}
              x={n * width + 0.5}
              y={base - height}
              width={Math.max(width - 1, 0.8)}
              height={height}
              className="teal-soft"
            />
          );
        })}
        <path d={`M0 ${base} H${WIDTH}`} className="ink" strokeWidth="1.5" />
        <text x="0" y={base + 14} className="quiet">
          {dateText(first.from_date)}
        </text>
        <text x={WIDTH} y={base + 14} textAnchor="end" className="quiet">
          {dateText(last.from_date)}
        </text>
        <text x={WIDTH / 2} y={base + 14} textAnchor="middle" className="quiet">
          footage a week, at most {sizeText(most)}
        </text>
      </svg>
      <p className="faint text-sm">
        Filled: shooting. Hollow: cutting. Hatched: delivered, until it is archived.
        {productions.length > MOST_LANES
          ? ` ${productions.length - MOST_LANES} more productions are not drawn.`
          : ""}
      </p>
    </>
  );
}

/** One production: filled while it is shot, hollow while it is cut, hatched until it is archived. */
function Lane({
  production,
  x,
  y,
}: {
  production: Calendar["productions"][number];
  x: (iso: string) => number;
  y: number;
}) {
  const [start, wrap, deliver, archive] = [
    x(production.starts_on),
    x(production.wrapped_on),
    x(production.delivers_on),
    x(production.archived_on),
  ];
  const height = LANE - 6;
  const isLate = archive > WIDTH * 0.75;
  return (
    <g>
      <rect
        x={start}
        y={y}
        width={Math.max(wrap - start, 0)}
        height={height}
        className="teal-soft"
      />
      <rect
        x={deliver}
        y={y}
        width={Math.max(archive - deliver, 0)}
        height={height}
        fill="url(#hatch-ink)"
      />
      <rect
        x={start}
        y={y}
        width={Math.max(archive - start, 1)}
        height={height}
        className="hollow"
        strokeWidth="1.25"
      />
      <text
        x={isLate ? Math.max(start - 4, 60) : archive + 5}
        y={y + 11}
        textAnchor={isLate ? "end" : "start"}
      >
        {production.name}
      </text>
    </g>
  );
}
