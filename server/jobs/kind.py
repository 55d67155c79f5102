"""What a kind of long work is: said once, so that its route, its workers and its answer follow from it.

A new kind has a module of its own in :mod:`jobs.kinds` and a line there; see ``docs/how-to/add-a-job.md``.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel

from accounts.models import Role
from larder.plan.bundle import Bundle

Json = dict[str, Any]


@dataclass(frozen=True)
class Work:
    """A job's work made ready: a part by its number, and all parts summed."""

    part: Callable[[int], Json]
    summed: Callable[[Iterable[Json]], Json]


@dataclass(frozen=True, kw_only=True)
class Kind:
    """Long work of one kind, made ready from what was asked by whichever worker, as often as one likes.

    ``told`` is the field of an answer that says what it came to, a ``result``; ``so_far`` tells it of the
    parts that there are, by number, where some of them say something. ``is_awaited``: somebody sits and
    waits, so that a plan has one open at a time and it goes before the others; who asks the same finds it
    again.
    ``slice`` parts are done by a worker in one go.
    """

    id: str
    told: str
    result: type[BaseModel]
    ready: Callable[[Json], Work]
    role: Role = Role.TECHNICIAN
    is_awaited: bool = False
    slice: int = 20
    so_far: Callable[[dict[int, Json]], Any] | None = None
    asks: Asks | None = None
    """How people ask it of a plan; None for what the house does by itself."""


@dataclass(frozen=True, kw_only=True)
class Asks:
    """A question that begins a job, at ``path`` of a plan.

    ``check`` refuses in the request what no worker could work out; ``about`` is what of the question the
    page tells jobs apart by. ``example`` is a body that is accepted, without its base revision.
    """

    path: str
    body: type[Any]
    asked: Callable[[Bundle, Any], Json]
    wanted: Callable[[Bundle, Any], int]
    check: Callable[[Bundle, Any], object]
    about: Callable[[Json], str] = lambda _: ""
    example: Json


def question(bundle: Bundle, **more: Any) -> Json:
    """All that a job is worked out from, and the digest that the same question is found again by."""
    asked = {"document": bundle.document(), **more}
    return asked | {"digest": hashlib.sha256(json.dumps(asked, sort_keys=True).encode()).hexdigest()}
