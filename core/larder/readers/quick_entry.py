"""A line as one types it at the shelf: ``4x 2TB ssd sata 2022 drawer-3 65%``.

Words may come in any order. A size is needed, except of a box (``box 10GbE usb10G 8bays rack``); a count,
medium, interface, year, hours, use, recording, class, ports and bays are known by their form; what is left is
the place.
"""

from __future__ import annotations

import re
from datetime import date
from typing import Any

from larder.base.errors import Refused
from larder.base.units import parse_size
from larder.laws.path import BUS_BYTES_PER_S, ETHERNET_BITS_PER_S

QUICK_ACCEPTED = "a line such as 4x 2TB ssd sata 2022 drawer-3 65%"
MOST_AT_ONCE, LONGEST_LINE = 200, 400
MEDIA = {"hdd": "hdd", "disk": "hdd", "ssd": "ssd", "flash": "ssd", "card": "card"}
INTERFACES = ("sata", "sas", "nvme", "usb", "ethernet")
CLASSES = ("desktop", "array", "portable")
_PORT = re.compile(
    r"(?:\d{1,2}x)?(?:" + "|".join(map(re.escape, (*ETHERNET_BITS_PER_S, *BUS_BYTES_PER_S))) + ")"
)
_BAYS = re.compile(r"(\d{1,3})-?bays?")
_COUNT = re.compile(r"(\d{1,4})[x×]")
_COUNT_SIZE = re.compile(r"(\d{1,4})[x×](\d.*)")
_SIZE = re.compile(r"\d+(?:\.\d+)?(?:[KMGTP]i?)?B", re.IGNORECASE)
_YEAR = re.compile(r"(19[89]\d|20\d\d)")
_HOURS = re.compile(r"(\d{1,6})h")
_PERCENT = re.compile(r"(\d{1,3}(?:\.\d+)?)%")


def parse_quick(text: str) -> list[dict[str, Any]]:
    """The devices meant by ``text`` as fields of :class:`larder.stock.shelf.StockItem`, without ids.

    Raises :class:`Refused` for a line without a size, or one that says the same thing twice.
    """
    if len(text) > LONGEST_LINE:
        raise Refused("quick entry", f"{len(text)} characters", f"a line of at most {LONGEST_LINE}")
    found = _Words()
    # "2 TB" with a blank is one word.
    for word in re.sub(r"(\d) ([KMGT]i?B)\b", r"\1\2", " ".join(text.split()), flags=re.IGNORECASE).split():
        found.take(word)
    if found.size_bytes is None and not found.is_box:
        raise Refused("quick entry", text, QUICK_ACCEPTED + ": it needs a size")
    size, medium = found.size_bytes or 0, found.fields.get("medium", "hdd")
    kind = "box" if found.is_box else ("card" if medium == "card" else "drive")
    fields = found.fields | {
        "kind": kind,
        "medium": medium,
        "size_bytes": size,
        "used_bytes": int(size * found.used_percent / 100),
        "place": " ".join(found.place),
    }
    if found.ports:
        fields["ports"] = " ".join(found.ports)
    if kind == "card":
        fields.setdefault("interface", "card")
    words = "box" if kind == "box" else {"hdd": "disk", "ssd": "flash", "card": "card"}[medium]
    name = f"{size / 10**12:g} TB {words}" if size else words.capitalize()
    numbered = found.count > 1
    return [fields | {"label": f"{name} {n}" if numbered else name} for n in range(1, found.count + 1)]


class _Words:
    """What the words of a line have said so far."""

    def __init__(self) -> None:
        self.count = 1
        self.size_bytes: int | None = None
        self.used_percent = 0.0
        self.fields: dict[str, Any] = {}
        self.place: list[str] = []
        self.ports: list[str] = []
        self.is_box = False
        self._said: set[str] = set()

    def take(self, word: str) -> None:
        low = word.lower()
        if _PORT.fullmatch(word):
            self.ports.append(word)
        elif match := _COUNT_SIZE.fullmatch(word):
            self.take(match[1] + "x")
            self.take(match[2])
        elif match := _COUNT.fullmatch(low):
            self._once("count", word)
            self.count = int(match[1])
            if not 1 <= self.count <= MOST_AT_ONCE:
                raise Refused("quick entry's count", word, f"1x to {MOST_AT_ONCE}x")
        elif _SIZE.fullmatch(word):
            self._once("size", word)
            self.size_bytes = parse_size(word, "quick entry's size")
        elif match := _PERCENT.fullmatch(word):
            self._once("use", word)
            self.used_percent = float(match[1])
            if self.used_percent > 100:
                raise Refused("quick entry's use", word, "0% to 100%")
        else:
            self._word(word, low)

    def _word(self, word: str, low: str) -> None:
        if low in MEDIA:
            self._field("medium", word, MEDIA[low])
        elif low in INTERFACES:
            self._field("interface", word, low)
        elif low == "box":
            self._once("kind", word)
            self.is_box = True
        elif low in CLASSES:
            self._field("drive_class", word, low)
        elif match := _BAYS.fullmatch(low):
            self._field("bays", word, int(match[1]))
        elif low in ("cmr", "smr"):
            self._field("recording", word, low)
        elif match := _HOURS.fullmatch(low):
            self._field("hours_run", word, int(match[1]))
        elif match := _YEAR.fullmatch(word):
            # Only the year is known: the middle of it errs least.
            self._field("bought_on", word, date(int(match[1]), 7, 1))
        else:
            self.place.append(word)

    def _field(self, name: str, word: str, value: Any) -> None:
        self._once(name, word)
        self.fields[name] = value

    def _once(self, what: str, word: str) -> None:
        if what in self._said:
            raise Refused("quick entry", word, f"one {what.replace('_', ' ')} a line")
        self._said.add(what)
