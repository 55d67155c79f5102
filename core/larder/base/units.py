"""Units as people type them, turned into SI base units: bytes, bytes per second, seconds.

1 TB is 10^12 bytes and 1 TiB is 2^40 bytes (IEC 80000-13). A capital B is a byte and a small b a bit:
the two are never guessed at, because disks are sold in one and wires in the other.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable
from datetime import date
from decimal import Decimal
from fractions import Fraction

from .errors import Refused

KIB, MIB, GIB, TIB = 2**10, 2**20, 2**30, 2**40
KB, MB, GB, TB = 10**3, 10**6, 10**9, 10**12
MBIT = 125_000
"""Bytes in a million bits; a rate of 1 Mb/s is so many bytes/s."""
DAYS_A_YEAR, HOURS_A_DAY, SECONDS_A_DAY = 365.25, 24.0, 86_400
LARGEST_BYTES = 10**18
"""1 EB: past this a typed size is a slip of the hand."""
LARGEST_BYTES_PER_S = 10**13
"""10 TB/s, forty times the fastest Ethernet port here."""
MOST_DRIVES = 2_000
"""Drives in one set: past this a count is a slip of the hand."""
CLOCK_ACCEPTED = "a time of day such as 11:30"
_CLOCK = re.compile(r"([01]?[0-9]|2[0-3]):([0-5][0-9])")
SIZE_ACCEPTED = "a size such as 16TB, 500 GB or 12.7TiB, up to 1000000TB"
RATE_ACCEPTED = "a rate such as 450MB/s (bytes), 220Mb/s (bits), 10GbE or 260 GB/week"
DRIVES_ACCEPTED = f"drives such as 7x16TB or 20TB+3x8TB, up to {MOST_DRIVES} drives"
_SIZE_UNITS = {
    "B": 1, "kB": KB, "KB": KB, "MB": MB, "GB": GB, "TB": TB, "PB": 10**15,
    "KiB": KIB, "MiB": MIB, "GiB": GIB, "TiB": TIB, "PiB": 2**50,
}  # fmt: skip
# All small letters cannot be taken for bits in a size, so "2tb" is understood; "2Tb" is not.
_SIZE_UNITS |= {name.lower(): factor for name, factor in _SIZE_UNITS.items()}
_PREFIXES = {"": 1, "k": KB, "K": KB, "M": MB, "G": GB, "T": TB}
_BINARY_PREFIXES = {"Ki": KIB, "Mi": MIB, "Gi": GIB, "Ti": TIB}
_PERIOD_SECONDS = {
    "s": 1, "min": 60, "h": 3600, "day": 86_400, "d": 86_400, "week": 604_800, "w": 604_800,
}  # fmt: skip
_NUMBER = r"(?P<number>\d{1,40}(?:\.\d{1,40})?)"
_SIZE = re.compile(rf"{_NUMBER}\s*(?P<unit>[A-Za-z]+)")
_RATE = re.compile(rf"{_NUMBER}\s*(?P<prefix>[KkMGT]i?)?(?P<what>B|b|bit)(?:/(?P<period>[a-z]+)|(?P<ps>ps))")
_ETHERNET = re.compile(rf"{_NUMBER}\s*(?P<prefix>[MG])bE", re.IGNORECASE)
_DRIVES = re.compile(r"(?:(?P<count>\d{1,9})\s*[x×]\s*)?(?P<size>.+)")


def _clean(text: str) -> str:
    return " ".join(text.replace("\u00a0", " ").split())


def parse_size(text: str, field: str = "size") -> int:
    """Whole bytes in ``text`` such as ``16TB`` or ``12.7 TiB``; a part of a byte is dropped.

    Raises :class:`Refused` where the text has no unit, a unit of bits, or more than 1 EB.
    """
    match = _SIZE.fullmatch(_clean(text))
    factor = _SIZE_UNITS.get(match["unit"]) if match else None
    if match is None or factor is None:
        raise Refused(field, text, SIZE_ACCEPTED)
    size_bytes = int(Decimal(match["number"]) * factor)
    if size_bytes > LARGEST_BYTES:
        raise Refused(field, text, SIZE_ACCEPTED)
    return size_bytes


def parse_clock(text: str, field: str = "time") -> int:
    """Minutes after midnight of a time such as ``11:30``; raises :class:`Refused` for no such."""
    match = _CLOCK.fullmatch(text.strip())
    if match is None:
        raise Refused(field, text, CLOCK_ACCEPTED)
    return int(match[1]) * 60 + int(match[2])


def clock_text(seconds: float) -> str:
    """The time of the clock, ``11:30``, so many seconds after a midnight."""
    minutes = round(seconds / 60)
    return f"{minutes // 60 % 24:02d}:{minutes % 60:02d}"


def parse_rate(text: str, field: str = "rate") -> float:
    """Bytes per second in ``text`` such as ``450MB/s``, ``220Mb/s``, ``10GbE``, ``260 GB/week``.

    An Ethernet name gives its line rate; what a file copy sees of it is :mod:`larder.laws.path`'s to say.
    Raises :class:`Refused`, also for a unit that could be bits or bytes ("mb/s").
    """
    rate = float(parse_rate_exact(text, field))
    if rate > LARGEST_BYTES_PER_S:
        raise Refused(field, text, RATE_ACCEPTED + ", up to 10 TB/s")
    return rate


def parse_rate_exact(text: str, field: str = "rate") -> Fraction:
    """As :func:`parse_rate`, as an exact fraction of bytes per second and without a limit."""
    text_clean = _clean(text)
    ethernet = _ETHERNET.fullmatch(text_clean)
    if ethernet:
        bits = Fraction(ethernet["number"]) * _PREFIXES[ethernet["prefix"].upper()]
        return bits / 8
    match = _RATE.fullmatch(text_clean)
    period = _PERIOD_SECONDS.get(match["period"] or "s") if match else None
    if match is None or period is None:
        raise Refused(field, text, RATE_ACCEPTED)
    prefix = match["prefix"] or ""
    amount = Fraction(match["number"]) * (_PREFIXES | _BINARY_PREFIXES)[prefix]
    return amount / (1 if match["what"] == "B" else 8) / period


def parse_drives(text: str, field: str = "drives") -> tuple[int, ...]:
    """The size in bytes of every drive in ``7x16TB`` or ``20TB+3x8TB``, in the order given."""
    sizes: list[int] = []
    for part in _clean(text).split("+"):
        match = _DRIVES.fullmatch(part.strip())
        if match is None:
            raise Refused(field, text, DRIVES_ACCEPTED)
        try:
            size_bytes = parse_size(match["size"], field)
        except Refused:
            raise Refused(field, text, DRIVES_ACCEPTED) from None
        count = int(match["count"] or 1)
        if size_bytes == 0 or not 1 <= count <= MOST_DRIVES - len(sizes):
            raise Refused(field, text, DRIVES_ACCEPTED)
        sizes += [size_bytes] * count
    return tuple(sizes)


def rate_text(bytes_per_s: float) -> str:
    """A rate in a sentence, in MB/s to three figures."""
    rate = bytes_per_s / MB
    return f"{rate:,.0f} MB/s" if rate >= 100 else f"{rate:.3g} MB/s"


def size_text(size_bytes: int) -> str:
    """A size as one says it and as :func:`parse_size` reads it back to the byte: ``16 TB``, ``480 GB``."""
    unit, name = (TB, "TB") if size_bytes >= TB else (GB, "GB")
    return f"{(Decimal(size_bytes) / unit).normalize():f} {name}"


def drives_text(sizes_bytes: Iterable[int]) -> str:
    """The drives as :func:`parse_drives` reads them, equal sizes counted together: ``4TB+2x8TB``."""
    counts = Counter(sizes_bytes)
    return "+".join(
        (f"{count}x" if count > 1 else "") + f"{(Decimal(size) / TB).normalize():f}TB"
        for size, count in sorted(counts.items())
    )


def day_text(day: date) -> str:
    """A day as one writes it."""
    return f"{day.day} {day:%B} {day.year}"
