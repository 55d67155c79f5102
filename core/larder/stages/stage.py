"""What a stage of the work is: said once, so that evaluation, findings and navigation follow from it."""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Any, Generic, TypeVar, cast

from larder.plan.bundle import Bundle

PartResult = TypeVar("PartResult")


@dataclass(frozen=True, eq=False)
class Part(Generic[PartResult]):
    """One object of an evaluation, and how it is judged.

    ``reads`` are the places of the plan file that it looks at, as in ``plan/boxes/*/lanes``; ``after`` the
    parts whose results it takes. What is neither read nor comes after a changed part is not judged anew.
    ``is_answered``: it is part of the answer, under ``id``. ``is_drawn``: no figure follows from it.
    """

    id: str
    judge: Callable[[Judged], PartResult]
    reads: tuple[str, ...] = ()
    after: tuple[Part[Any], ...] = ()
    is_answered: bool = True
    is_drawn: bool = False

    def looks_at(self, path: str) -> bool:
        """Whether what stands at ``path`` in the plan file can change this part by itself."""
        return self._places.match(path) is not None

    @cached_property
    def _places(self) -> re.Pattern[str]:
        places = (re.escape(place).replace(r"\*", "[^/]+") for place in self.reads)
        return re.compile(rf"(?:{'|'.join(places)})(?:/|$)") if self.reads else re.compile(r"(?!)")


@dataclass(frozen=True)
class Stage:
    """One of the twelve stages of the work; ``parts`` in the order in which they are judged.

    ``is_of_studio``: it is worked on for all plans at once, outside any of them.
    """

    id: str
    number: int
    title: str
    parts: tuple[Part[Any], ...]
    is_of_studio: bool = False


class Judged:
    """A plan, and what its parts came to so far."""

    def __init__(self, bundle: Bundle, results: Mapping[str, Any]) -> None:
        self.bundle, self.results = bundle, results

    def of(self, part: Part[PartResult]) -> PartResult:
        """What ``part`` came to."""
        return cast("PartResult", self.results[part.id])


def judge(bundle: Bundle, parts: tuple[Part[Any], ...]) -> Judged:
    """Every part in turn."""
    results: dict[str, Any] = {}
    judged = Judged(bundle, results)
    for part in parts:
        results[part.id] = part.judge(judged)
    return judged


def judge_anew(
    bundle: Bundle, before: Judged, changed_paths: tuple[str, ...], parts: tuple[Part[Any], ...]
) -> Judged:
    """The same for ``bundle``, which differs from ``before`` in what stands at ``changed_paths`` alone.

    Only parts that read it, or come after one that it changed, are judged; the others are as before.
    """
    results = dict(before.results)
    judged = Judged(bundle, results)
    changed: set[str] = set()
    for part in parts:
        if any(map(part.looks_at, changed_paths)) or any(each.id in changed for each in part.after):
            results[part.id] = part.judge(judged)
            if results[part.id] != before.results[part.id]:
                changed.add(part.id)
    return judged
