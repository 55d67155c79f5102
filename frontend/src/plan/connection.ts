import { client, dataOf } from "../api/client";
import type { Connection } from "./session";

/** The server as an open plan sees it. */
export function connectionTo(studio: string, planId: string): Connection {
  const params = { path: { studio, plan_id: planId } };
  const root = "/api/studios/{studio}/plans/{plan_id}" as const;
  return {
    fetchPlan: () => dataOf(client.GET(root, { params })),
    fetchHead: async () => (await dataOf(client.GET(`${root}/head`, { params }))).head,
    evaluate: (base, patch, seq) =>
      dataOf(client.POST(`${root}/evaluate`, { params, body: { base, patch, seq } })),
    save: (base, patch, leaving) =>
      dataOf(
        client.POST(`${root}/revisions`, { params, body: { base, patch }, keepalive: leaving }),
      ),
    step: (which) =>
      which === "undo"
        ? dataOf(client.POST(`${root}/undo`, { params }))
        : dataOf(client.POST(`${root}/redo`, { params })),
    restore: (number) =>
      dataOf(
        client.POST(`${root}/revisions/{number}/restore`, {
          params: { path: { studio, plan_id: planId, number } },
        }),
      ),
  };
}
