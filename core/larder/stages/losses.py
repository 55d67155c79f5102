"""Losses other than dead drives, and what each does to the copies of a material.

A disk, two of one set, a box, the building (fire, water), burglars, a loose drive dropped, a folder emptied,
an intruder who encrypts, silent corruption, a key or account that its only holder loses, a supplier that
ends its plan. What is one of many, say one of three boxes, is a loss of its own.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from typing import Literal, get_args

from larder.laws.survival import Loss

from .holdings import OFF_SITE, Body, Holding

LossKind = Literal[
    "one disk",
    "two disks",
    "the box",
    "fire or water",
    "theft",
    "a drop",
    "deletion",
    "encryption",
    "silent corruption",
    "a lost key",
    "the supplier",
]
LOSS_KINDS: tuple[LossKind, ...] = get_args(LossKind)


def losses_of(
    holdings: tuple[Holding, ...], *, admin_apart: bool, clean_up_hours: float
) -> dict[LossKind, tuple[Loss, ...]]:
    """Every loss of each kind that touches the holdings, without what makes no difference.

    What a copy is not, because something is missing, no loss takes.
    """
    found: dict[LossKind, tuple[Loss, ...]] = {
        "deletion": (_deletion(holdings),),
        "encryption": (_encryption(holdings, clean_up_hours, admin_apart=admin_apart),),
        "silent corruption": tuple(_corruptions(holdings)),
    }
    found |= {kind: tuple(_of_bodies(holdings, each)) for kind, each in _BODIES.items()}
    return {kind: tuple(loss for loss in found[kind] if loss.takes or loss.rolls_back) for kind in LOSS_KINDS}


Taken = Callable[[Body], Iterable[tuple[str, float]]]
"""What takes a body: keys of losses, each with the hours until there is a new body."""


def _disks(count: int) -> Taken:
    def taken(body: Body) -> Iterator[tuple[str, float]]:
        if body.survives_drives is not None and body.survives_drives < count:
            yield body.key, body.again_hours[0]

    return taken


def _box(body: Body) -> Iterator[tuple[str, float]]:
    return ((box, body.again_hours[1]) for box in body.boxes)


def _fire(body: Body) -> Iterator[tuple[str, float]]:
    return ((each, body.anew_hours) for each in body.buildings - {OFF_SITE})


def _theft(body: Body) -> Iterator[tuple[str, float]]:
    return iter(()) if body.is_in_safe else _fire(body)


def _drop(body: Body) -> Iterator[tuple[str, float]]:
    if body.is_loose:
        yield body.key, body.again_hours[0]


def _locked(body: Body) -> Iterator[tuple[str, float]]:
    return ((lock, 0.0) for lock in body.locks)


def _supplier(body: Body) -> Iterator[tuple[str, float]]:
    if body.supplier:
        yield body.supplier, 0.0


_BODIES: dict[LossKind, Taken] = {
    "one disk": _disks(1),
    "two disks": _disks(2),
    "the box": _box,
    "fire or water": _fire,
    "theft": _theft,
    "a drop": _drop,
    "a lost key": _locked,
    "the supplier": _supplier,
}


def _of_bodies(holdings: tuple[Holding, ...], taken: Taken) -> Iterator[Loss]:
    masks: dict[str, int] = {}
    hours: dict[str, float] = {}
    for n, holding in enumerate(holdings):
        for body in holding.bodies:
            for key, again in taken(body):
                masks[key] = masks.get(key, 0) | 1 << n
                if n == 0:
                    hours[key] = max(hours.get(key, 0.0), again)
    return (Loss(mask, 0, hours.get(key, 0.0), key=key) for key, mask in masks.items())


def _travels(holdings: tuple[Holding, ...], start: int) -> int:
    """The mask of what is wrong at ``start`` and of all that is made alike after it."""
    mask = 1 << start
    for n, holding in enumerate(holdings):
        if n and holding.follows and mask >> holding.source & 1:
            mask |= 1 << n
    return mask


def _deletion(holdings: tuple[Holding, ...]) -> Loss:
    """Where people work a folder is emptied; snapshots bring it back, and what follows is emptied as well."""
    mask = _travels(holdings, 0)
    back = _going_back(holdings, mask)
    return Loss(mask & ~back, back, key=holdings[0].name)


def _encryption(holdings: tuple[Holding, ...], clean_up_hours: float, *, admin_apart: bool) -> Loss:
    """Whoever is in changes all within reach; earlier states too, unless the administrator signs in apart."""
    mask = sum(1 << n for n, holding in enumerate(holdings) if not holding.is_apart)
    back = _going_back(holdings, mask) if admin_apart else 0
    return Loss(mask & ~back, back, waits_hours=clean_up_hours)


def _corruptions(holdings: tuple[Holding, ...]) -> Iterator[Loss]:
    """Bytes go bad unseen in one copy and travel to what is made alike; checksums mend them."""
    for n, holding in enumerate(holdings):
        if not all(body.heals for body in holding.bodies):
            mask = _travels(holdings, n)
            # What follows a copy gets the bad bytes as one more change, and can go back before it.
            back = _going_back(holdings, mask & ~(1 << n))
            yield Loss(mask & ~back, back, key=holding.name)


def _going_back(holdings: tuple[Holding, ...], mask: int) -> int:
    """Those in ``mask`` of which an earlier state is kept."""
    return sum(1 << n for n, holding in enumerate(holdings) if mask >> n & 1 and holding.goes_back)
