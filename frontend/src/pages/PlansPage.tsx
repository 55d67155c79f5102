import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState, type SubmitEvent } from "react";
import { Link, useNavigate, useParams } from "react-router";

import {
  client,
  dataOf,
  sendFile,
  type PlanAnswer,
  type PlanRow,
  type Session,
} from "../api/client";
import { agoText } from "../kit/format";
import { FileDrop } from "../kit/FileDrop";
import { StudioHeader } from "../studio/StudioHeader";
import { usePlans } from "../studio/usePlans";

const SCALES = ["speed", "space", "safety", "money"] as const;
const SHAPES = { enough: "◣", tight: "▬", short: "◢" } as const;

/** The studio's plans with their four verdicts; begin one, bring one from a file, remove one. */
export function PlansPage({ session }: { session: Session }) {
  const { studio = "" } = useParams();
  const queries = useQueryClient();
  const [removed, setRemoved] = useState<PlanRow | null>(null);
  const mine = session.studios.find((s) => s.slug === studio);
  const plans = usePlans(studio);
  const rows = plans.rows;
  const reload = () => queries.invalidateQueries({ queryKey: ["plans", studio] });
  const remove = useMutation({
    mutationFn: (row: PlanRow) =>
      dataOf(
        client.DELETE("/api/studios/{studio}/plans/{plan_id}", {
          params: { path: { studio, plan_id: row.id } },
        }),
      ),
    onSuccess: (_, row) => {
      setRemoved(row);
      return reload();
    },
  });
  const bringBack = useMutation({
    mutationFn: (row: PlanRow) =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/bring-back", {
          params: { path: { studio, plan_id: row.id } },
        }),
      ),
    onSuccess: () => {
      setRemoved(null);
      return reload();
    },
  });
  const failure = plans.error ?? remove.error ?? bringBack.error;
  const mayWrite = mine !== undefined && mine.role !== "viewer";
  return (
    <div className="min-h-dvh">
      <StudioHeader session={session} studio={studio} />
      <main className="mx-auto max-w-5xl p-8">
        <h1 className="text-2xl">Plans</h1>
        {failure && (
          <p className="problem" role="alert">
            {failure.message}
          </p>
        )}
        {removed && (
          <p role="status" className="my-3 border-l-4 border-primary bg-base-200 px-4 py-2">
            “{removed.name}” was taken off the list.{" "}
            <button type="button" className="text-button" onClick={() => bringBack.mutate(removed)}>
              Bring it back
            </button>
          </p>
        )}
        {rows?.length === 0 && (
          <p className="my-6">
            No plans yet. Begin one below, or drop a plan file from another machine.
          </p>
        )}
        {rows && rows.length > 0 && (
          <table className="ledger mt-4">
            <thead>
              <tr>
                <th scope="col">Plan</th>
                {SCALES.map((name) => (
                  <th key={name} scope="col" className="capitalize">
                    {name}
                  </th>
                ))}
                <th scope="col" className="num">
                  Findings
                </th>
                <th scope="col">Changed</th>
                {mine?.role === "owner" && (
                  <th scope="col">
                    <span className="sr-only">Remove</span>
                  </th>
                )}
              </tr>
            </thead>
            <tbody>
              {rows.map((row) => (
                <tr key={row.id}>
                  <td className="max-w-80 py-3">
                    <Link
                      className="text-button text-lg font-semibold"
                      to={`/s/${studio}/plans/${row.id}/tiers`}
                    >
                      {row.name}
                    </Link>
                    <p className="faint">{row.note}</p>
                  </td>
                  {SCALES.map((name) => (
                    <VerdictCell key={name} verdict={row[name]} />
                  ))}
                  <td className="num py-3">{row.findings || "–"}</td>
                  <td className="py-3">
                    {agoText(
                      row.changed_at,
                      Math.max(plans.dataUpdatedAt, Date.parse(row.changed_at)),
                    )}
                    <span className="faint block">revision {row.head}</span>
                  </td>
                  {mine?.role === "owner" && (
                    <td className="py-3">
                      <button
                        type="button"
                        className="text-button"
                        onClick={() => remove.mutate(row)}
                      >
                        Remove<span className="sr-only"> {row.name}</span>
                      </button>
                    </td>
                  )}
                </tr>
              ))}
            </tbody>
          </table>
        )}
        {plans.hasNextPage && (
          <button
            type="button"
            className="text-button mt-4"
            onClick={() => void plans.fetchNextPage()}
          >
            Older plans
          </button>
        )}
        {mayWrite && <Begin studio={studio} />}
      </main>
    </div>
  );
}

function VerdictCell({ verdict }: { verdict: keyof typeof SHAPES | null }) {
  if (verdict === null) return <td className="faint py-3">not judged</td>;
  return (
    <td className={`state-${verdict} py-3 font-semibold`}>
      <span aria-hidden="true">{SHAPES[verdict]}</span> {verdict}
    </td>
  );
}

/** Two ways to a new plan: a name, or a plan file. */
function Begin({ studio }: { studio: string }) {
  const navigate = useNavigate();
  const [name, setName] = useState("");
  const go = (plan: PlanAnswer) => navigate(`/s/${studio}/plans/${plan.id}/brief`);
  const create = useMutation({
    mutationFn: () =>
      dataOf(
        client.POST("/api/studios/{studio}/plans", {
          params: { path: { studio } },
          body: { name },
        }),
      ),
    onSuccess: go,
  });
  const bring = useMutation({
    mutationFn: (file: File) => sendFile<PlanAnswer>(`/api/studios/${studio}/plans/import`, file),
    onSuccess: go,
  });
  const submit = (event: SubmitEvent) => {
    event.preventDefault();
    create.mutate();
  };
  return (
    <section className="mt-10 grid gap-10 md:grid-cols-2">
      <form onSubmit={submit}>
        <h2>Begin a plan</h2>
        <div className="mt-3 flex gap-2">
          <input
            className="field grow"
            aria-label="Name of the new plan"
            placeholder="Name of the new plan"
            value={name}
            maxLength={80}
            onChange={(event) => setName(event.target.value)}
          />
          <button
            type="submit"
            className="plain-button"
            disabled={!name.trim() || create.isPending}
          >
            Begin
          </button>
        </div>
        {create.isError && (
          <p className="problem" role="alert">
            {create.error.message}
          </p>
        )}
      </form>
      <div>
        <h2 className="mb-3">Bring a plan file</h2>
        <FileDrop onFile={bring.mutate}>Drop a plan file here, or choose one:</FileDrop>
        {bring.isError && (
          <p className="problem" role="alert">
            {bring.error.message}
          </p>
        )}
      </div>
    </section>
  );
}
