import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useCallback, useMemo, useState } from "react";
import { Link, useNavigate, useParams } from "react-router";

import { client, dataOf, type PlanRow, type Session } from "../api/client";
import { agoText } from "../kit/format";
import { SCALES } from "../studio/scaleWords";
import { StudioHeader } from "../studio/StudioHeader";
import { usePlans } from "../studio/usePlans";
import { Problem } from "../kit/Problem";
import { Notice } from "../kit/Notice";
import { Button, LINK } from "../kit/Button";
import { Heads, Table } from "../kit/Table";
import { Key } from "../kit/Key";
import { useShortcuts } from "../kit/shortcuts";

const SHAPES = { enough: "◣", tight: "▬", short: "◢", open: "◇" } as const;

/** Taking a plan off the list and bringing it back. */
function useRemovedPlan(studio: string) {
  const queries = useQueryClient();
  const [removed, setRemoved] = useState<PlanRow | null>(null);
  const reload = (now: PlanRow | null) => {
    setRemoved(now);
    return queries.invalidateQueries({ queryKey: ["get", "/api/studios/{studio}/plans"] });
  };
  const at = (row: PlanRow) => ({ params: { path: { studio, plan_id: row.id } } });
  const remove = useMutation({
    mutationFn: (row: PlanRow) =>
      dataOf(client.DELETE("/api/studios/{studio}/plans/{plan_id}", at(row))),
    onSuccess: (_, row) => reload(row),
  });
  const bringBack = useMutation({
    mutationFn: (row: PlanRow) =>
      dataOf(client.POST("/api/studios/{studio}/plans/{plan_id}/bring-back", at(row))),
    onSuccess: () => reload(null),
  });
  return { removed, remove, bringBack };
}

/** The studio's plans with their four verdicts; begin one, bring one from a file, remove one. */
export function PlansPage({ session }: { session: Session }) {
  const { studio = "" } = useParams();
  const mine = session.studios.find((s) => s.slug === studio);
  const plans = usePlans(studio);
  const { removed, remove, bringBack } = useRemovedPlan(studio);
  const mayWrite = mine !== undefined && mine.role !== "viewer";
  const navigate = useNavigate();
  const toBegin = useCallback(() => void navigate(`/s/${studio}/begin`), [navigate, studio]);
  const keys = useMemo(() => {
    const table: Record<string, () => void> = {};
    if (mayWrite) table.n = toBegin;
    return table;
  }, [mayWrite, toBegin]);
  useShortcuts(keys);
  return (
    <div className="min-h-dvh">
      <StudioHeader session={session} studio={studio} />
      <main className="mx-auto max-w-5xl p-8">
        <div className="flex flex-wrap items-center justify-between gap-4">
          <h1 className="text-2xl">Plans</h1>
          {mayWrite && (
            <Button look="primary" onClick={toBegin}>
              Begin a plan <Key>n</Key>
            </Button>
          )}
        </div>
        <Problem of={plans.error ?? remove.error ?? bringBack.error} />
        {removed && (
          <Notice className="my-3">
            <span>
              “{removed.name}” was taken off the list.{" "}
              <Button look="text" onClick={() => bringBack.mutate(removed)}>
                Bring it back
              </Button>
            </span>
          </Notice>
        )}
        {plans.rows?.length === 0 && (
          <p className="my-6">
            No plans yet. Begin one with a line, a starting point, or a plan file from another
            machine.
          </p>
        )}
        {plans.rows && plans.rows.length > 0 && (
          <PlanTable
            studio={studio}
            rows={plans.rows}
            now={plans.dataUpdatedAt}
            onRemove={mine?.role === "owner" ? remove.mutate : undefined}
          />
        )}
        {plans.hasNextPage && (
          <Button look="text" className="mt-4" onClick={() => void plans.fetchNextPage()}>
            Older plans
          </Button>
        )}
      </main>
    </div>
  );
}

function PlanTable({
  studio,
  rows,
  now,
  onRemove,
}: {
  studio: string;
  rows: PlanRow[];
  now: number;
  onRemove: ((row: PlanRow) => void) | undefined;
}) {
  const titles = SCALES.map(([, title]) => title);
  return (
    <Table className="stacked mt-4">
      <Heads of={["Plan", ...titles, "#Findings", "Changed", ...(onRemove ? ["-Remove"] : [])]} />
      <tbody>
        {rows.map((row) => (
          <tr key={row.id}>
            <td className="max-w-80 py-3">
              <Link
                className={`${LINK} text-lg font-semibold`}
                to={`/s/${studio}/plans/${row.id}/tiers`}
              >
                {row.name}
              </Link>
              <p className="faint">{row.note}</p>
              {row.is_old && (
                <p className="faint text-sm">Judged by older rules; it is being judged again.</p>
              )}
            </td>
            {SCALES.map(([name, title]) => (
              <VerdictCell key={name} title={title} verdict={row[name]} />
            ))}
            <td className="num wide-only py-3">{row.findings || "–"}</td>
            <td className="wide-only py-3">
              {agoText(row.changed_at, Math.max(now, Date.parse(row.changed_at)))}
              <span className="faint block">revision {row.head}</span>
            </td>
            {onRemove && (
              <td className="py-3">
                <Button look="text" onClick={() => onRemove(row)}>
                  Remove<span className="sr-only"> {row.name}</span>
                </Button>
              </td>
            )}
          </tr>
        ))}
      </tbody>
    </Table>
  );
}

function VerdictCell({ title, verdict }: { title: string; verdict: keyof typeof SHAPES | null }) {
  if (verdict === null) return <td className="faint py-3">not judged</td>;
  return (
    <td className={`state-${verdict} py-3 font-semibold`}>
      <span className="narrow-only font-normal">{title} </span>
      <span aria-hidden="true">{SHAPES[verdict]}</span> {verdict}
    </td>
  );
}
