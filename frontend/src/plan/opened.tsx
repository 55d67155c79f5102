/** An open plan around a hook, for tests: tools, a session over a server in memory, and queries that do not retry. */

import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import type { ReactNode } from "react";
import { MemoryRouter } from "react-router";

import { PlanContext, type PlanTools } from "./context";
import { PlanSession } from "./session";
import { World } from "./session.world";

export function opened(tools: Partial<PlanTools> = {}, openWork: World["openWork"] = []) {
  const world = new World();
  world.openWork = openWork;
  const session = new PlanSession(world.connection, world.planOut());
  const all: PlanTools = {
    session,
    studio: "slipway-house",
    planId: "p1",
    mayWrite: true,
    opened: world.document,
    explain: () => undefined,
    showFinding: () => undefined,
    ...tools,
  };
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  const wrapper = ({ children }: { children: ReactNode }) => (
    <MemoryRouter>
      <QueryClientProvider client={queries}>
        <PlanContext value={all}>{children}</PlanContext>
      </QueryClientProvider>
    </MemoryRouter>
  );
  return { world, session, queries, wrapper };
}
