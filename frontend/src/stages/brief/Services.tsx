import { Choice, Quantity, RefusedHere } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";

/** Parts of the day, and what else runs on the box in them. */
export function Services() {
  const { document } = useSnapshot();
  const parts = document.plan.brief.day_parts ?? [];
  const services = document.plan.brief.services ?? [];
  const options: [string, string][] = [
    ["", "every part alike"],
    ...parts.map((p): [string, string] => [p.id, p.name]),
  ];
  return (
    <>
      <h3 className="mt-2">Parts of the day</h3>
      {parts.length === 0 && (
        <p className="faint">
          The working day is taken as one part of eight hours. Tell parts apart where nights differ.
        </p>
      )}
      {parts.map((part) => {
        const path = `plan/brief/day_parts/${part.id}`;
        return (
          <ItemFieldset key={part.id} field="DayPart.name" path={path} name={part.name}>
            <Quantity
              bare
              field="DayPart.hours"
              path={`${path}/hours`}
              label={`${part.name}: hours`}
            />
            <span>h</span>
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/day_parts" />
      <AddItem className="mt-2" path="plan/brief/day_parts">
        Add a part of the day
      </AddItem>
      <h3 className="mt-4">Workstation backups and other services</h3>
      {services.map((service) => {
        const path = `plan/brief/services/${service.id}`;
        const label = (what: string) => `${service.name}: ${what}`;
        return (
          <ItemFieldset key={service.id} field="Service.name" path={path} name={service.name}>
            <Quantity bare field="Service.count" path={`${path}/count`} label={label("machines")} />
            <span>× keeps</span>
            <Quantity
              bare
              field="Service.kept_bytes"
              path={`${path}/kept_bytes`}
              label={label("keeps")}
            />
            <span>GB, a day writes</span>
            <Quantity
              bare
              field="Service.written_bytes_per_day"
              path={`${path}/written_bytes_per_day`}
              label={label("writes a day")}
            />
            <span>GB, reads</span>
            <Quantity
              bare
              field="Service.read_bytes_per_day"
              path={`${path}/read_bytes_per_day`}
              label={label("reads a day")}
            />
            <span>GB in</span>
            <Choice
              bare
              field="Service.part_id"
              path={`${path}/part_id`}
              options={options}
              label={label("runs in")}
            />
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/services" />
      <AddItem className="mt-2" path="plan/brief/services">
        Add a service
      </AddItem>
    </>
  );
}
