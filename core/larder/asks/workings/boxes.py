"""The workings of boxes: what their memory answers."""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.terms import Term, given, made
from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle
from larder.stages.tiers import EnclosureResult

from .caches import hits_from
from .working import working


def _remembering(e: Evaluation) -> Iterator[EnclosureResult]:
    return (box for box in e.tiers.enclosures if box.memory is not None)


@working(
    "boxes.{id}.memory",
    title="{name}: reads answered from memory",
    unit="share",
    source="Che's approximation (2002) for a cache as large as the memory that the box's own programs leave; "
    "what they take is a stated assumption",
    read=lambda _, box: box.memory.hit_ratio if box.memory else None,
    subjects=_remembering,
)
def _memory(_: Bundle, __: Evaluation, box: EnclosureResult) -> Term | None:
    result = box.memory
    if result is None:
        return None
    if not result.hit_terms.working_set_bytes:
        return given("Nothing is hot", 0, "share")
    left = made(
        "Left for reads", "bytes", "most",
        made("Memory less its own programs", "bytes", "difference",
             given("Memory", result.memory_bytes, "bytes"),
             given("The box's own programs", result.system_bytes, "bytes")),
        given("At the least", 0, "bytes"),
    )  # fmt: skip
    return hits_from("Hits", left, result.hit_terms)
