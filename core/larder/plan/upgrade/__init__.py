"""Older plan files opened for ever: a pure step from each version to the next, and what it had to change.

A step, ``to_N.step``, works on plain JSON, before anything is validated, and tells what it did, so that
nothing changes silently. What a step cannot mend stays as it is and is refused with its reason. Each version
has a frozen document under ``plan/tests/old``, which ``tools/generate.py`` puts there.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from importlib import import_module
from pathlib import Path

from larder.base.errors import Refused

from .change import Change, Document

__all__ = ["FIRST", "NEWEST", "STEPS", "Change", "Document", "Upgraded", "upgraded"]

Step = Callable[[Document, list[Change]], Document]


def _version(number: int) -> str:
    return f"grand-larder/bundle/{number}"


def _step_to(number: int) -> Step:
    step: Step = import_module(f".to_{number}", __name__).step
    return lambda document, changes: step(document, changes) | {"schema": _version(number)}


_LATER = sorted(int(path.stem.removeprefix("to_")) for path in Path(__file__).parent.glob("to_*.py"))
FIRST, NEWEST = _version(1), _version(_LATER[-1])
"""The newest is what the last module here leads to; it is said nowhere else."""
STEPS: Mapping[str, Step] = {_version(number - 1): _step_to(number) for number in _LATER}
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
