"""The line cut into what a word can be: sizes, rates, sums, times, numbers, words and the commas between.

Sizes and rates are read by :mod:`larder.base.units`, so that bits and bytes are told apart as everywhere.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Any

from larder.base.errors import Refused
from larder.base.units import parse_rate, parse_size

LONGEST_LINE = 1_000
CURRENCIES = (
    "EUR", "USD", "GBP", "CHF", "NOK", "SEK", "DKK", "PLN", "CZK", "HUF", "RON", "ISK", "TRY",
    "JPY", "CNY", "KRW", "INR", "CAD", "AUD", "NZD", "SGD", "HKD", "BRL", "MXN", "ZAR",
)  # fmt: skip
_SIGNS = {"€": "EUR", "$": "USD", "£": "GBP", "euro": "EUR", "euros": "EUR"}
_MONTHS = (
    "january", "february", "march", "april", "may", "june", "july", "august", "september", "october",
    "november", "december",
)  # fmt: skip
NUMBER_WORDS = {
    word: n
    for n, word in enumerate(
        ("one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten", "eleven", "twelve"), 1
    )
}
_N = r"(?:\d{1,3}(?:,\d{3})+(?!\d)(?:\.\d+)?|\d{1,6},\d{1,2}(?=\s?[A-Za-z%€$£])|\d{1,40}(?:\.\d{1,6})?)"
_CODES = "|".join(CURRENCIES)
_MONTH = "|".join(f"{m}|{m[:3]}" for m in _MONTHS)
_PATTERNS: tuple[tuple[str, str], ...] = (
    ("comma", r"[,;\n]"),
    ("date", r"\d{4}-\d{2}-\d{2}(?!\d)"),
    ("date", rf"\d{{1,2}}\.?\s+(?:{_MONTH})\.?\s+\d{{4}}(?!\d)"),
    ("date", rf"(?:{_MONTH})\.?\s+\d{{4}}(?!\d)"),
    ("money", rf"(?:(?:{_CODES})\s?|[€$£]\s?){_N}\s?k?(?![\w])"),
    ("money", rf"{_N}\s?k?\s?(?:(?:{_CODES})|euros?|[€$£])(?!\w)"),
    ("wire", r"\d+(?:\.\d+)?\s?G(?:bE|bit)(?![\w/])"),
    ("rate", rf"{_N}\s?(?:[KkMGT]i?)?(?:B|b|bits?)(?:/s(?:ec)?|ps)(?!\w)"),
    ("rate", rf"{_N}\s?mb(?:it/s|its/s|ps)(?!\w)"),
    ("unsure", rf"{_N}\s?(?:mb|gb|kb)/s(?!\w)"),
    ("size", rf"{_N}\s?(?:[KkMGTPmgtp]i?)?[Bb](?![\w])"),
    ("percent", rf"{_N}\s?(?:%|percent\b|per\s?cent\b)"),
    ("geometry", r"\d{3,5}\s?[x×]\s?\d{3,5}(?!\w)"),
    ("ratio", r"\d{1,3}(?:\.\d+)?\s?:\s?1(?![\d:])"),
    ("sampling", r"4\s?:\s?[024]\s?:\s?[024](?:\s?:\s?4)?(?!\d)"),
    ("bits", r"(?:8|9|10|12|14|16|24|32)\s?-?\s?bits?(?!\w)"),
    ("lines", r"(?:720|1080|1440|2160|4320)\s?[pi]\s?(?:\d{2,3}(?:\.\d{1,3})?)?(?!\w)"),
    ("fps", r"\d{1,3}(?:\.\d{1,3})?\s?(?:fps|p)(?!\w)"),
    ("noise", rf"{_N}\s?dB(?:\(A\)|A)?(?!\w)"),
    ("watts", rf"{_N}\s?k?W(?!\w)"),
    ("hours", rf"{_N}\s?(?:hours?|hrs?|h)(?!\w)"),
    ("ms", rf"{_N}\s?ms(?!\w)"),
    ("span", rf"{_N}\s?-?\s?(?:years?|yrs?|months?|weeks?|days?)(?!\w)"),
    ("times", rf"{_N}\s?[x×](?!\w)"),
    ("kilo", r"(?:2|4|5|6|8|12)\s?k(?!\w)"),
    ("thousands", rf"{_N}\s?k(?!\w)"),
    ("number", _N),
    ("slash", r"/"),
    ("word", r"[^\W\d_][\w'’.-]*[\w]|[^\W\d_]"),
)
_TOKEN = re.compile(
    "|".join(f"(?P<{kind}_{n}>{pattern})" for n, (kind, pattern) in enumerate(_PATTERNS)), re.IGNORECASE
)
_SURE_UNIT = re.compile(r"(?:[KMGT]i?)?(?:B|b|bits?)(?:/s(?:ec)?|ps)|mb(?:its?/s|ps)")
"""Units of rates in which bits and bytes are told apart; the same in small letters may be either."""


@dataclass(frozen=True)
class Token:
    """A word of the line: what it can be, what it says, and where it stands."""

    kind: str
    text: str
    start: int
    end: int
    value: Any = None

    @property
    def word(self) -> str:
        """In small letters."""
        return self.text.lower()


def number(text: str) -> float:
    """A number as people write it, with a comma between thousands or before tenths."""
    plain = text.strip()
    if re.fullmatch(r"\d{1,3}(?:,\d{3})+(?:\.\d+)?", plain):
        return float(plain.replace(",", ""))
    return float(plain.replace(",", "."))


def tokens_of(line: str) -> Iterator[Token]:
    """The tokens of ``line`` in their order; what is no token is one of kind ``sign``."""
    at = 0
    while at < len(line):
        if line[at] in " \t\r\u00a0.":
            at += 1
            continue
        match = _TOKEN.match(line, at)
        if match is None:
            yield Token("sign", line[at], at, at + 1)
            at += 1
            continue
        kind = (match.lastgroup or "").rpartition("_")[0]
        text = match.group()
        yield _read(kind, text, at, match.end())
        at = match.end()


def _read(kind: str, text: str, start: int, end: int) -> Token:
    if kind == "rate" and not _SURE_UNIT.fullmatch(text[len(_amount(text)) :].strip()):
        kind = "unsure"
    reader = _READERS.get(kind)
    try:
        value = reader(text) if reader else None
    except (Refused, ValueError, ArithmeticError):
        return Token("wrong", text, start, end)
    return Token(kind, text, start, end, value)


def _amount(text: str) -> str:
    match = re.match(_N, text)
    return match.group() if match else text


def _amount_of(text: str) -> float:
    return number(_amount(text))


def _size(text: str) -> int:
    amount = _amount(text)
    unit = text[len(amount) :].strip()
    if unit.endswith("b"):
        # A size is never of bits here: what is typed in small letters is taken in bytes.
        unit = unit.upper().replace("I", "i") if unit.islower() else unit
    return parse_size(f"{number(amount):f} {unit}", "size")


def _rate(text: str) -> float:
    amount = _amount(text)
    unit = text[len(amount) :].strip().replace("bits", "bit").replace("/sec", "/s")
    unit = unit.replace("mbit", "Mbit").replace("mbps", "Mbps")
    return parse_rate(f"{number(amount):f} {unit}", "rate")


def _money(text: str) -> tuple[Decimal, str]:
    amount = re.search(_N, text)
    if amount is None:
        raise ValueError(text)
    rest = (text[: amount.start()] + text[amount.end() :]).strip()
    is_thousands = rest.lower().startswith("k") and rest[1:2].lower() not in tuple("r")
    rest = (rest[1:] if is_thousands else rest.removesuffix("k")).strip()
    is_thousands = is_thousands or text.rstrip().lower().endswith("k")
    currency = _SIGNS.get(rest.lower(), rest.upper())
    if currency not in CURRENCIES:
        raise ValueError(text)
    sum_ = Decimal(str(number(amount.group()))) * (1000 if is_thousands else 1)
    if sum_ != sum_.quantize(Decimal("0.01")):
        raise ValueError(text)
    return sum_.quantize(Decimal("0.01")), currency


def _date(text: str) -> date:
    if re.fullmatch(r"\d{4}-\d{2}-\d{2}", text):
        return date.fromisoformat(text)
    *day, month, year = text.replace(".", " ").split()
    months = [m[:3] for m in _MONTHS]
    number_of = months.index(month.lower()[:3]) + 1
    if day:
        return date(int(year), number_of, int(day[0]))
    return date(int(year) + number_of // 12, number_of % 12 + 1, 1)


def _lines(text: str) -> tuple[int, float | None]:
    match = re.fullmatch(r"(\d{3,4})\s?[pi]\s?([\d.]*)", text, re.IGNORECASE)
    if match is None:
        raise ValueError(text)
    return int(match[1]), float(match[2]) if match[2] else None


def _span(text: str) -> tuple[float, str]:
    amount = _amount(text)
    unit = text[len(amount) :].strip(" -").lower().rstrip("s")
    return number(amount), {"yr": "year"}.get(unit, unit)


_READERS: dict[str, Any] = {
    "date": _date,
    "money": _money,
    "rate": _rate,
    "size": _size,
    "percent": _amount_of,
    "geometry": lambda text: tuple(int(n) for n in re.findall(r"\d+", text)),
    "ratio": lambda text: float(text.split(":")[0]),
    "sampling": lambda text: re.sub(r"\D", "", text),
    "bits": lambda text: int(re.findall(r"\d+", text)[0]),
    "lines": _lines,
    "fps": lambda text: float(re.findall(r"[\d.]+", text)[0]),
    "noise": _amount_of,
    "watts": lambda text: _amount_of(text) * (1000 if "k" in text.lower() else 1),
    "hours": _amount_of,
    "ms": _amount_of,
    "span": _span,
    "times": _amount_of,
    "kilo": lambda text: int(re.findall(r"\d+", text)[0]),
    "thousands": lambda text: _amount_of(text) * 1000,
    "number": number,
}
