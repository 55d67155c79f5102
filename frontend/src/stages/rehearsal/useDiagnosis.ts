import { client, type Diagnosis } from "../../api/client";
import { useAsked } from "../../plan/useAsked";

export const READINGS = [
  "copy_from",
  "copy_to",
  "copy_to_at_first",
  "wire",
  "at_another_seat",
  "four_at_once",
  "on_the_box",
  "frames",
  "frames_from_local",
] as const;
export type Reading = (typeof READINGS)[number];

/** What was measured, as the field has it: a number in bytes/s or frames, or a text that the server reads. */
export type Seen = Partial<Record<Reading, unknown>>;

/** What would explain what was seen at a seat; nothing is asked while nothing was seen. */
export const useDiagnosis = (seatId: string, seen: Seen) => {
  const given = Object.values(seen).some((value) => value !== null && value !== undefined);
  return useAsked<Diagnosis | null>(
    ["diagnose", seatId, JSON.stringify(seen)],
    ({ params, question }) =>
      given
        ? client.POST("/api/studios/{studio}/plans/{plan_id}/diagnose", {
            params,
            body: { ...question, seat_id: seatId, seen },
          })
        : Promise.resolve({ data: null }),
  );
};
