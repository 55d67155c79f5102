import { Choice, Quantity, RefusedHere } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { usePlanTools, useSnapshot } from "../../plan/context";
import { freshId } from "../../plan/patch";

/** What is shot in an average week, unit by unit. */
export function Shoots() {
  const { session, mayWrite } = usePlanTools();
  const { document } = useSnapshot();
  const shoots = document.plan.brief.shoots ?? [];
  const formats = document.catalogue?.formats ?? [];
  const options = formats.map((f): [string, string] => [f.id, f.name]);
  const add = () =>
    session.change({
      op: "add",
      path: "plan/brief/shoots",
      value: {
        id: freshId("unit", shoots),
        name: "New unit",
        format_id: formats[0]?.id,
        hours_per_week: 1,
        kept_ratio: 1,
      },
    });
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
      {mayWrite && formats.length > 0 && (
        <button type="button" className="text-button mt-2 mb-2" onClick={add}>
          Add a camera unit
        </button>
      )}
    </>
  );
}
