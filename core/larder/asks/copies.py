"""The grid of copies: every material against every single loss, and against every two at once."""

from __future__ import annotations

from itertools import combinations_with_replacement

from larder.base.results import Result
from larder.laws.survival import known
from larder.plan.bundle import Bundle
from larder.stages.keeping import KEEPING, Safekept
from larder.stages.losses import LOSS_KINDS, LossKind
from larder.stages.registry import PARTS
from larder.stages.stage import judge

AND = " and "


class GridRow(Result):
    """What is left of one material after ``loss``; two losses are named with *and* between them.

    Null hours: nothing is left, or nobody has said how it comes back.
    """

    material: str
    loss: str
    survivors: int
    recovery_point_hours: float | None
    recovery_hours: float | None


def copies_grid(bundle: Bundle, at_once: int = 1) -> tuple[GridRow, ...]:
    """The grid's rows, material by material; with ``at_once`` 2 the pairs of losses follow the single ones.

    Two losses of one kind are two of its things, or the same one twice.
    """
    keeping = judge(bundle, PARTS).of(KEEPING)
    kinds: list[tuple[LossKind, ...]] = [(kind,) for kind in LOSS_KINDS]
    if at_once > 1:
        kinds += combinations_with_replacement(LOSS_KINDS, 2)
    return tuple(_row(material, losses) for material in keeping.materials for losses in kinds)


def _row(each: Safekept, kinds: tuple[LossKind, ...]) -> GridRow:
    left = each.after(*kinds)
    return GridRow(
        material=each.kept.id,
        loss=AND.join(kinds),
        survivors=left.survivors,
        recovery_point_hours=left.recovery_point_hours,
        recovery_hours=known(left.recovery_hours),
    )
