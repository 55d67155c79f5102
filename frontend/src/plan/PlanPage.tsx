import { useEffect, useMemo, useState } from "react";
import { Link, useParams } from "react-router";

import { api, isJudged, type PlanOut, type Session } from "../api/client";
import { ClosedPlan } from "./ClosedPlan";
import { connectionTo } from "./connection";
import { PlanContext, type PlanTools } from "./context";
import { Frame } from "./Frame";
import type { Panel } from "./panel";
import { PlanSession } from "./session";
import { LINK } from "../kit/Button";

const FOLLOW_MS = 4_000;
/** Loads a plan, then hands it to the frame. */
export function PlanPage({ session }: { session: Session }) {
  const { studio = "", planId = "" } = useParams();
  const params = { path: { studio, plan_id: planId } };
  // The session follows the plan from here on; a refetch would fight it.
  const kept = { staleTime: Infinity, gcTime: 0 };
  const plan = api.useQuery("get", "/api/studios/{studio}/plans/{plan_id}", { params }, kept);
  if (plan.isError) {
    return (
      <main className="p-8">
        <h1 className="text-xl">This plan cannot be opened</h1>
        <p className="my-2">{plan.error.sentence}</p>
        <Link className={LINK} to={`/s/${studio}/plans`}>
          Back to the plans
        </Link>
      </main>
    );
  }
  if (!plan.data) return <main className="faint p-8">Opening the plan …</main>;
  if (!isJudged(plan.data)) {
    return (
      <ClosedPlan
        session={session}
        studio={studio}
        plan={plan.data}
        onMended={() => void plan.refetch()}
      />
    );
  }
  return <OpenPlan key={planId} studio={studio} plan={plan.data} />;
}

function OpenPlan({ studio, plan }: { studio: string; plan: PlanOut }) {
  const session = useMemo(
    () => new PlanSession(connectionTo(studio, plan.id), plan),
    [studio, plan],
  );
  const [panel, setPanel] = useState<Panel>(null);
  useEffect(() => {
    const follow = setInterval(() => {
      if (window.document.visibilityState === "visible") void session.follow();
    }, FOLLOW_MS);
    const leave = () => void session.flush(true);
    window.addEventListener("pagehide", leave);
    return () => {
      clearInterval(follow);
      window.removeEventListener("pagehide", leave);
      void session.flush();
    };
  }, [session]);
  const tools = useMemo<PlanTools>(
    () => ({
      session,
      studio,
      planId: plan.id,
      mayWrite: plan.role !== "viewer",
      opened: plan.document,
      explain: (figureId) => setPanel({ kind: "explain", figureId }),
      showFinding: (key) => setPanel({ kind: "findings", key }),
    }),
    [session, studio, plan],
  );
  return (
    <PlanContext value={tools}>
      <Frame panel={panel} setPanel={setPanel} />
    </PlanContext>
  );
}
