"""Footage formats by typing: what the words say by themselves, the plan's own, the open standards' classes.

``4k 10 bit 422 400`` is a format as it stands; a frame that is typed scales the published classes to it.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from larder.base.errors import Refused
from larder.base.results import Result
from larder.laws.media import RDD36_TARGET_MBIT_PER_S
from larder.plan.bundle import Bundle
from larder.plan.formats import PUBLISHED_CLASSES, ClassFormat, ComputedFormat, Format, rates_of
from larder.readers.brief_line import footage_of

from .find import words_of

MOST_CHOICES = 12


class FormatChoice(Result):
    """A format to choose: one of the plan by its ``id``, else empty and ``given`` makes it.

    ``assumed`` is what nobody said of it.
    """

    id: str
    name: str
    bytes_per_s: float
    source: str
    given: dict[str, Any]
    assumed: tuple[str, ...] = ()


class FormatsFound(Result):
    """The choices, the likeliest first; ``sentence`` says what is missing where the words make none."""

    choices: tuple[FormatChoice, ...]
    sentence: str = ""


def find_formats(bundle: Bundle, text: str) -> FormatsFound:
    """The formats that ``text`` may mean; for no text the plan's own, then all published classes."""
    own = bundle.catalogue.formats
    sentence = ""
    choices: list[FormatChoice] = []
    try:
        read = footage_of(text, tuple(each.id for each in own)) if text.strip() else None
    except Refused as refused:
        read, sentence = None, refused.accepted
    if read is not None:
        made, left = read
        same = next((each for each in own if each.name == made.name), None)
        choices.append(_choice(same or made, "as typed", is_own=same is not None, assumed=left))
        choices += _scaled(made)
    words = words_of(text)
    choices += [_choice(each, "in this plan", is_own=True) for each in own if _holds(each.name, words)]
    choices += [_choice(each, source, is_own=False) for each, source in _published(words)]
    once = {choice.name: choice for choice in reversed(choices)}
    listed = [choice for name, choice in reversed(once.items())]
    return FormatsFound(choices=tuple(listed[:MOST_CHOICES]), sentence="" if listed else sentence)


def _scaled(made: Format) -> Iterator[FormatChoice]:
    """The classes of RDD 36 at the frame that was typed without a rate."""
    if isinstance(made, ComputedFormat) and not made.one_file_a_frame:
        for mbit in RDD36_TARGET_MBIT_PER_S:
            frame = f"{made.width}x{made.height} {made.fps:g} fps"
            scaled, _ = footage_of(f"RDD 36 class {mbit} {frame}", ())
            yield _choice(scaled, "SMPTE RDD 36, scaled to the frame", is_own=False)


def _published(words: tuple[str, ...]) -> Iterator[tuple[Format, str]]:
    for n, each in enumerate(PUBLISHED_CLASSES):
        if _holds(f"{each.name} {each.source}", words):
            made = ClassFormat(
                id=f"published-{n}", kind="class", name=each.name, bytes_per_s=each.bytes_per_s
            )
            yield made, each.source


def _holds(name: str, words: tuple[str, ...]) -> bool:
    low = name.casefold()
    return all(word in low for word in words)


def _choice(made: Format, source: str, *, is_own: bool, assumed: tuple[str, ...] = ()) -> FormatChoice:
    return FormatChoice(
        id=made.id if is_own else "",
        name=made.name,
        bytes_per_s=rates_of(made)[0],
        source=source,
        given={} if is_own else made.model_dump(mode="json", exclude={"id"}),
        assumed=assumed,
    )
