import { Choice, Quantity, RefusedHere, TextField } from "../../kit/fields";
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
          <fieldset key={shoot.id} className="mt-2 border-b border-base-300 pb-2">
            <legend className="flex w-full items-center gap-2 font-semibold">
              <TextField
                bare
                field="Shoot.name"
                path={`${path}/name`}
                label={`Name of ${shoot.name}`}
              />
              {mayWrite && (
                <button
                  type="button"
                  className="text-button"
                  onClick={() => session.change({ op: "remove", path })}
                >
                  <span aria-hidden="true">✕</span>
                  <span className="sr-only">Remove {shoot.name}</span>
                </button>
              )}
            </legend>
            <div className="mt-1 flex flex-wrap items-center gap-x-2 gap-y-1">
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
            </div>
          </fieldset>
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
