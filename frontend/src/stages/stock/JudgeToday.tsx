import { useMutation } from "@tanstack/react-query";
import type { SubmitEvent } from "react";
import { useNavigate } from "react-router";

import { client, dataOf, type Device } from "../../api/client";
import { usePlans } from "../../studio/usePlans";
import layouts from "../../generated/layouts.json";

/** The stock as it stands, judged like any other plan: staying with it is the baseline. */
export function JudgeToday({ studio, devices }: { studio: string; devices: Device[] }) {
  const navigate = useNavigate();
  const params = { path: { studio } };
  const { rows: plans } = usePlans(studio, true);
  const judge = useMutation({
    mutationFn: (body: { place: string; layout: string; plan_id: string }) =>
      dataOf(client.POST("/api/studios/{studio}/stock/today", { params, body })),
    onSuccess: ({ id }) => navigate(`/s/${studio}/plans/${id}/tiers`),
  });
  const places = [
    ...new Set(
      devices.filter((d) => d.kind === "drive").flatMap((d) => [d.box ?? "", d.place ?? ""]),
    ),
  ];
  const offered = places.filter(Boolean);
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
      <label className="row">
        <span>Drives in or at</span>
        <select name="place" className="field">
          {offered.map((place) => (
            <option key={place}>{place}</option>
          ))}
        </select>
        <span />
      </label>
      <label className="row">
        <span>Layout there</span>
        <select name="layout" className="field max-w-56" defaultValue="raid5">
          {Object.entries(layouts).map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </select>
        <span />
      </label>
      <label className="row">
        <span>People and wires of</span>
        <select name="plan" className="field max-w-56">
          {plans.map((plan) => (
            <option key={plan.id} value={plan.id}>
              {plan.name}
            </option>
          ))}
        </select>
        <span />
      </label>
      {judge.isError && (
        <p className="problem" role="alert">
          {judge.error.message}
        </p>
      )}
      <button type="submit" className="plain-button mt-2" disabled={judge.isPending}>
        Make it a plan
      </button>
    </form>
  );
}
