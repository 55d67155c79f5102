import { lazy, Suspense } from "react";
import { Link, Navigate, Route, Routes } from "react-router";

import { api } from "./api/client";
import { Hatches } from "./kit/patterns";
import { TermCard } from "./kit/Terms";
import { PlansPage } from "./pages/PlansPage";
import { SignInPage } from "./pages/SignInPage";
import { Problem } from "./kit/Problem";
import { LINK } from "./kit/Button";

const StockPage = lazy(() =>
  import("./stages/stock/StockPage").then((m) => ({ default: m.StockPage })),
);
const BeginPage = lazy(() =>
  import("./pages/begin/BeginPage").then((m) => ({ default: m.BeginPage })),
);
const PlanPage = lazy(() => import("./plan/PlanPage").then((m) => ({ default: m.PlanPage })));

/** Who is signed in decides what there is to see. */
export function App() {
  const session = api.useQuery("get", "/api/session");
  if (session.isPending) return <p className="faint p-8">Opening the larder …</p>;
  if (session.isError) return <Problem of={session.error} className="p-8" />;
  const first = session.data.studios[0];
  if (!session.data.person) return <SignInPage />;
  if (!first)
    return <p className="p-8">You are signed in, but belong to no studio yet. Ask its owner.</p>;
  return (
    <Suspense fallback={<p className="faint p-8">Opening …</p>}>
      <Hatches />
      <TermCard />
      <Routes>
        <Route path="/" element={<Navigate to={`/s/${first.slug}/plans`} replace />} />
        <Route path="/s/:studio/plans" element={<PlansPage session={session.data} />} />
        <Route path="/s/:studio/begin" element={<BeginPage session={session.data} />} />
        <Route path="/s/:studio/stock" element={<StockPage session={session.data} />} />
        <Route path="/s/:studio/plans/:planId" element={<Navigate to="brief" replace />} />
        <Route
          path="/s/:studio/plans/:planId/:stage"
          element={<PlanPage session={session.data} />}
        />
        <Route path="*" element={<NotHere />} />
      </Routes>
    </Suspense>
  );
}

function NotHere() {
  return (
    <main className="p-8">
      <h1 className="text-xl">There is nothing at this address</h1>
      <Link className={LINK} to="/">
        To the plans
      </Link>
    </main>
  );
}
