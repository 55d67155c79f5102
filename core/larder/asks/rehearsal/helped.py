"""What would have helped: the same day tried with every single change that wiring knows, and the day's own.

Those are a job that begins when nobody stands any more, and twice the flash before a pool whose cache was
full.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator

from larder.asks.cheapest_change import judged_with, trials
from larder.asks.movers import goes_on_always
from larder.base.patch import Operation, Patch, set_fields
from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY, clock_text
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import Judged, judge

from .failures import Failure
from .rehearse import Rehearsal, rehearsed

MOST_HELP = 6
BETTER_S = 60.0
"""What shortens standing or lateness by less has not helped."""
MOVED_BY_S = 300.0
"""A job is moved to so long after somebody stood."""


class Helped(Result):
    """A single change, and how the same day would have been with it, seconds."""

    words: str
    patch: tuple[Operation, ...]
    unwatchable_s: float
    late_s: float


def helped(
    bundle: Bundle, failures: Iterable[Failure] = (), goes_on: Callable[[], bool] = goes_on_always
) -> tuple[Helped, ...]:
    """Every single change that makes the day better, the best first; none where nothing is wrong with it."""
    judged, failures = judge(bundle, PARTS), tuple(failures)
    now = rehearsed(judged, failures)
    late_now = _late_s(now)
    found = []
    for words, patch in _changes(judged, now) if now.unwatchable_s or late_now else ():
        if not goes_on():
            break
        after = judged_with(judged, patch)
        if after is None:
            continue
        day = rehearsed(after, failures)
        stood, late = day.unwatchable_s, _late_s(day)
        if stood < now.unwatchable_s - BETTER_S or (
            stood <= now.unwatchable_s + 1 and late < late_now - BETTER_S
        ):
            found.append(Helped(words=words, patch=patch, unwatchable_s=stood, late_s=late))
    return tuple(sorted(found, key=lambda each: (each.unwatchable_s, each.late_s))[:MOST_HELP])


def _late_s(day: Rehearsal) -> float:
    return sum(job.late_s for job in day.jobs)


def _changes(judged: Judged, now: Rehearsal) -> Iterator[tuple[str, Patch]]:
    """(words, change): for the seat that stands longest, for the day's jobs and for its caches."""
    worst = max(now.seats, key=lambda seat: seat.unwatchable_s, default=None)
    if worst is not None and worst.unwatchable_s:
        yield from ((trial.words, trial.patch) for trial in trials(judged, worst.id))
    yield from _later(judged, now)
    for cache in judged.bundle.plan.caches:
        if any(result.id == cache.id and result.full_s is not None for result in now.caches):
            more = set_fields(f"plan/caches/{cache.id}", drive_bytes=2 * cache.drive_bytes)
            yield f"{cache.name} twice as large", more


def _later(judged: Judged, now: Rehearsal) -> Iterator[tuple[str, Patch]]:
    """Each job of the timetable that runs while somebody stands, after that is over."""
    timetable = judged.bundle.plan.brief.timetable
    spells = [spell for seat in now.seats for spell in seat.spells]
    for job in timetable.jobs:
        result = next((each for each in now.jobs if each.id == job.id), None)
        if result is None:
            continue
        ends = result.done_s if result.done_s is not None else now.begins_s + SECONDS_A_DAY
        beside = [spell.to_s for spell in spells if spell.from_s < ends and result.starts_s < spell.to_s]
        if not beside:
            continue
        begins = -(-(max(beside) + MOVED_BY_S) // MOVED_BY_S) * MOVED_BY_S
        if begins >= min(result.deadline_s, now.begins_s + SECONDS_A_DAY):
            continue
        minute = int(begins // 60) % (24 * 60)
        path = f"plan/brief/timetable/jobs/{job.id}"
        yield f"{job.name} from {clock_text(begins)} on", set_fields(path, from_minute=minute)
