"""The one list of units: what stands beside a number in a field, a working, a finding and the command.

Fields keep base units and are shown in theirs ("TB" of bytes). How ``bytes``, ``bytes_per_s`` and ``money``
are shown depends on their size and currency. The list is generated to TypeScript as ``units.json``.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal, get_args

from .units import GB, KB, MB, TB, clock_text

Unit = Literal[
    "", "bytes", "bytes_per_s", "money", "tib", "gb", "TB", "GB", "MB", "MB/s", "Mb/s", "B",
    "share", "probability", "ratio", "count", "%", "×", ": 1", "exponent", "per_bit",
    "% of the rate", "% of rebuilds", "% more", "× plannable", "TB raw", "of footage",
    "clock", "years", "weeks", "days", "h", "s", "ms", "s_as_ms", "s_per_byte", "/s", "files a second",
    "core-s/GB", "cores", "drives", "links", "streams", "channels", "bit", "px", "fps", "Hz", "W",
    "kg", "g", "m", "°C", "dB(A)", "Wh", "min", "m³/h", "BTU/h",
]  # fmt: skip


@dataclass(frozen=True)
class Sign:
    """How a number of a unit is written.

    ``factor`` base units are one; ``digits`` after the point, None for two where it is no whole number.
    """

    after: str = ""
    before: str = ""
    factor: float = 1.0
    digits: int | None = None


_OTHERS: dict[Unit, Sign] = {
    "bytes": Sign("TB", factor=TB, digits=1),
    "bytes_per_s": Sign("MB/s", factor=MB, digits=0),
    "tib": Sign("TiB", digits=1),
    "gb": Sign("GB"),
    "TB": Sign("TB", factor=TB),
    "GB": Sign("GB", factor=GB),
    "MB": Sign("MB", factor=MB),
    "MB/s": Sign("MB/s", factor=MB),
    "Mb/s": Sign("Mb/s", factor=125_000),
    "clock": Sign(digits=0),
    "share": Sign("%", factor=0.01, digits=0),
    "probability": Sign(digits=2),
    "ratio": Sign(before="×", digits=2),
    "count": Sign(digits=0),
    "exponent": Sign(),
    "per_bit": Sign("per bit"),
    "s_as_ms": Sign("ms", factor=1e-3),
    "s_per_byte": Sign("ns a byte", factor=1e-9),
    "money": Sign(digits=2),
}
SIGNS: dict[Unit, Sign] = {unit: _OTHERS.get(unit, Sign(unit)) for unit in get_args(Unit)}
"""Every unit; one that is not said above is its own sign."""
_SIZES = (("TB", TB), ("GB", GB), ("MB", MB), ("kB", KB), ("B", 1))


def known_unit(unit: str) -> Unit:
    """``unit`` where the list has it; raises :class:`KeyError`: units are written by us, never by people."""
    if unit not in SIGNS:
        raise KeyError(f"{unit!r} is not in the list of units")
    return unit


def unit_of_name(name: str) -> Unit:
    """The unit of a stored number, which the name of its field or key tells; empty where it is another."""
    if "bytes_per_s" in name:
        return "bytes_per_s"
    if "bytes" in name:
        return "bytes"
    return "tib" if name.endswith("_tib") else ""


def said(value: float, unit: str, field: str) -> str:
    """A stored number as its field shows it: bytes as sizes, rates in the field's unit, others beside it."""
    base = unit_of_name(field)
    if base == "bytes_per_s":
        sign = SIGNS[known_unit(unit or "MB/s")]
        rate = value / sign.factor
        return f"{rate:.0f} {sign.after}" if rate >= 1e6 else f"{rate:g} {sign.after}"
    if base == "bytes":
        name, factor = next(((n, f) for n, f in _SIZES if abs(value) >= f), _SIZES[-1])
        return f"{value / factor:g} {name}"
    if unit == "clock":
        return clock_text(value * 60)
    sign = SIGNS[known_unit(unit)]
    shown = value / sign.factor
    plain = f"{shown:g}" if abs(shown) < 1e15 else f"{shown:.3g}"
    return f"{plain} {sign.after}".strip()
