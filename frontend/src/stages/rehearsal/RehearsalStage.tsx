import { useEffect, useState } from "react";

import type { DrawnDay } from "../../api/client";
import { Button } from "../../kit/Button";
import { Problem } from "../../kit/Problem";
import { Waiting } from "../../kit/Notice";
import { Tabs } from "../../kit/Tabs";
import { AtMoment } from "./AtMoment";
import { BreakSomething, NOTHING_YET } from "./BreakSomething";
import { failsOf, type Broken } from "./breaks";
import { DayDrawing, dayDrawn } from "./DayDrawing";
import { DayTables } from "./DayTables";
import { ManyDays } from "./ManyDays";
import { ItIsSlow } from "./ItIsSlow";
import { MomentDrawings } from "./MomentDrawings";
import { Timetable } from "./Timetable";
import { WouldHaveHelped } from "./WouldHaveHelped";
import { useDay } from "./useDay";

/** A day of the plan rehearsed, or what is the matter with today. */
export function RehearsalStage() {
  const [shown, setShown] = useState<"day" | "slow">("day");
  return (
    <>
      <Tabs
        label="Rehearsal"
        className="mb-3"
        tabs={[
          { id: "day", name: "A day" },
          { id: "slow", name: "It is slow today" },
        ]}
        chosen={shown}
        choose={setShown}
      />
      {shown === "day" ? <ADay /> : <ItIsSlow />}
    </>
  );
}

/** A day of the plan: its account in words, its lanes over time, its timetable, and what breaks in it. */
function ADay() {
  const [broken, setBroken] = useState<readonly Broken[]>(NOTHING_YET);
  const fails = failsOf(broken);
  const day = useDay(fails);
  return (
    <div className="ask-answer">
      <section aria-label="The day">
        <h2>An ordinary day</h2>
        {day.data ? <Account day={day.data} /> : !day.error && <Waiting>Rehearsing …</Waiting>}
        <Problem of={day.error} />
        <BreakSomething broken={broken} onBreak={setBroken} />
        {day.data && isAmiss(day.data) && <WouldHaveHelped fails={fails} />}
        <ManyDays fails={fails} />
        <div className="mt-4">
          <Timetable />
        </div>
        {day.data && <DayTables day={day.data} fails={fails} />}
      </section>
      {day.data && day.data.hops.length > 0 && <Lanes day={day.data} broken={broken} />}
    </div>
  );
}

/** Whether somebody stands or something is late. */
const isAmiss = ({ day }: DrawnDay) =>
  day.unwatchable_s > 0 || day.jobs.some((job) => job.late_s > 0);

function Account({ day }: { day: DrawnDay }) {
  return (
    <>
      {day.account.map((sentence) => (
        <p key={sentence} className="mt-1">
          {sentence}
        </p>
      ))}
      <p className="faint mt-2 text-sm">
        A seat whose hours are not set is at its peak for its odds’ part of the day, one after the
        other; cards come in when a third of their part is over. Rebuilds and scrubs take what
        people leave, at least the house’s share.
      </p>
    </>
  );
}

/** The drawing, and what stands at the moment that is pointed at. */
function Lanes({ day, broken }: { day: DrawnDay; broken: readonly Broken[] }) {
  const [time, setTime] = useState<number | null>(null);
  const at = time ?? whereItHurts(day);
  const play = usePlay(at, setTime, dayDrawn(day));
  const look = (to: number) => {
    play.stop();
    setTime(to);
  };
  return (
    <section aria-label="The day in lanes" className="answer-column">
      <div className="flex items-baseline justify-between">
        <Button look="text" onClick={play.toggle}>
          {play.isOn ? "Stop" : "Play the day"}
        </Button>
        <span className="faint text-sm">drag or ← → moves the moment · space plays</span>
      </div>
      <DayDrawing day={day} at={at} setAt={look} onPlay={play.toggle} broken={broken} />
      <AtMoment day={day} at={at} quiet={play.isOn} />
      <MomentDrawings day={day} at={at} />
    </section>
  );
}

const FRAME_MS = 80;
const MINUTES_A_FRAME = 3;

/** The day goes by by itself, from the moment that is shown or else from its beginning. */
function usePlay(at: number, setAt: (time: number) => void, [from, to]: [number, number]) {
  const [isOn, setOn] = useState(false);
  useEffect(() => {
    if (!isOn) return;
    const timer = setTimeout(() => {
      if (at >= to) setOn(false);
      else setAt(Math.min(at + MINUTES_A_FRAME * 60, to));
    }, FRAME_MS);
    return () => clearTimeout(timer);
  }, [isOn, at, to, setAt]);
  const toggle = () => {
    if (!isOn && at >= to) setAt(from);
    setOn(!isOn);
  };
  return { isOn, toggle, stop: () => setOn(false) };
}

/** The middle of the longest spell in which somebody stands, else some time before noon. */
function whereItHurts({ day }: DrawnDay): number {
  const spells = day.seats.flatMap((seat) => seat.spells);
  const longest = spells.sort((a, b) => b.to_s - b.from_s - (a.to_s - a.from_s))[0];
  return longest ? (longest.from_s + longest.to_s) / 2 : day.begins_s + 10_800;
}
