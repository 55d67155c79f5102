import type { PlanDocument } from "../../api/client";
import { useSnapshot } from "../../plan/context";

type Timetable = NonNullable<PlanDocument["plan"]["brief"]["timetable"]>;
export type DayJob = NonNullable<Timetable["jobs"]>[number];
export type WorkSession = NonNullable<Timetable["sessions"]>[number];

/** What is fixed in the day of the plan as it stands on the page. */
export function useTimetable(): { begins: number; jobs: DayJob[]; sessions: WorkSession[] } {
  const timetable = useSnapshot().document.plan.brief.timetable;
  return {
    begins: timetable?.begins_minute ?? 540,
    jobs: timetable?.jobs ?? [],
    sessions: timetable?.sessions ?? [],
  };
}
