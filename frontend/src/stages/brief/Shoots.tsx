import { useFormatOptions } from "../../plan/useFormatOptions";
import { fieldsIn } from "../../plan/AllFields";
import { RefusedHere } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { AddWithFormat } from "./AddWithFormat";

const UNIT = [{ path: "plan/brief/shoots", given: {}, words: "Add a camera unit" }];

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
            <span className="inline-flex flex-wrap items-center gap-x-2">
              kept {its("kept_ratio", "part kept")} %
            </span>
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/shoots" />
      <AddWithFormat label="What it shoots: find a format" offered={UNIT} />
    </>
  );
}
