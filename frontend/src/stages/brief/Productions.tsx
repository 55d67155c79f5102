import { useFormatOptions } from "../../plan/useFormatOptions";
import { fieldsIn } from "../../plan/AllFields";
import { Quantity, RefusedHere, TextField } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { AddWithFormat } from "./AddWithFormat";
import { More } from "../../kit/Fold";

const PRODUCTION = [{ path: "plan/brief/productions", given: {}, words: "Add a production" }];

/** The shooting calendar: what begins when, how much is shot, and when it is delivered and archived. */
export function Productions() {
  const { document } = useSnapshot();
  const productions = document.plan.brief.productions ?? [];
  const formats = useFormatOptions();
  return (
    <>
      {productions.map((production) => {
        const path = `plan/brief/productions/${production.id}`;
        const its = fieldsIn("Production", path, production.name);
        return (
          <ItemFieldset
            key={production.id}
            field="Production.name"
            path={path}
            name={production.name}
          >
            <span>from</span>
            {its("starts_on", "shooting from")}
            {its("shooting_weeks", "weeks of shooting")}
            <span>{production.shooting_weeks === 1 ? "week," : "weeks,"}</span>
            {its("cameras", "cameras")}
            <span>{production.cameras === 1 ? "camera ×" : "cameras ×"}</span>
            {its("hours_per_day", "hours a day")}
            <span>h a day of</span>
            {its("format_id", "format", formats)}
            <More of={production.name}>
              <Quantity field="Production.days_per_week" path={`${path}/days_per_week`} />
              <Quantity field="Production.kept_ratio" path={`${path}/kept_ratio`} />
              <Quantity field="Production.versions" path={`${path}/versions`} />
              <Quantity field="Production.version_bytes" path={`${path}/version_bytes`} />
              <TextField type="date" field="Production.delivers_on" path={`${path}/delivers_on`} />
              <TextField type="date" field="Production.archived_on" path={`${path}/archived_on`} />
            </More>
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/productions" />
      <AddWithFormat label="What it shoots: find a format" offered={PRODUCTION} />
    </>
  );
}
