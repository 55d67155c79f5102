"""The one guard before every reader: nothing is parsed that could cost more than it is worth.

A file that somebody brings is bounded in bytes, depth, length of its numbers and texts, exponents, values,
rows and columns, before a parser sees it; each refusal is a sentence. JSON is looked through piece by piece,
without being held, so that a long file can be read as a stream.
"""

from __future__ import annotations

import json
import re
from dataclasses import dataclass
from fractions import Fraction
from typing import IO, Any

import numpy as np

from .errors import Refused

DEEPEST = 64
MOST_DIGITS = 40
LARGEST_EXPONENT = 300
LONGEST_TEXT_BYTES = 100_000
MOST_VALUES = 400_000
"""Values of a JSON text that is held as a whole: a plan file of five million bytes has some 200,000."""
CHUNK_BYTES = 1 << 16
_ESCAPED = re.compile(rb"\\.", re.DOTALL)
_ESCAPE = re.compile(
    rb"\\u[dD][89abAB][0-9a-fA-F]{2}\\u[dD][c-fC-F][0-9a-fA-F]{2}|(?P<lone>\\u[dD][89a-fA-F])|\\."
)
_LONG_NUMBER = re.compile(rb"[0-9.]{%d}" % (MOST_DIGITS + 2))
_EXPONENT = re.compile(rb"[0-9][eE]([+-]?[0-9]+)")
_ALL_BUT_BRACKETS = bytes(set(range(256)) - set(b"[]{}"))
_OVERLAP = MOST_DIGITS + 8
"""Bytes looked at again with the next piece, so that a number cut in two is seen whole."""
_NUMBER = re.compile(
    rf"-?\d{{1,{MOST_DIGITS}}}(?:\.\d{{1,{MOST_DIGITS}}})?(?:[eE][+-]?\d{{1,2}}|/\d{{1,{MOST_DIGITS}}})?",
    re.ASCII,
)
CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")


@dataclass(frozen=True)
class Wanted:
    """What is being read: the name that a refusal calls it by, and what is accepted instead."""

    what: str
    accepted: str
    largest_bytes: int

    def refused(self, value: str) -> Refused:
        """The refusal of a file that is or has ``value``."""
        return Refused(self.what, value, self.accepted)

    def check_bytes(self, count: int) -> None:
        """Raise :class:`Refused` for more bytes than are read."""
        if count > self.largest_bytes:
            raise Refused(self.what, f"{count} bytes", f"at most {self.largest_bytes} bytes")


class JsonGuard:
    """Looks through the bytes of a JSON text in pieces; raises :class:`Refused` at what is too much."""

    def __init__(self, wanted: Wanted, most_values: int | None = MOST_VALUES) -> None:
        self.wanted, self.most_values = wanted, most_values
        self.depth = self.values = self.bytes = 0
        self._rest = b""
        self._tail = b""

    def feed(self, piece: bytes) -> None:
        """Look at the next piece."""
        self.bytes += len(piece)
        self.wanted.check_bytes(self.bytes)
        data = self._rest + piece
        # An escape may hide a quote; two other bytes in its place keep every position. What then stands
        # between the first, third, … pair of quotes is text.
        parts = (_ESCAPED.sub(b"__", data) if b"\\" in data else data).split(b'"')
        self._rest = b"" if len(parts) % 2 else data[len(data) - len(parts[-1]) - 1 :]
        if len(self._rest) > LONGEST_TEXT_BYTES:
            raise self.wanted.refused(f"a text of more than {LONGEST_TEXT_BYTES} bytes")
        if b"\\u" in data and any(m["lone"] for m in _ESCAPE.finditer(data, 0, len(data) - len(self._rest))):
            raise self.wanted.refused("half of a surrogate pair in a text")
        self._check_bare(b" ".join(parts[::2]))

    def _check_bare(self, bare: bytes) -> None:
        """Brackets and numbers, of which no text is left."""
        brackets = np.frombuffer(bare.translate(None, _ALL_BUT_BRACKETS), dtype=np.uint8)
        if len(brackets):
            # Closing signs are two above the opening ones; opening are 0x5B and 0x7B.
            steps = np.where((brackets == ord("[")) | (brackets == ord("{")), 1, -1)
            running = np.cumsum(steps)
            if self.depth + int(running.max()) > DEEPEST:
                raise self.wanted.refused(f"nested more than {DEEPEST} deep")
            self.depth += int(running[-1])
        self.values += bare.count(b",") + len(brackets)
        if self.most_values is not None and self.values > self.most_values:
            raise self.wanted.refused(f"more than {self.most_values} values")
        numbers = self._tail + bare.translate(None, b" \t\r\n")
        if _LONG_NUMBER.search(numbers):
            raise self.wanted.refused(f"a number of more than {MOST_DIGITS} digits")
        if any(abs(int(found[:8])) > LARGEST_EXPONENT for found in _EXPONENT.findall(numbers)):
            raise self.wanted.refused(f"a number with an exponent beyond {LARGEST_EXPONENT}")
        if b"N" in numbers or b"I" in numbers:
            raise self.wanted.refused("NaN or Infinity, which JSON does not know")
        self._tail = numbers[-_OVERLAP:]


class GuardedStream:
    """A stream of JSON bytes that is looked through as it is read; for parsers that read piece by piece."""

    def __init__(self, stream: IO[bytes], wanted: Wanted) -> None:
        self._stream, self._guard = stream, JsonGuard(wanted, most_values=None)

    def read(self, size: int = -1) -> bytes:
        """At most ``size`` bytes, looked through."""
        piece = self._stream.read(CHUNK_BYTES if size < 0 else size)
        self._guard.feed(piece)
        return piece


def check_json(raw: bytes, wanted: Wanted) -> None:
    """Raise :class:`Refused` for JSON bytes that are too much for any reader."""
    wanted.check_bytes(len(raw))
    guard = JsonGuard(wanted)
    for start in range(0, len(raw), CHUNK_BYTES):
        guard.feed(raw[start : start + CHUNK_BYTES])


def guarded_json(raw: bytes, wanted: Wanted) -> Any:
    """What the JSON bytes ``raw`` say; raises :class:`Refused`."""
    check_json(raw, wanted)
    try:
        return json.loads(raw)
    except (ValueError, RecursionError):
        raise wanted.refused("not JSON" if raw.strip() else "an empty file") from None


def guarded_text(raw: bytes, wanted: Wanted) -> str:
    """The UTF-8 text in ``raw``; raises :class:`Refused`, also for control characters but tabs, line ends."""
    wanted.check_bytes(len(raw))
    try:
        text = raw.decode("utf-8-sig")
    except UnicodeDecodeError:
        raise wanted.refused("bytes that are no UTF-8") from None
    if found := CONTROL.search(text):
        line = text.count("\n", 0, found.start()) + 1
        raise wanted.refused(f"a control character in line {line}")
    return text


def plain_text(text: str) -> str:
    """A name that a tool printed, without what cannot be stored, sent or shown."""
    return "".join(sign if sign.isprintable() else "\ufffd" for sign in text)


def guarded_number(text: object, wanted: Wanted, what: str) -> Fraction:
    """The exact number in a text such as ``48000``, ``23.976`` or ``24000/1001``; raises :class:`Refused`.

    No exponent is taken that a tool would not print: a hundred bytes could otherwise keep a machine busy.
    """
    said = str(text)[: MOST_DIGITS * 3]
    if not _NUMBER.fullmatch(said):
        raise Refused(f"{wanted.what}'s {what}", said, "a number as the tool prints it")
    try:
        return Fraction(said)
    except ZeroDivisionError:
        raise Refused(f"{wanted.what}'s {what}", said, "a number as the tool prints it") from None
