"""The account of a rehearsed day in words: who stands and why, what is full, which job slows and is late."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from larder.base.units import clock_text, rate_text
from larder.stages.stage import Judged

from .failures import Failure, outlives
from .rehearse import Rehearsal, RehearsedJob, RehearsedSeat

MOST_TOLD = 3
"""So many seats, late jobs and full caches are told in words; the rest are counted."""
SLOWED = 0.67
"""A job that goes on at less than this of its first pace is told to slow down."""
NOTHING_TO_REHEARSE = "There is nothing to rehearse yet: somebody has to work, and on some storage."


def account_of(judged: Judged, rehearsal: Rehearsal, failures: Iterable[Failure]) -> Iterator[str]:
    """Sentences in the order in which one asks."""
    for failure in failures:
        yield _broke(judged, rehearsal, failure)
    yield from _standing(rehearsal)
    full = [cache for cache in rehearsal.caches if cache.full_s is not None and cache.kind != "memory"]
    for cache in full:
        since = clock_text(cache.full_s or 0)
        yield f"{cache.name} is full at {since}; from then on copies go in as it is drained."
    yield from _slowed(rehearsal)
    for name in rehearsal.left_out[:MOST_TOLD]:
        yield f"{name} has no way to the storage and is left out."
    yield from _jobs(judged, rehearsal)
    yield from _jumps(rehearsal)


def _broke(judged: Judged, rehearsal: Rehearsal, failure: Failure) -> str:
    plan, at = judged.bundle.plan, clock_text(failure.clock_s)
    if failure.of == "disk":
        name = next(pool.name for pool in plan.pools if pool.id == failure.id)
        rebuilt = next((job for job in rehearsal.jobs if job.id.startswith(f"rebuild-{failure.id}-")), None)
        if rebuilt is None:
            return f"A disk of {name} dies at {at}."
        done = f"is done at {clock_text(rebuilt.done_s)}" if rebuilt.done_s else "is not done a day later"
        return f"A disk of {name} dies at {at}; its rebuild on a spare {done}."
    if failure.of == "link":
        return f"A cable of {failure.id} breaks at {at}."
    things = plan.wiring.switches if failure.of == "switch" else plan.boxes
    name = next(thing.name for thing in things if thing.id == failure.id)
    if failure.of == "supply":
        goes_on = "the other carries on" if outlives(plan, failure) else "it has no other, and is off"
        return f"A supply of {name} dies at {at}: {goes_on}."
    return f"{name} dies at {at}."


def _standing(rehearsal: Rehearsal) -> Iterator[str]:
    standing = sorted((s for s in rehearsal.seats if s.unwatchable_s > 0), key=lambda s: -s.unwatchable_s)
    for seat in standing[:MOST_TOLD]:
        yield _stood(seat, many=sum(each.id == seat.id for each in rehearsal.seats) > 1)
    rest = len(standing) - MOST_TOLD
    if rest > 0:
        yield f"So {'is' if rest == 1 else 'are'} {rest} more, for less long."


def _slowed(rehearsal: Rehearsal) -> Iterator[str]:
    """Jobs of people that start fast and then slow."""
    for job in [each for each in rehearsal.jobs if each.kind not in ("scrub", "rebuild", "service")][
        :MOST_TOLD
    ]:
        if len(job.paces) < 2 or job.done_s is None:
            continue
        first = job.paces[0]
        slowest = min(job.paces[1:], key=lambda pace: pace.bytes_per_s)
        if 0 < slowest.bytes_per_s < SLOWED * first.bytes_per_s:
            fast, slow = (rate_text(pace.bytes_per_s) for pace in (first, slowest))
            since = clock_text(slowest.from_s)
            done = clock_text(job.done_s)
            yield f"{job.name} begins at {fast} and goes at {slow} from {since} on; it is done at {done}."


def _jobs(judged: Judged, rehearsal: Rehearsal) -> Iterator[str]:
    """Late ones; where there are none, that all is well, or that there is nothing that could be."""
    late = [job for job in rehearsal.jobs if job.late_s > 0]
    for job in late[:MOST_TOLD]:
        yield _late(job)
    if len(late) > MOST_TOLD:
        yield f"So {'is' if len(late) == MOST_TOLD + 1 else 'are'} {len(late) - MOST_TOLD} more."
    works = any(seat.sessions for seat in rehearsal.seats)
    if not judged.bundle.plan.pools or not (works or rehearsal.jobs):
        yield NOTHING_TO_REHEARSE
    elif not rehearsal.unwatchable_s and not late:
        yield from _all_well(rehearsal, works=works)
    elif not late and rehearsal.jobs:
        last = max(rehearsal.jobs, key=lambda job: job.done_s or 0.0)
        yield f"Every job is in time, the last at {clock_text(last.done_s or 0.0)}."


def _late(job: RehearsedJob) -> str:
    done = f"done at {clock_text(job.done_s)}" if job.done_s is not None else "not done a day later"
    return f"{job.name} is {done}, {minutes_text(job.late_s)} after its deadline."


def _all_well(rehearsal: Rehearsal, *, works: bool) -> Iterator[str]:
    who = "Nobody else" if rehearsal.left_out else "Nobody"
    seen = f"{who} sees a frame drop" if works else ""
    jobs = "every job is in time" if rehearsal.jobs else ""
    words = ", and ".join(part for part in (seen, jobs) if part)
    yield f"{words[:1].upper()}{words[1:]}."


def _jumps(rehearsal: Rehearsal) -> Iterator[str]:
    """Who waits longest for the first frame, where that is longer than the house's rule."""
    slow = [seat for seat in rehearsal.seats if (seat.first_frame_s or 0) > rehearsal.first_frame_limit_s]
    worst = max(slow, key=lambda seat: seat.first_frame_s or 0, default=None)
    if worst is not None:
        seconds, limit = worst.first_frame_s or 0.0, rehearsal.first_frame_limit_s
        at = clock_text(worst.first_frame_at_s or 0.0)
        others = len(slow) - 1
        more = f"; so it is for {'one' if others == 1 else others} more" if others else ""
        yield f"A jump of {worst.name} takes {seconds:.1f} s at {at}, longer than {limit:g} s{more}."


def _stood(seat: RehearsedSeat, *, many: bool) -> str:
    name = f"{seat.name} {seat.number}" if many else seat.name
    longest = max(seat.spells, key=lambda spell: spell.to_s - spell.from_s)
    when = f"from {clock_text(longest.from_s)} to {clock_text(longest.to_s)}"
    if len(seat.spells) > 1:
        when = f"most of it {when}"
    held = f"{seat.blamed_name} holds it back" if seat.blamed_name else "it is held back"
    return f"{name} is unwatchable for {minutes_text(seat.unwatchable_s)}, {when}: {held}."


def minutes_text(seconds: float) -> str:
    """Whole minutes in words, at least one."""
    minutes = max(round(seconds / 60), 1)
    return "a minute" if minutes == 1 else f"{minutes} minutes"
