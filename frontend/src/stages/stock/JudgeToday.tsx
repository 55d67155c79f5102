import { useMutation } from "@tanstack/react-query";
import { useId, type SubmitEvent } from "react";
import { useNavigate } from "react-router";

import { client, dataOf, type Device } from "../../api/client";
import { usePlans } from "../../studio/usePlans";
import layouts from "../../generated/layouts.json";
import { Row } from "../../kit/Row";
import { Select } from "../../kit/Input";
import { Problem } from "../../kit/Problem";
import { Button } from "../../kit/Button";

/** The stock as it stands, judged like any other plan: staying with it is the baseline. */
export function JudgeToday({ studio, devices }: { studio: string; devices: Device[] }) {
  const id = useId();
  const navigate = useNavigate();
  const params = { path: { studio } };
  const { rows: plans } = usePlans(studio, true);
  const judge = useMutation({
    mutationFn: (body: { place: string; layout: string; plan_id: string }) =>
      dataOf(client.POST("/api/studios/{studio}/stock/today", { params, body })),
    onSuccess: ({ id }) => navigate(`/s/${studio}/plans/${id}/tiers`),
  });
  const offered = placesOf(devices);
  if (!plans?.length || !offered.length) return null;
  const submit = (event: SubmitEvent<HTMLFormElement>) => {
    event.preventDefault();
    const form = new FormData(event.currentTarget);
    judge.mutate({
      place: String(form.get("place")),
      layout: String(form.get("layout")),
      plan_id: String(form.get("plan")),
    });
  };
  return (
    <form className="mt-5" onSubmit={submit}>
      <h2>Judge today</h2>
      <p className="faint">What if you stayed with what there is?</p>
      <Row of={`${id}-place`} label="Drives in or at">
        <Select id={`${id}-place`} name="place">
          {offered.map((place) => (
            <option key={place}>{place}</option>
          ))}
        </Select>
      </Row>
      <Row of={`${id}-layout`} label="Layout there">
        <Select id={`${id}-layout`} name="layout" className="max-w-56" defaultValue="raid5">
          {Object.entries(layouts).map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </Select>
      </Row>
      <Row of={`${id}-plan`} label="People and wires of">
        <Select id={`${id}-plan`} name="plan" className="max-w-56">
          {plans.map((plan) => (
            <option key={plan.id} value={plan.id}>
              {plan.name}
            </option>
          ))}
        </Select>
      </Row>
      <Problem of={judge.error} />
      <Button type="submit" className="mt-2" disabled={judge.isPending}>
        Make it a plan
      </Button>
    </form>
  );
}

/** Where drives lie: in boxes and at places. */
function placesOf(devices: Device[]): string[] {
  const drives = devices.filter((device) => device.kind === "drive");
  return [...new Set(drives.flatMap((d) => [d.box ?? "", d.place ?? ""]))].filter(Boolean);
}
