import { useMutation } from "@tanstack/react-query";
import { Link, useNavigate } from "react-router";

import { client, dataOf, type PlanAnswer, type Session } from "../api/client";
import { StudioHeader } from "../studio/StudioHeader";
import { RevisionList } from "./RevisionList";
import { Notice } from "../kit/Notice";
import { Problem } from "../kit/Problem";
import { Button, LINK } from "../kit/Button";

/** A plan whose newest state cannot be judged any more: why, and every way to leave that state. */
export function ClosedPlan(props: {
  session: Session;
  studio: string;
  plan: PlanAnswer;
  onMended: () => void;
}) {
  const { session, studio, plan, onMended } = props;
  const mayWrite = plan.role !== "viewer";
  const { undo, restore, remove } = useWaysOut(studio, plan.id, onMended);
  const failure = undo.error ?? restore.error ?? remove.error;
  return (
    <div className="min-h-dvh">
      <StudioHeader session={session} studio={studio} />
      <main className="mx-auto max-w-3xl p-8">
        <h1 className="text-2xl">{plan.name}</h1>
        <Notice className="mt-3">
          Revision {plan.head} cannot be judged: {plan.reason}
        </Notice>
        <p className="mt-3">
          Nothing of it is lost. Bring an earlier revision back to go on with it.
        </p>
        <Problem of={failure} className="mt-3" />
        <p className="mt-3 flex flex-wrap gap-5">
          {mayWrite && plan.can_undo && (
            <Button onClick={() => undo.mutate()}>Undo your last change</Button>
          )}
          <a className={LINK} href={`/api/studios/${studio}/plans/${plan.id}/bundle`}>
            Download the plan file
          </a>
          {plan.role === "owner" && (
            <Button look="text" onClick={() => remove.mutate()}>
              Take it off the list
            </Button>
          )}
          <Link className={LINK} to={`/s/${studio}/plans`}>
            Back to the plans
          </Link>
        </p>
        <h2 className="mt-6">History</h2>
        <RevisionList
          studio={studio}
          planId={plan.id}
          head={plan.head}
          onRestore={mayWrite ? restore.mutate : undefined}
        />
      </main>
    </div>
  );
}

/** Leaving a state that cannot be judged: back a step, back to an older one, or off the list. */
function useWaysOut(studio: string, plan_id: string, onMended: () => void) {
  const navigate = useNavigate();
  const params = { path: { studio, plan_id } };
  const undo = useMutation({
    mutationFn: () => dataOf(client.POST("/api/studios/{studio}/plans/{plan_id}/undo", { params })),
    onSuccess: onMended,
  });
  const restore = useMutation({
    mutationFn: (number: number) =>
      dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/revisions/{number}/restore", {
          params: { path: { ...params.path, number } },
        }),
      ),
    onSuccess: onMended,
  });
  const remove = useMutation({
    mutationFn: () => dataOf(client.DELETE("/api/studios/{studio}/plans/{plan_id}", { params })),
    onSuccess: () => void navigate(`/s/${studio}/plans`),
  });
  return { undo, restore, remove };
}
