import type { SchoolAnswer } from "../../api/client";
import { moneyText, sizeText, wholeText } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { COLUMNS, lengthOf, lengthOfOdds, missOf, NEED_AT, inTwo, shortened } from "./rungs";

const WIDTH = 720;
const NAMES = 176;
const COLUMN = (WIDTH - NAMES) / COLUMNS;
const BAR = COLUMN - 18;
const TOP = 52;
const ROW = 46;

const HEADS = [
  ["Now", "less is right"],
  ["Plannable", "more is right"],
  ["Speed", "× of what is asked"],
  ["Losing a pool", "1 in … a year"],
] as const;

/** One line a school across four measures, against what is needed; losers end where they fail. */
export function SchoolDrawing({
  schools,
  chosen,
  choose,
}: {
  schools: readonly SchoolAnswer[];
  chosen: string;
  choose: (id: string) => void;
}) {
  const height = TOP + schools.length * ROW;
  const { document } = useSnapshot();
  const hasBudget = Number(document.plan.brief.budget) > 0;
  return (
    <svg
      className="drawing mt-2 min-w-[34rem]"
      viewBox={`0 0 ${WIDTH} ${height + 4}`}
      role="group"
      aria-label="Schools drawn"
    >
      {HEADS.map(([head, said], n) => (
        <g key={head}>
          <text x={NAMES + n * COLUMN} y="12" className="strong">
            {head}
          </text>
          <text x={NAMES + n * COLUMN} y="26" className="quiet text-[11px]">
            {said}
          </text>
          {(n > 0 || hasBudget) && (
            <g>
              <path
                d={`M${need(n)} ${TOP - 6} V${height - 6}`}
                className="hollow"
                strokeDasharray="3 3"
              />
              <text x={need(n)} y={TOP - 10} textAnchor="middle" className="quiet text-[10px]">
                need
              </text>
            </g>
          )}
        </g>
      ))}
      {schools.map((school, n) => (
        <Line
          key={school.id}
          school={school}
          y={TOP + n * ROW}
          isChosen={school.id === chosen}
          choose={() => choose(school.id)}
        />
      ))}
    </svg>
  );
}

const need = (column: number) => NAMES + column * COLUMN + NEED_AT * BAR;

function Line({
  school,
  y,
  isChosen,
  choose,
}: {
  school: SchoolAnswer;
  y: number;
  isChosen: boolean;
  choose: () => void;
}) {
  const miss = missOf(school);
  return (
    <g
      onClick={choose}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        choose();
      }}
      tabIndex={0}
      role="button"
      aria-pressed={isChosen}
      aria-label={`${school.name}: what it comes to`}
      className="cursor-pointer"
    >
      <rect
        x="0"
        y={y}
        width={WIDTH}
        height={ROW - 2}
        className={isChosen ? "fill-base-300/60" : "fill-transparent"}
      />
      <path d={`M0 ${y + ROW - 2} H${WIDTH}`} className="stroke-base-300" />
      <Name school={school} y={y} />
      <Bars school={school} y={y} until={miss?.column ?? COLUMNS} />
      {miss && <Miss {...miss} y={y} />}
      {school.verdict === "nothing" && (
        <text x={NAMES} y={y + 17} className="quiet paper text-[12px]">
          ✕ {shortened(school.sentence, WIDTH - NAMES - 20)}
        </text>
      )}
      {school.verdict === "unasked" && (
        <text x={NAMES} y={y + 17} className="quiet paper text-[12px]">
          …
        </text>
      )}
    </g>
  );
}

/** Its name, strong where it serves, and its letter where it is one of the designs told apart. */
function Name({ school, y }: { school: SchoolAnswer; y: number }) {
  const serves = school.verdict === "serves" || school.verdict === "just";
  return (
    <>
      {inTwo(school.name).map((part, n) => (
        <text key={n} x="4" y={y + 16 + n * 16} className={serves ? "strong" : ""}>
          {part}
        </text>
      ))}
      {school.letter && (
        <>
          <rect x={NAMES - 24} y={y + 4} width="16" height="16" className="fill-primary" />
          <text
            x={NAMES - 16}
            y={y + 16}
            textAnchor="middle"
            className="fill-primary-content font-semibold"
          >
            {school.letter}
          </text>
        </>
      )}
    </>
  );
}

/** What is missed, below the bar at which the line ends. */
function Miss({ column, words, y }: { column: number; words: string; y: number }) {
  const at = Math.min(column, COLUMNS - 1);
  const x = column >= COLUMNS ? NAMES + COLUMN : NAMES + at * COLUMN;
  return (
    <text x={x} y={y + 41} className="paper fill-error text-[11px]">
      ✕ {shortened(words, WIDTH - x - 14)}
    </text>
  );
}

function Bars({ school, y, until }: { school: SchoolAnswer; y: number; until: number }) {
  const { document } = useSnapshot();
  const { design } = school;
  if (!design || school.verdict === "nothing" || school.verdict === "unasked") return null;
  const { measured } = design;
  const budget = Number(document.plan.brief.budget);
  const now = Number(measured.capex);
  const rule = document.house_rules?.odds_enough_one_in ?? 10_000;
  const years = measured.one_in_years ?? 1;
  const bars = [
    {
      long: lengthOf(budget && now ? budget / now : 1),
      said: moneyText(Math.round(now), measured.currency),
    },
    { long: lengthOf(measured.space_ratio ?? 0), said: sizeText(measured.plannable_bytes) },
    {
      long: lengthOf(measured.speed_ratio ?? 0),
      said: measured.speed_ratio === null ? "–" : `×${measured.speed_ratio?.toFixed(2)}`,
    },
    { long: lengthOfOdds(years, rule), said: years >= 1e9 ? "a billion" : oneFigure(years) },
  ];
  return (
    <>
      {bars.slice(0, until + 1).map((bar, n) => {
        const x = NAMES + n * COLUMN;
        const ends = n === until;
        return (
          <g key={n}>
            <rect
              x={x}
              y={y + 5}
              width={bar.long * BAR}
              height="9"
              className={
                ends ? "plum-hollow" : school.verdict === "fails" ? "teal-soft" : "fill-primary"
              }
              fill={ends ? "url(#hatch-plum)" : undefined}
            />
            <text x={x} y={y + 27} className="paper text-[12px]">
              {bar.said}
            </text>
          </g>
        );
      })}
    </>
  );
}

const oneFigure = (value: number) => wholeText(Number(value.toPrecision(1)));
