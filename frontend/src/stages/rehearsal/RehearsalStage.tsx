import { useState } from "react";

import type { DrawnDay } from "../../api/client";
import { Problem } from "../../kit/Problem";
import { Waiting } from "../../kit/Notice";
import { AtMoment } from "./AtMoment";
import { BreakSomething } from "./BreakSomething";
import { DayDrawing } from "./DayDrawing";
import { DayTables } from "./DayTables";
import { WouldHaveHelped } from "./WouldHaveHelped";
import { useDay, type Breaks } from "./useDay";

const ELEVEN = 39_600;

/** An ordinary day of the plan: its account in words, its lanes over time, and what breaks in it. */
export function RehearsalStage() {
  const [breaks, setBreaks] = useState<Breaks>({ fail_pool: "", fail_at_s: ELEVEN });
  const day = useDay(breaks);
  return (
    <div className="ask-answer">
      <section aria-label="The day">
        <h2>An ordinary day</h2>
        {day.data ? <Account day={day.data} /> : <Waiting>Rehearsing …</Waiting>}
        <Problem of={day.error} />
        <BreakSomething breaks={breaks} onBreak={setBreaks} />
        {day.data && day.data.day.unwatchable_s > 0 && <WouldHaveHelped breaks={breaks} />}
        {day.data && <DayTables day={day.data} breaks={breaks} />}
      </section>
      {day.data && day.data.hops.length > 0 && <Lanes day={day.data} breaks={breaks} />}
    </div>
  );
}

function Account({ day }: { day: DrawnDay }) {
  return (
    <>
      {day.account.map((sentence) => (
        <p key={sentence} className="mt-1">
          {sentence}
        </p>
      ))}
      <p className="faint mt-2 text-sm">
        The day begins at nine. Each seat is at its peak for its odds’ part of the day, one after
        the other; cards come in when a third of their part is over. A player holds two seconds.
      </p>
    </>
  );
}

/** The drawing, and what stands at the moment that is pointed at. */
function Lanes({ day, breaks }: { day: DrawnDay; breaks: Breaks }) {
  const [time, setTime] = useState<number | null>(null);
  const at = time ?? whereItHurts(day);
  return (
    <section aria-label="The day in lanes" className="answer-column">
      <DayDrawing day={day} at={at} setAt={setTime} breaks={breaks} />
      <AtMoment day={day} at={at} />
    </section>
  );
}

/** The middle of the longest spell in which somebody stands, else some time before noon. */
function whereItHurts({ day }: DrawnDay): number {
  const spells = day.seats.flatMap((seat) => seat.spells);
  const longest = spells.sort((a, b) => b.to_s - b.from_s - (a.to_s - a.from_s))[0];
  return longest ? (longest.from_s + longest.to_s) / 2 : day.begins_s + 10_800;
}
