import { useFormatOptions } from "../../plan/useFormatOptions";
import { fieldsIn } from "../../plan/AllFields";
import { RefusedHere } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";

/** What is shot in an average week, unit by unit. */
export function Shoots() {
  const { document } = useSnapshot();
  const shoots = document.plan.brief.shoots ?? [];
  const formats = useFormatOptions();
  return (
    <>
      {shoots.map((shoot) => {
        const path = `plan/brief/shoots/${shoot.id}`;
        const its = fieldsIn("Shoot", path, shoot.name);
        return (
          <ItemFieldset key={shoot.id} field="Shoot.name" path={path} name={shoot.name}>
            {its("hours_per_week", "hours a week")}
            <span>h a week in</span>
            {its("format_id", "format", formats)}
            <span>kept</span>
            {its("kept_ratio", "part kept")}
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
