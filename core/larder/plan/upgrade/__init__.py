"""Older plan files opened for ever: a pure step from each version to the next, and what it had to change.

A step works on plain JSON, before anything is validated, and tells what it did, so that nothing changes
silently. What a step cannot mend stays as it is and is refused with its reason. Each version has a frozen
document under ``plan/tests/old``.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass

from larder.base.errors import Refused

from . import to_2, to_3, to_4, to_5, to_6, to_7, to_8, to_9, to_10
from .change import Change, Document

__all__ = ["FIRST", "NEWEST", "STEPS", "Change", "Document", "Upgraded", "upgraded"]

FIRST, SECOND, THIRD, FOURTH, FIFTH, SIXTH, SEVENTH, EIGHTH, NINTH, NEWEST = (
    f"grand-larder/bundle/{version}" for version in range(1, 11)
)
STEPS: Mapping[str, Callable[[Document, list[Change]], Document]] = {
    FIRST: to_2.step,
    SECOND: to_3.step,
    THIRD: to_4.step,
    FOURTH: to_5.step,
    FIFTH: to_6.step,
    SIXTH: to_7.step,
    SEVENTH: to_8.step,
    EIGHTH: to_9.step,
    NINTH: to_10.step,
}
"""The step away from each older version."""


@dataclass(frozen=True)
class Upgraded:
    """A document in today's shape, and what was changed in it on the way; empty where nothing was."""

    document: Document
    changes: tuple[Change, ...] = ()


def upgraded(document: Document) -> Upgraded:
    """``document`` brought to today's version; one that is at it already comes back as it is.

    A studio's standards, which are parts of a plan, pass the same steps. Raises :class:`Refused` for a
    version that is not known here.
    """
    changes: list[Change] = []
    version = document.get("schema")
    while isinstance(version, str) and version in STEPS:
        document = STEPS[version](document, changes)
        version = document["schema"]
    if version != NEWEST:
        raise Refused("schema", version, "one of " + ", ".join((*STEPS, NEWEST)))
    return Upgraded(document, tuple(changes))
