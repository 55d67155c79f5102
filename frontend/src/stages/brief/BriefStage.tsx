import type { Evaluation } from "../../api/client";
import { Choice, Quantity, TextField } from "../../plan/fields";
import { Figure } from "../../plan/Figure";
import {
  counted,
  dateText,
  hoursText,
  rateText,
  shareText,
  sizeText,
  stepLabel,
} from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { CalendarDrawing } from "./CalendarDrawing";
import { ComingIn, Far } from "./Far";
import { Formats } from "./Formats";
import { LoadDrawing } from "./LoadDrawing";
import { Movers } from "./Movers";
import { Productions } from "./Productions";
import { Ribbon } from "./Ribbon";
import { Seats } from "./Seats";
import { Services } from "./Services";
import { Shoots } from "./Shoots";
import { StockTaken } from "./StockTaken";
import { Tolerances } from "./Tolerances";
import { Fold } from "../../kit/Fold";
import { Table } from "../../kit/Table";

const BRIEF = "plan/brief";

const count = (list: readonly unknown[] | undefined) => list?.length ?? 0;

/** Who works, what is shot and what may be spent; beside it the load and what piles up. */
export function BriefStage() {
  return (
    <div className="ask-answer">
      <Asked />
      <Answered />
    </div>
  );
}

function Asked() {
  const { document } = useSnapshot();
  const asked = document.plan.brief;
  const parts = counted(count(asked.day_parts) || 1, "part");
  return (
    <section aria-label="Brief">
      <Fold title="Limits" open>
        <TextField field="Plan.name" path="plan/name" />
        <Quantity field="Brief.budget" path={`${BRIEF}/budget`} />
        <TextField field="Brief.horizon_date" path={`${BRIEF}/horizon_date`} type="date" />
      </Fold>
      <Fold title="Line, room, tolerances, people">
        <Tolerances />
      </Fold>
      <Fold title="Seats" open said={counted(count(asked.seats), "kind")}>
        <Seats />
      </Fold>
      <Fold
        title="Parts of the day and services"
        said={`${parts}, ${counted(count(asked.services), "service")}`}
      >
        <CommonPeak />
        <Services />
      </Fold>
      <Fold title="Shot and kept" open>
        <Shoots />
        <Kept />
      </Fold>
      <Fold title="Productions" open said={`${count(asked.productions)} on the calendar`}>
        <Productions />
      </Fold>
      <Fold title="Project files and catalogues" open>
        <Choice field="Brief.projects_live" path={`${BRIEF}/projects_live`} />
        <p className="faint text-sm">What is copied of them is said in Safeguard.</p>
      </Fold>
      <Fold
        title="Footage formats"
        open
        said={counted(count(document.catalogue?.formats), "format")}
      >
        <Formats />
      </Fold>
    </section>
  );
}

function CommonPeak() {
  const { evaluation } = useSnapshot();
  return (
    <>
      <Quantity field="Brief.common_peak_probability" path={`${BRIEF}/common_peak_probability`} />
      <p className="faint text-sm">
        How likely a deadline is, which lifts everybody to at least{" "}
        {shareText(evaluation.brief.rush_odds)}; empty is the house rule,{" "}
        {shareText(evaluation.brief.common_peak_probability)}.
      </p>
    </>
  );
}

function Kept() {
  return (
    <>
      <Quantity field="Brief.stills_bytes_per_week" path={`${BRIEF}/stills_bytes_per_week`} />
      <Quantity field="Brief.exports_bytes_per_week" path={`${BRIEF}/exports_bytes_per_week`} />
      <Quantity field="Brief.proxy_ratio" path={`${BRIEF}/proxy_ratio`} />
      <Quantity field="Brief.preview_ratio" path={`${BRIEF}/preview_ratio`} />
      <Quantity field="Brief.hot_weeks" path={`${BRIEF}/hot_weeks`} />
      <Quantity field="Brief.kept_today_bytes" path={`${BRIEF}/kept_today_bytes`} />
      <StockTaken />
      <Quantity field="Brief.other_services_bytes" path={`${BRIEF}/other_services_bytes`} />
    </>
  );
}

function Answered() {
  const { evaluation } = useSnapshot();
  const { brief, calendar } = evaluation;
  return (
    <section aria-label="Load and growth" className="answer-column">
      <h2>Asked at once</h2>
      <Ribbon seats={brief.seats} />
      <h3 className="mt-5">How often how much is asked</h3>
      <LoadDrawing bars={evaluation.load_bars} load={brief.both} />
      <Load brief={brief} />
      <Need />
      {calendar.steps.length > 0 && (
        <>
          <h3 className="mt-5">The calendar</h3>
          <CalendarDrawing calendar={calendar} hotMax={brief.hot_productions_max} />
        </>
      )}
      <ComingIn ingest={brief.ingest} cards={evaluation.cards} />
      <Far brief={brief} />
    </section>
  );
}

const inWeeks = (weeks: number) =>
  weeks < 1 ? "Needed today" : `Needed in ${counted(weeks, "week")}`;

/** What must fit on the fullest day, and what of it is hot at once. */
function Need() {
  const { document, evaluation } = useSnapshot();
  const { brief, calendar } = evaluation;
  const horizon = document.plan.brief.horizon_date;
  return (
    <>
      <h3 className="mt-5">
        {inWeeks(Math.round(brief.weeks))}
        {brief.fullest_on !== horizon && `, fullest on ${dateText(brief.fullest_on)}`}
      </h3>
      <Table className="max-w-md">
        <tbody>
          {brief.need_parts
            .filter((part) => part.bytes > 0)
            .map((part) => (
              <tr key={part.step}>
                <td>{stepLabel(part.step)}</td>
                <td className="num">{sizeText(part.bytes)}</td>
              </tr>
            ))}
          <tr>
            <td className="font-semibold">Need</td>
            <td className="num">
              <Figure id="scales.space">{sizeText(brief.need_bytes)}</Figure>
            </td>
          </tr>
        </tbody>
      </Table>
      <p className="mt-1">
        Growth a week <Figure id="brief.growth">{sizeText(brief.growth_bytes_per_week)}</Figure>,
        archive a year {sizeText(calendar.archive_bytes_per_year)}. Hot at once{" "}
        <Figure id="brief.working-set">{sizeText(brief.working_set_bytes)}</Figure>
        {brief.hot_productions_max > 0 &&
          `, with ${counted(brief.hot_productions_max, "production")}`}
        .
      </p>
    </>
  );
}

/** The sizes of the load, why it is sized so, part by part, and what would move it. */
function Load({ brief }: { brief: Evaluation["brief"] }) {
  const part = brief.parts.find((p) => p.id === brief.both.part_id);
  return (
    <>
      <p className="mt-1">
        Sized on <Figure id="brief.load">{rateText(brief.both.sized_bytes_per_s)}</Figure>
        {brief.parts.length > 1 && part ? ` in the busiest part, ${part.name}; ` : " "}
        <span className="faint">
          mean {rateText(brief.both.mean_bytes_per_s)}, P95 {rateText(brief.both.p95_bytes_per_s)},
          P99 {rateText(brief.both.p99_bytes_per_s)}, worst {rateText(brief.both.max_bytes_per_s)}.
          {part &&
            ` In at most ${hoursText(part.beyond_sized_seconds_max)} of its ${part.hours} h more is asked, and someone may wait.`}
          {brief.both.error_bound_bytes_per_s > 0 &&
            ` Rounded to a grid, at most ${rateText(brief.both.error_bound_bytes_per_s)} off.`}
        </span>
      </p>
      <Movers figureId="brief.load" of="the load" />
      {brief.parts.length > 1 && (
        <Table className="mt-2 max-w-md">
          <tbody>
            {brief.parts.map((p) => (
              <tr key={p.id}>
                <td>
                  {p.name} <span className="faint">{p.hours} h</span>
                </td>
                <td className="num">mean {rateText(p.mean_bytes_per_s)}</td>
                <td className="num">
                  sized {rateText(p.sized_bytes_per_s)}
                  {p.id === part?.id && <b className="font-semibold"> busiest</b>}
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </>
  );
}
