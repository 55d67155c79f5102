import { client, type DrawnDay, type Helped } from "../../api/client";
import { useAsked } from "../../plan/useAsked";

/** What breaks in the day: a disk of a pool, at a time of day in seconds; nothing where no pool is named. */
export interface Breaks {
  fail_pool: string;
  fail_at_s: number;
}

const keyOf = ({ fail_pool, fail_at_s }: Breaks) =>
  fail_pool ? `${fail_pool} ${fail_at_s}` : "nothing";

/** The ordinary day of the plan as it stands on the page. */
export const useDay = (breaks: Breaks) =>
  useAsked<DrawnDay>(["rehearse", keyOf(breaks)], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/rehearse", {
      params,
      body: { ...question, ...breaks },
    }),
  );

/** The same day with each single change; asked for by whoever looks. */
export const useHelped = (breaks: Breaks) =>
  useAsked<Helped[]>(
    ["helped", keyOf(breaks)],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/rehearse/helped", {
        params,
        body: { ...question, ...breaks },
      }),
    false,
  );
