"""The hours of the ordinary day written into the timetable, to be moved by hand from there."""

from __future__ import annotations

from larder.base.errors import Refused
from larder.base.patch import Operation, Patch
from larder.plan.bundle import Bundle
from larder.plan.new_item import fresh_id
from larder.plan.timetable import MINUTES_A_DAY, MOST_SESSIONS, WorkSession
from larder.stages.registry import PARTS
from larder.stages.stage import judge

from .set_up import SetUp

SESSIONS = "plan/brief/timetable/sessions"


def hours_patch(bundle: Bundle, seat_id: str) -> Patch:
    """The change that fixes the hours that a class has by its odds; none where it is fixed already.

    Raises :class:`Refused` for a class that there is not, or of which nobody works, and past the longest
    timetable.
    """
    timetable = bundle.plan.brief.timetable
    if any(session.seat_id == seat_id for session in timetable.sessions):
        return ()
    stage = SetUp(judge(bundle, PARTS))
    asking = stage.situation.work.asking
    sessions = [
        (k + 1, session)
        for (n, k), spells in stage.hours.sessions.items()
        if asking[n].id == seat_id
        for session in spells
    ]
    if not sessions:
        listed = ", ".join(one.id for one in asking if not one.is_service) or "there is none yet"
        raise Refused("seat_id", seat_id, f"the id of seats that work ({listed})")
    if len(timetable.sessions) + len(sessions) > MOST_SESSIONS:
        raise Refused("seat_id", seat_id, f"a class with which there are at most {MOST_SESSIONS} sessions")
    taken = [session.id for session in timetable.sessions]
    patch = []
    for number, session in sessions:
        own = fresh_id(f"{seat_id}-{number}", taken)
        taken.append(own)
        starts = round(session.starts_s / 60)
        stops = max(round(session.stops_s / 60), starts + 1)
        value = WorkSession(
            id=own,
            seat_id=seat_id,
            number=number,
            from_minute=(timetable.begins_minute + starts) % MINUTES_A_DAY,
            to_minute=(timetable.begins_minute + stops) % MINUTES_A_DAY,
        )
        patch.append(Operation(op="add", path=SESSIONS, value=value.model_dump(mode="json")))
    return tuple(patch)
