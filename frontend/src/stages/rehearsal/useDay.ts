import { client, dataOf, type DrawnDay, type Helped } from "../../api/client";
import { useAsked } from "../../plan/useAsked";
import { usePlanTools } from "../../plan/context";
import { useTaken } from "../../plan/useTaken";

/** What breaks in the day, each as "switch:core@11:00" or, a disk of a pool, "main@11:00". */
export type Fails = readonly string[];

/** The ordinary day of the plan as it stands on the page. */
export const useDay = (fails: Fails) =>
  useAsked<DrawnDay>(["rehearse", ...fails], ({ params, question }) =>
    client.POST("/api/studios/{studio}/plans/{plan_id}/rehearse", {
      params,
      body: { ...question, fails: [...fails] },
    }),
  );

/** The same day with each single change; asked for by whoever looks. */
export const useHelped = (fails: Fails) =>
  useAsked<Helped[]>(
    ["helped", ...fails],
    ({ params, question }) =>
      client.POST("/api/studios/{studio}/plans/{plan_id}/rehearse/helped", {
        params,
        body: { ...question, fails: [...fails] },
      }),
    { held: false },
  );

/** Writes the hours that a class of seats has by its odds into the timetable. */
export function useFixedHours(): { problem: string; fix: (seatId: string) => void } {
  const { session, studio, planId } = usePlanTools();
  const { problem, take } = useTaken();
  const fix = (seat_id: string) =>
    take(async () => {
      const { patch } = await dataOf(
        client.POST("/api/studios/{studio}/plans/{plan_id}/rehearse/hours", {
          params: { path: { studio, plan_id: planId } },
          body: { ...session.question, seat_id },
        }),
      );
      return patch;
    });
  return { problem, fix };
}
