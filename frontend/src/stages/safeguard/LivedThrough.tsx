import { client } from "../../api/client";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import { usePlanTools } from "../../plan/context";
import { JobStanding } from "../../plan/JobStanding";
import { isOpen, useLongJob } from "../../plan/useLongJob";

/** The pool's groups lived through, disk by disk, to see whether the chain is right. */
export function LivedThrough({ poolId }: { poolId: string }) {
  const { session, studio, planId, mayWrite } = usePlanTools();
  const { job, begin, step } = useLongJob(
    "/api/studios/{studio}/plans/{plan_id}/safeguard/lifetimes",
    (pool_id: string) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/safeguard/lifetimes", {
        params: { path: { studio, plan_id: planId } },
        body: { ...session.question, pool_id, million_years: 10, seed: 1 },
      }),
  );
  const own = job?.about === poolId ? job : null;
  const open = own !== null && isOpen(own);
  return (
    <>
      <h3 className="mt-4">Lived through</h3>
      {own && <JobStanding job={own} part="part" label="Years lived through" />}
      {own?.lifetimes && <p role="status">{own.lifetimes.sentence}</p>}
      <Problem of={begin.error ?? step.error} />
      {mayWrite && (
        <p className="mt-1">
          {open ? (
            <Button onClick={() => step.mutate({ id: own.id, to: "cancel" })}>Cancel</Button>
          ) : (
            <Button disabled={begin.isPending} onClick={() => begin.mutate(poolId)}>
              Live through ten million years of a group
            </Button>
          )}
        </p>
      )}
      <p className="faint mt-1 text-sm">
        Every disk’s lifetime and every repair is drawn, by other code than the odds above.
      </p>
    </>
  );
}
