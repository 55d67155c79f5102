"""What a figure's working is made of: how to read it, its formula in words, its inputs, its source."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from larder.base.results import Result
from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle


class Input(Result):
    """One value that goes into a figure; ``unit`` is a measure (bytes, bytes_per_s, money …) or a sign."""

    label: str
    value: float | str
    unit: str


@dataclass(frozen=True)
class Figure:
    """What can be explained: how to read it off an evaluation and what to say of it."""

    title: str
    unit: str
    formula: str
    source: str
    read: Callable[[Evaluation], float | None]
    inputs: Callable[[Bundle, Evaluation], Iterator[Input]]
