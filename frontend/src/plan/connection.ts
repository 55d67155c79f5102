import { client, dataOf, Failure, isJudged, type PlanAnswer, type PlanOut } from "../api/client";
import type { Connection } from "./session";

/** A plan with its verdicts; one that has none cannot be worked on, and its reason is the sentence. */
async function judged<T extends PlanAnswer>(answer: Promise<T>): Promise<T & PlanOut> {
  const plan = await answer;
  if (isJudged(plan)) return plan;
  const sentence = `This state cannot be judged: ${plan.reason}`;
  throw new Failure(422, { code: "refused", sentence, problems: [], clashes: [] });
}

/** The server as an open plan sees it. */
export function connectionTo(studio: string, planId: string): Connection {
  const params = { path: { studio, plan_id: planId } };
  const root = "/api/studios/{studio}/plans/{plan_id}" as const;
  return {
    fetchPlan: () => judged(dataOf(client.GET(root, { params }))),
    fetchHead: async () => (await dataOf(client.GET(`${root}/head`, { params }))).head,
    evaluate: (base, patch, seq) =>
      dataOf(client.POST(`${root}/evaluate`, { params, body: { base, patch, seq } })),
    save: (base, patch, leaving) =>
      judged(
        dataOf(
          client.POST(`${root}/revisions`, { params, body: { base, patch }, keepalive: leaving }),
        ),
      ),
    step: (which) =>
      judged(
        which === "undo"
          ? dataOf(client.POST(`${root}/undo`, { params }))
          : dataOf(client.POST(`${root}/redo`, { params })),
      ),
    restore: (number) =>
      judged(
        dataOf(
          client.POST(`${root}/revisions/{number}/restore`, {
            params: { path: { studio, plan_id: planId, number } },
          }),
        ),
      ),
  };
}
