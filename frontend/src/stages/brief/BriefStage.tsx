import { Quantity, TextField } from "../../kit/fields";
import { Figure } from "../../kit/Figure";
import { rateText, sizeText, stepLabel } from "../../kit/format";
import { useSnapshot } from "../../plan/context";
import { Formats } from "./Formats";
import { LoadDrawing } from "./LoadDrawing";
import { Ribbon } from "./Ribbon";
import { Seats } from "./Seats";
import { Shoots } from "./Shoots";
import { StockTaken } from "./StockTaken";

/** Who works, what is shot and what may be spent; beside it the load and what piles up. */
export function BriefStage() {
  const { evaluation } = useSnapshot();
  const { brief } = evaluation;
  return (
    <div className="ask-answer">
      <section aria-label="Brief">
        <h2>Limits</h2>
        <TextField field="Plan.name" path="plan/name" />
        <Quantity field="Brief.budget" path="plan/brief/budget" />
        <TextField field="Brief.horizon_date" path="plan/brief/horizon_date" type="date" />
        <h2 className="mt-5">Seats</h2>
        <Seats />
        <h2 className="mt-6">Shot and kept</h2>
        <Shoots />
        <Quantity field="Brief.stills_bytes_per_week" path="plan/brief/stills_bytes_per_week" />
        <Quantity field="Brief.exports_bytes_per_week" path="plan/brief/exports_bytes_per_week" />
        <Quantity field="Brief.proxy_ratio" path="plan/brief/proxy_ratio" />
        <Quantity field="Brief.preview_ratio" path="plan/brief/preview_ratio" />
        <Quantity field="Brief.kept_today_bytes" path="plan/brief/kept_today_bytes" />
        <StockTaken />
        <Quantity field="Brief.other_services_bytes" path="plan/brief/other_services_bytes" />
        <h2 className="mt-6">Footage formats</h2>
        <Formats />
      </section>
      <section aria-label="Load and growth" className="sticky top-5">
        <h2>Asked at once</h2>
        <Ribbon seats={brief.seats} />
        <h3 className="mt-5">How often how much is asked</h3>
        <LoadDrawing bars={brief.bars} load={brief.both} />
        <p className="mt-1">
          Sized on <Figure id="brief.load">{rateText(brief.both.sized_bytes_per_s)}</Figure>{" "}
          <span className="faint">
            mean {rateText(brief.both.mean_bytes_per_s)}, P95 {rateText(brief.both.p95_bytes_per_s)}
            , P99 {rateText(brief.both.p99_bytes_per_s)}, worst{" "}
            {rateText(brief.both.max_bytes_per_s)}. 5 % of an eight-hour day is 24 minutes.
          </span>
        </p>
        <h3 className="mt-5">Needed in {Math.round(brief.weeks)} weeks</h3>
        <table className="ledger max-w-md">
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
        </table>
        <p className="mt-1">
          Growth a week <Figure id="brief.growth">{sizeText(brief.growth_bytes_per_week)}</Figure>
        </p>
      </section>
    </div>
  );
}
