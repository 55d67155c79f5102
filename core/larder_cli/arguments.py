"""What the commands share: words of the command line turned into values, or a sentence that says why not."""

from __future__ import annotations

import re
import stat
from argparse import ArgumentParser, Namespace
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from fractions import Fraction
from pathlib import Path
from typing import IO, Any

from larder.base.errors import Refused, RefusedMany
from larder.base.guard import Wanted, guarded_number
from larder.base.units import parse_rate

JsonObject = dict[str, Any]


_WHOLE_NUMBER = re.compile(r"-?[0-9]{1,18}")


_NUMBER = re.compile(r"[0-9]{1,18}(?:\.[0-9]{1,18})?(?:[eE][+-]?[0-9]{1,3})?")
_PLAIN_NUMBER = re.compile(r"[0-9]{1,3}(?:\.[0-9]{1,15})?")


@dataclass(frozen=True)
class Answer:
    """One command."""

    help: str
    add_arguments: Callable[[ArgumentParser], None]
    run: Callable[[Namespace], JsonObject]


def day_or_today(typed: str) -> date:
    """The day that was said with ``--on``, or today."""
    try:
        return date.fromisoformat(typed) if typed else date.today()  # noqa: DTZ011
    except ValueError:
        raise Refused("on", typed, "a day such as 2026-11-26") from None


def whole(text: str, field: str, lowest: int, highest: int) -> int:
    """A whole number in bounds, or the sentence that says which are."""
    number = int(text) if _WHOLE_NUMBER.fullmatch(text) else lowest - 1
    if not lowest <= number <= highest:
        raise Refused(field, text, f"a whole number from {lowest} to {highest}")
    return number


def percent(text: str, field: str) -> Decimal:
    """A percentage from 0 to below 100."""
    number = Decimal(text) if _PLAIN_NUMBER.fullmatch(text) else Decimal(-1)
    if not 0 <= number < 100:
        raise Refused(field, text, "a percentage from 0 to below 100")
    return number


def percent_of(text: str, field: str, lowest: float, highest: float) -> float:
    """A percentage in bounds, which may be above 100."""
    value = float(text) if _NUMBER.fullmatch(text) else lowest - 1
    if not lowest <= value <= highest:
        raise Refused(field, text, f"a percentage from {lowest:g} to {highest:g}")
    return value


def number(text: str, field: str, accepted: str, above: float, most: float) -> float:
    """A number such as 30000, 0.5 or 1e-15, above a bound and up to another."""
    value = float(text) if _NUMBER.fullmatch(text) else above
    if not above < value <= most:
        raise Refused(field, text, accepted)
    return value


def fraction(text: str, field: str, accepted: str) -> Fraction:
    """A number such as 23.976 or 24000/1001, exactly."""
    try:
        return guarded_number(text, Wanted(field, accepted, 0), field)
    except Refused:
        raise Refused(field, text, accepted) from None


def positive_rate(text: str, field: str) -> float:
    """A rate above zero, bytes/s."""
    rate = parse_rate(text, field)
    if rate <= 0:
        raise Refused(field, text, "a rate above 0, such as 450MB/s")
    return rate


def choice(text: str, field: str, choices: tuple[str, ...]) -> str:
    """One of ``choices``."""
    if text not in choices:
        raise Refused(field, text, "one of " + " ".join(choices))
    return text


@contextmanager
def opened(path: str, field: str, accepted: str, largest_bytes: int) -> Iterator[IO[bytes]]:
    """The file at ``path``, bounded in size; refuses what cannot be read with a sentence."""
    try:
        # Looked at before it is opened: opening a pipe waits, and a device never ends.
        status = Path(path).stat()
        if not stat.S_ISREG(status.st_mode):
            raise Refused(field, f"{path} (no ordinary file)", accepted)
        if status.st_size > largest_bytes:
            raise Refused(
                field, f"{path}, {status.st_size} bytes", f"a file of at most {largest_bytes} bytes"
            )
        with Path(path).open("rb") as stream:
            yield stream
    except (OSError, ValueError) as error:
        if isinstance(error, Refused | RefusedMany):
            raise
        reason = getattr(error, "strerror", None) or "not readable"
        raise Refused(field, f"{path} ({reason})", accepted) from None
