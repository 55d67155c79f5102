"""What is left of several copies after one loss or two, by sets of copies as bit masks.

A loss takes some copies and rolls others back to an earlier state of their own; what it does to each is known
beforehand. Of several losses of a kind the worst counts: fewest copies left, oldest of the newest, longest
way back, each by itself, so that one copy more never makes any of the three worse.
"""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from functools import reduce
from itertools import product
from typing import NamedTuple


class Loss(NamedTuple):
    """One loss: the masks of the copies that it takes and of those that it rolls back.

    ``prepare_hours`` is until there is where to restore to, and counts where the first copy, which people
    use, is gone. ``key`` tells what is lost: of two materials that one fire takes it is the same.
    """

    takes: int = 0
    rolls_back: int = 0
    prepare_hours: float = 0.0
    waits_hours: float = 0.0
    key: str = ""


NOTHING = Loss()


@dataclass(frozen=True)
class Held:
    """One copy: how old it is at the worst, as it is and rolled back, and hours until people work from it.

    ``ready_hours`` is to restore it to where the first copy lived, which has to be there again; infinite
    where nobody knows how. ``switch_hours`` is until people work on the copy, infinite where they cannot.
    """

    age_hours: float
    rolled_back_age_hours: float
    ready_hours: float
    rolled_back_ready_hours: float
    switch_hours: float = float("inf")


class Left(NamedTuple):
    """Copies left; how old the newest is and how long until people work again, both None with none left."""

    survivors: int
    recovery_point_hours: float | None
    recovery_hours: float | None


def known(hours: float | None) -> float | None:
    """Hours as they are told: None as well where nobody knows how, which is reckoned as infinite."""
    return None if hours == float("inf") else hours


def left_after(held: Sequence[Held], losses: Iterable[Loss]) -> Left:
    """What is left of ``held``, of which the first is in use, after all of ``losses`` together."""
    takes = rolls = 0
    prepare = waits = 0.0
    for loss in losses:
        takes |= loss.takes
        rolls |= loss.rolls_back
        prepare, waits = max(prepare, loss.prepare_hours), max(waits, loss.waits_hours)
    if not (takes | rolls) & 1:
        # Where people work is whole, and nobody waits.
        waits = 0.0
    count, newest, soonest = 0, float("inf"), float("inf")
    for at, each in enumerate(held):
        if takes >> at & 1:
            continue
        count += 1
        rolled = rolls >> at & 1
        newest = min(newest, each.rolled_back_age_hours if rolled else each.age_hours)
        ready = each.rolled_back_ready_hours if rolled else each.ready_hours
        soonest = min(soonest, waits + min(ready + (prepare if at else 0.0), each.switch_hours))
    if not count:
        return Left(0, None, None)
    return Left(count, newest, soonest)


def worst(held: Sequence[Held], kinds: Sequence[Iterable[Loss]]) -> Left:
    """The worst of one loss of each of ``kinds`` together."""
    together = product(*({NOTHING, *kind} for kind in kinds))
    return reduce(_worse, (left_after(held, losses) for losses in together))


def _worse(one: Left, other: Left) -> Left:
    """The worst of both, each figure by itself."""
    return Left(
        min(one.survivors, other.survivors),
        _longer(one.recovery_point_hours, other.recovery_point_hours),
        _longer(one.recovery_hours, other.recovery_hours),
    )


def gravest(held: Sequence[Held], kind: Iterable[Loss]) -> Loss:
    """Of losses of one kind the one that leaves the fewest copies, of equals the one that takes longest."""

    def grave(loss: Loss) -> tuple[int, float]:
        left = left_after(held, (loss,))
        return left.survivors, -(left.recovery_hours or 0.0)

    return min((NOTHING, *kind), key=grave)


def _longer(one: float | None, other: float | None) -> float | None:
    return None if one is None or other is None else max(one, other)
