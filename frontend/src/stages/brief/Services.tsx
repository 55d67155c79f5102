import { fieldsIn } from "../../plan/AllFields";
import { useMemo } from "react";

import { RefusedHere, type Option } from "../../plan/fields";
import { ItemFieldset } from "../../plan/ItemFieldset";
import { useSnapshot } from "../../plan/context";
import { AddItem } from "../../plan/AddItem";
import { useHomes, useSwitches } from "../../plan/useHomes";

/** Parts of the day, and what else runs on the box in them. */
export function Services() {
  return (
    <>
      <h3 className="mt-2">Parts of the day</h3>
      <DayParts />
      <h3 className="mt-4">Workstation backups and what else runs</h3>
      <OtherServices />
    </>
  );
}

function DayParts() {
  const { document } = useSnapshot();
  const parts = document.plan.brief.day_parts ?? [];
  return (
    <>
      {parts.length === 0 && (
        <p className="faint">
          The working day is taken as one part of eight hours. Tell parts apart where nights differ.
        </p>
      )}
      {parts.map((part) => {
        const path = `plan/brief/day_parts/${part.id}`;
        const its = fieldsIn("DayPart", path, part.name);
        return (
          <ItemFieldset key={part.id} field="DayPart.name" path={path} name={part.name}>
            {its("hours", "hours")}
            <span>h</span>
          </ItemFieldset>
        );
      })}
      <RefusedHere path="plan/brief/day_parts" />
      <AddItem className="mt-2" path="plan/brief/day_parts">
        Add a part of the day
      </AddItem>
    </>
  );
}

function OtherServices() {
  const { document } = useSnapshot();
  const parts = document.plan.brief.day_parts;
  const homes = useHomes();
  const switches = useSwitches();
  const options = useMemo(
    (): Option[] => [["", "every part alike"], ...(parts ?? []).map((p): Option => [p.id, p.name])],
    [parts],
  );
  return (
    <>
      {(document.plan.brief.services ?? []).map((service) => {
        const path = `plan/brief/services/${service.id}`;
        const its = fieldsIn("Service", path, service.name);
        return (
          <ItemFieldset key={service.id} field="Service.name" path={path} name={service.name}>
            {its("count", "machines")}
            <span>× keeps</span>
            {its("kept_bytes", "keeps")}
            <span>GB, a day writes</span>
            {its("written_bytes_per_day", "writes a day")}
            <span>GB, reads</span>
            {its("read_bytes_per_day", "reads a day")}
            <span>GB in</span>
            {its("part_id", "runs in", options)}
            {homes.length > 0 && (
              <>
                <span>on</span>
                {its("works_on", "works on", homes)}
              </>
            )}
            {switches.length > 1 && (
              <>
                <span>by</span>
                {its("enters_at", "plugged in at", switches)}
              </>
            )}
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
