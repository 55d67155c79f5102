import { Choice, Quantity, RefusedHere, TextField } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";
import { More } from "../../kit/Fold";

/** The shooting calendar: what begins when, how much is shot, and when it is delivered and archived. */
export function Productions() {
  const { document } = useSnapshot();
  const productions = document.plan.brief.productions ?? [];
  const formats = (document.catalogue?.formats ?? []).map((f): [string, string] => [f.id, f.name]);
  return (
    <>
      {productions.map((production) => {
        const path = `plan/brief/productions/${production.id}`;
        const label = (what: string) => `${production.name}: ${what}`;
        return (
          <ItemFieldset
            key={production.id}
            field="Production.name"
            path={path}
            name={production.name}
          >
            <span>from</span>
            <TextField
              bare
              type="date"
              field="Production.starts_on"
              path={`${path}/starts_on`}
              label={label("shooting from")}
            />
            <Quantity
              bare
              field="Production.shooting_weeks"
              path={`${path}/shooting_weeks`}
              label={label("weeks of shooting")}
            />
            <span>weeks,</span>
            <Quantity
              bare
              field="Production.cameras"
              path={`${path}/cameras`}
              label={label("cameras")}
            />
            <span>cameras ×</span>
            <Quantity
              bare
              field="Production.hours_per_day"
              path={`${path}/hours_per_day`}
              label={label("hours a day")}
            />
            <span>h a day of</span>
            <Choice
              bare
              field="Production.format_id"
              path={`${path}/format_id`}
              options={formats}
              label={label("format")}
            />
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
      {formats.length > 0 && (
        <AddItem className="mt-2" path="plan/brief/productions">
          Add a production
        </AddItem>
      )}
    </>
  );
}
