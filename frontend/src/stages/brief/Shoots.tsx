import { Choice, Quantity, RefusedHere } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";

/** What is shot in an average week, unit by unit. */
export function Shoots() {
  const { document } = useSnapshot();
  const shoots = document.plan.brief.shoots ?? [];
  const formats = document.catalogue?.formats ?? [];
  const options = formats.map((f): [string, string] => [f.id, f.name]);
  return (
    <>
      {shoots.map((shoot) => {
        const path = `plan/brief/shoots/${shoot.id}`;
        return (
          <ItemFieldset key={shoot.id} field="Shoot.name" path={path} name={shoot.name}>
            <Quantity
              bare
              field="Shoot.hours_per_week"
              path={`${path}/hours_per_week`}
              label={`${shoot.name}: hours a week`}
            />
            <span>h a week in</span>
            <Choice
              bare
              field="Shoot.format_id"
              path={`${path}/format_id`}
              options={options}
              label={`${shoot.name}: format`}
            />
            <span>kept</span>
            <Quantity
              bare
              field="Shoot.kept_ratio"
              path={`${path}/kept_ratio`}
              label={`${shoot.name}: part kept`}
            />
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/shoots" />
      {formats.length > 0 && (
        <AddItem className="my-2" path="plan/brief/shoots">
          Add a camera unit
        </AddItem>
      )}
    </>
  );
}
