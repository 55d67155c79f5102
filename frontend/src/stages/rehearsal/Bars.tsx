import { useRef, type KeyboardEvent, type PointerEvent } from "react";

import type { DrawnDay } from "../../api/client";
import { Button } from "../../kit/Button";
import { clockText } from "../../kit/format";
import { usePlanTools } from "../../plan/context";
import { movedSession, STEP } from "./lanes";
import { LEFT, RIGHT, WIDTH, type LaneRow } from "./rows";
import { useTimetable, type WorkSession } from "./useTimetable";

type Seats = Extract<LaneRow, { kind: "seat" }>;
type Part = "whole" | "start" | "end";

const EDGE = 9;
const MINUTE = 60;
const SESSIONS = "plan/brief/timetable/sessions";

/** The sessions that the timetable fixes, over the lanes of their seats: moved by pointer and by key. */
export function Bars({ day, rows, height, from, to }: Props) {
  const { sessions, begins } = useTimetable();
  const { mayWrite } = usePlanTools();
  if (!mayWrite) return null;
  const alone = rows.filter((row): row is Seats => row.kind === "seat" && row.seats.length === 1);
  return sessions.map((session) => {
    const row = alone.find(
      ({ seats: [seat] }) => seat?.id === session.seat_id && seat.number === (session.number ?? 1),
    );
    const into = (minute: number) =>
      ((minute - begins + 1_440) % 1_440) * MINUTE + day.day.begins_s;
    const start = into(session.from_minute);
    const end = into(session.to_minute) || day.day.begins_s;
    const stop = end <= start ? end + 86_400 : end;
    if (!row || start >= to) return null;
    const x = (time: number) =>
      ((LEFT + ((Math.min(time, to) - from) / (to - from)) * (RIGHT - LEFT)) / WIDTH) * 100;
    return (
      <Bar
        key={session.id}
        session={session}
        name={row.name}
        begins={begins}
        secondsAcross={to - from}
        place={{
          left: `${x(start)}%`,
          width: `${x(stop) - x(start)}%`,
          top: `${((row.top + 3) / height) * 100}%`,
          height: `${((row.bottom - row.top - 6) / height) * 100}%`,
        }}
      />
    );
  });
}

interface Props {
  day: DrawnDay;
  rows: readonly LaneRow[];
  height: number;
  from: number;
  to: number;
}

function Bar({
  session,
  name,
  begins,
  secondsAcross,
  place,
}: {
  session: WorkSession;
  name: string;
  begins: number;
  secondsAcross: number;
  place: { left: string; width: string; top: string; height: string };
}) {
  const moving = useMoving(session, begins, secondsAcross);
  const times = `${clockText(session.from_minute * MINUTE)} to ${clockText(session.to_minute * MINUTE)}`;
  return (
    <Button
      look="drawn"
      className="absolute touch-none border-x-4 border-primary bg-primary/15"
      style={place}
      title={`${name}, ${times}: arrows move it, with Shift its end, Delete takes it away`}
      {...moving}
    >
      <span className="sr-only">{`${name} works from ${times}`}</span>
    </Button>
  );
}

/** A session is moved by arrows or by being drawn, whole or by an end, a quarter of an hour at a time. */
function useMoving(session: WorkSession, begins: number, secondsAcross: number) {
  const { session: plan } = usePlanTools();
  const dragged = useRef<{ x: number; part: Part; from: WorkSession } | null>(null);
  const put = (own: WorkSession, minutes: number, part: Part) => {
    const moved = movedSession(own, minutes, part, begins);
    if (!moved) return;
    const path = `${SESSIONS}/${session.id}`;
    plan.change(
      { op: "set", path: `${path}/from_minute`, value: moved.from_minute },
      { op: "set", path: `${path}/to_minute`, value: moved.to_minute },
    );
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const step = { ArrowLeft: -STEP, ArrowRight: STEP }[event.key];
    if (event.key === "Delete") plan.change({ op: "remove", path: `${SESSIONS}/${session.id}` });
    else if (step) put(session, step, event.shiftKey ? "end" : "whole");
    else return;
    event.preventDefault();
  };
  const onPointerDown = (event: PointerEvent<HTMLButtonElement>) => {
    const box = event.currentTarget.getBoundingClientRect();
    const inside = event.clientX - box.left;
    const part = inside < EDGE ? "start" : inside > box.width - EDGE ? "end" : "whole";
    dragged.current = { x: event.clientX, part, from: session };
    event.currentTarget.setPointerCapture(event.pointerId);
  };
  const onPointerMove = (event: PointerEvent<HTMLButtonElement>) => {
    const drag = dragged.current;
    const across = event.currentTarget.parentElement?.clientWidth;
    if (!drag || !across) return;
    const seconds = (((event.clientX - drag.x) / across) * WIDTH * secondsAcross) / (RIGHT - LEFT);
    put(drag.from, Math.round(seconds / MINUTE / STEP) * STEP, drag.part);
  };
  const onPointerUp = () => {
    dragged.current = null;
    void plan.flush();
  };
  return { onKeyDown, onPointerDown, onPointerMove, onPointerUp, onBlur: () => void plan.flush() };
}
