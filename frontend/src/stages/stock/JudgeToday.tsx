import { useMutation } from "@tanstack/react-query";
import { useId, type SubmitEvent } from "react";
import { useNavigate } from "react-router";

import { client, dataOf, type Device, type Today } from "../../api/client";
import { usePlans } from "../../studio/usePlans";
import layouts from "../../generated/layouts.json";
import { Row } from "../../kit/Row";
import { Select } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { Button } from "../../kit/Button";

/**
 * The stock as it stands, judged like any other plan: staying with it is the baseline. Its people are those of
 * another plan, or of a brief in one line.
 */
export function JudgeToday({
  studio,
  devices,
  line,
}: {
  studio: string;
  devices: Device[];
  line?: string;
}) {
  const id = useId();
  const navigate = useNavigate();
  const { rows: plans } = usePlans(studio, true);
  const judge = useMutation({
    mutationFn: (body: Today) =>
      dataOf(
        client.POST("/api/studios/{studio}/stock/today", { params: { path: { studio } }, body }),
      ),
    onSuccess: ({ id }) => navigate(`/s/${studio}/plans/${id}/tiers`),
  });
  const isOfPlan = line === undefined;
  const offered = placesOf(devices);
  if (!offered.length || (isOfPlan && !plans?.length)) return null;
  const submit = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    judge.mutate({
      place: String(form.get("place")),
      layout: String(form.get("layout")),
      plan_id: isOfPlan ? String(form.get("plan")) : null,
      line: line ?? "",
    });
  };
  return (
    <form className={isOfPlan ? "mt-5" : ""} onSubmit={submit}>
      {isOfPlan && <h2>Judge today</h2>}
      <p className="faint">What if you stayed with what there is?</p>
      <OneOf id={`${id}-place`} name="place" label="Drives in or at" of={offered.map(twice)} />
      <OneOf id={`${id}-layout`} name="layout" label="Layout there" of={LAYOUTS} first="raid5" />
      {isOfPlan && plans && (
        <OneOf
          id={`${id}-plan`}
          name="plan"
          label="People and wires of"
          of={plans.map((plan) => [plan.id, plan.name])}
        />
      )}
      <Problem of={judge.error} />
      <Button type="submit" className="mt-2" disabled={judge.isPending}>
        Make it a plan
      </Button>
    </form>
  );
}

const LAYOUTS = Object.entries(layouts);
const twice = (text: string): [string, string] => [text, text];

function OneOf({
  id,
  name,
  label,
  of,
  first,
}: {
  id: string;
  name: string;
  label: string;
  of: [string, string][];
  first?: string;
}) {
  return (
    <Row of={id} label={label}>
      <Select id={id} name={name} className="max-w-56" defaultValue={first}>
        {of.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </Select>
    </Row>
  );
}

/** Where drives lie: in boxes and at places. */
function placesOf(devices: Device[]): string[] {
  const drives = devices.filter((device) => device.kind === "drive");
  return [...new Set(drives.flatMap((d) => [d.box ?? "", d.place ?? ""]))].filter(Boolean);
}
