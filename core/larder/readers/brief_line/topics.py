"""Clauses that are not about people: money, until when, what comes every week, what is kept, room and line.

Each looks whether a clause is its own, and then takes all of it: words that it does not know are named.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from itertools import pairwise

from larder.base.fields import LATEST
from larder.base.units import DAYS_A_YEAR, MBIT, day_text
from larder.plan.house_rules import HouseRules

from .footage import Footage, footage_in
from .reading import Reading
from .said import assumed
from .tokens import Token
from .words import (
    AIR,
    FAR_WORDS,
    KEPT_WORDS,
    LINE_WAYS,
    NOISE,
    RATIOS,
    ROLES,
    WEEKLY_KINDS,
    count_of,
    is_strange,
    names_people,
    no_word,
    share_of,
    size_text,
)

DAYS_A_MONTH = DAYS_A_YEAR / 12
LARGEST_BUDGET = 10**9
LONGEST_MONTHS = 12 * 200
USUAL_PROXY_PERCENT = 10.0
MOST_HOT_WEEKS = 520
Topic = Callable[[Reading, list[Token]], bool]


@dataclass(frozen=True)
class Weekly:
    """What comes in a week: hours of footage, or ``size_bytes`` of it; ``at`` is its part of the line."""

    at: int
    footage: Footage
    hours: float = 0.0
    size_bytes: float = 0.0
    kept_ratio: float = 1.0
    says_kept: bool = False


def months_on(day: date, months: float) -> date:
    """The day so many months later; days past the 28th count as that one."""
    whole = int(months)
    year, month = divmod(day.year * 12 + day.month - 1 + whole, 12)
    return date(year, month + 1, min(day.day, 28)) + timedelta(days=round((months - whole) * DAYS_A_MONTH))


def money(reading: Reading, tokens: list[Token]) -> bool:
    """``9000 EUR``, ``budget 9k``: a bare sum is in the studio's currency."""
    sums = [t for t in tokens if t.kind == "money"]
    bare = [t for t in tokens if t.kind in _SUMS] if any(t.word == "budget" for t in tokens) else []
    if not sums and not bare:
        return False
    first = (sums or bare)[0]
    rest = [t for t in tokens if t is not first]
    if not reading.only(rest, "budget", "spend", "most", "up", "max") or not reading.once(
        tokens, "the budget"
    ):
        return True
    amount, currency = first.value if sums else (_sum_of(first), reading.currency)
    if amount > LARGEST_BUDGET:
        wanted = f"“{first.text}” is more than the {LARGEST_BUDGET:,} that a budget can be."
        reading.refuse(tokens, wanted)
        return True
    reading.fields["budget"], reading.currency = amount, currency
    left = () if sums else (assumed(currency, currency, currency),)
    reading.tell(tokens, f"budget of {amount:,.0f} {currency}", *left)
    return True


_SUMS = {"number": 1, "thousands": 1, "kilo": 1000}
"""Tokens that are a sum where the budget is spoken of; 4k is a frame elsewhere."""


def _sum_of(token: Token) -> Decimal:
    return Decimal(str(token.value)) * _SUMS[token.kind]


def until(reading: Reading, tokens: list[Token]) -> bool:
    """``3 years``, ``until 2029``, ``until 30 June 2029``."""
    spans = [t for t in tokens if t.kind == "span" and t.value[1] in ("year", "month")]
    says_until = any(t.word in ("until", "till", "to") for t in tokens)
    years = [t for t in tokens if says_until and t.kind == "number" and t.text.isdigit() and len(t.text) == 4]
    result = spans or [t for t in tokens if t.kind == "date"] or years
    if not result or any(t.kind in ("size", "hours") for t in tokens):
        return False
    rest = [t for t in tokens if t is not result[0]]
    known = ("until", "till", "ahead", "horizon", "must", "last", "next", "over", "end")
    if not reading.only(rest, *known) or not reading.once(tokens, "until when it must last"):
        return True
    day = _day_of(result[0], reading.today)
    if day is None or not reading.today < day <= LATEST:
        reading.refuse(tokens, f"“{result[0].text}” is no day to come, before the year 2200.")
        return True
    reading.fields["horizon_date"] = day
    reading.tell(tokens, f"must last until {day_text(day)}")
    return True


def _day_of(token: Token, today: date) -> date | None:
    if token.kind == "date":
        found: date = token.value
        return found
    if token.kind == "number":
        return date(int(token.value), 12, 31) if token.value >= 1 else None
    amount, unit = token.value
    months = amount * (12 if unit == "year" else 1)
    return months_on(today, months) if months <= LONGEST_MONTHS else None


def weekly(reading: Reading, tokens: list[Token]) -> Weekly | None:
    """Hours or bytes of footage a week or a day; stills and exports join the brief at once."""
    period, amounts = _period(tokens), [t for t in tokens if t.kind in ("hours", "size")]
    if period is None or len(amounts) != 1 or any(_is_counted(tokens, n) for n in range(1, len(tokens))):
        return None
    (amount,), (of_period, weeks) = amounts, period
    kinds = [WEEKLY_KINDS[t.word] for t in tokens if t.word in WEEKLY_KINDS]
    says_kept = any(t.word in ("kept", "keep", "keeping") for t in tokens)
    share = next((t for t in tokens if says_kept and share_of(t) is not None), None)
    used = {id(t) for t in (amount, *of_period, share)}
    footage, left = footage_in([t for t in tokens if id(t) not in used and t.word not in WEEKLY_KINDS])
    reading.otherwise(footage.twice)
    reading.only(left, "shot", "filmed", "recorded", "new", "come", "comes", "kept", "keep", "keeping")
    a_week = amount.value / weeks
    if amount.kind == "size" and kinds:
        if reading.once(tokens, kinds[0]):
            reading.fields[f"{kinds[0]}_bytes_per_week"] = round(a_week)
            reading.tell(tokens, f"{kinds[0]} of {size_text(a_week)} a week")
        return Weekly(-1, footage)
    kept = (share_of(share) or 0.0) / 100 if share is not None else 1.0
    hours, size = (a_week, 0.0) if amount.kind == "hours" else (0.0, a_week)
    return Weekly(reading.tell(tokens, ""), footage, hours, size, kept, says_kept)


def _is_counted(tokens: list[Token], at: int) -> bool:
    return tokens[at].word in ROLES and count_of(tokens[at - 1]) is not None


def _period(tokens: list[Token]) -> tuple[list[Token], float] | None:
    """(its tokens, how many weeks it has): ``a week``, ``per day``, ``/month``; working days make a week."""
    day = 1 / HouseRules().working_days_per_week
    month, year = DAYS_A_MONTH / 7, DAYS_A_YEAR / 7
    weeks = {"week": 1.0, "w": 1.0, "day": day, "d": day, "month": month, "year": year}
    for before, token in pairwise(tokens):
        if token.word in weeks and (before.word in ("a", "per", "each", "every") or before.kind == "slash"):
            return [before, token], weeks[token.word]
    by_itself = {"weekly": 1.0, "daily": day, "monthly": month}
    return next((([t], by_itself[t.word]) for t in tokens if t.word in by_itself), None)


def kept(reading: Reading, tokens: list[Token]) -> bool:
    """``8 TB today``, ``keep 50 TB``."""
    sizes = [t for t in tokens if t.kind == "size"]
    if (
        len(sizes) != 1
        or any(t.word in ROLES for t in tokens)
        or not any(t.word in KEPT_WORDS for t in tokens)
    ):
        return False
    rest = [t for t in tokens if t is not sizes[0]]
    if reading.only(rest, *KEPT_WORDS) and reading.once(tokens, "what is kept today"):
        reading.fields["kept_today_bytes"] = sizes[0].value
        reading.tell(tokens, "kept today, to be moved")
    return True


def room(reading: Reading, tokens: list[Token]) -> bool:
    """Noise, air and circuit; several words of the room may stand together."""
    of_room = [t for t in tokens if t.kind in ("noise", "watts") or t.word in AIR or t.word in NOISE]
    if not of_room:
        return False
    says_level = any(t.kind == "noise" for t in of_room)
    for token in of_room:
        if token.word in AIR:
            if reading.once([token], "the air"):
                reading.room["air"], meaning = AIR[token.word]
                reading.tell([token], meaning)
        elif token.kind == "watts":
            if _within(reading, token, "circuit_watts", "the circuit", 50, 100_000):
                reading.tell([token], f"a circuit of {token.value:g} W")
        else:
            _noise(reading, token, says_level=says_level)
    rest = [t for t in tokens if t not in of_room]
    reading.only(rest, "room", "circuit", "most", "noise", "box", "own")
    return True


def _noise(reading: Reading, token: Token, *, says_level: bool) -> None:
    """A level, or a word for one; beside a level the word says no more."""
    if token.kind == "noise":
        if _within(reading, token, "noise_dba_max", "the noise", 10, 120):
            reading.tell([token], f"noise at most {token.value:g} dB(A)")
    elif says_level:
        reading.tell([token], "as its level says")
    elif reading.once([token], "the noise"):
        level = reading.room["noise_dba_max"] = NOISE[token.word]
        left = assumed(f"{level}", f"{level} dB", f"{level}")
        reading.tell([token], f"noise at most {level} dB(A)", left)


def _within(reading: Reading, token: Token, name: str, what: str, least: float, most: float) -> bool:
    if not reading.once([token], what):
        return False
    if not least <= token.value <= most:
        reading.refuse([token], f"“{token.text}” is not from {least:g} to {most:g}.")
        return False
    reading.room[name] = token.value
    return True


def outside(reading: Reading, tokens: list[Token]) -> bool:
    """The house's line: rates up and down."""
    if not any(t.word in LINE_WAYS for t in tokens) or any(names_people(t) for t in tokens):
        return False
    used: set[int] = set()
    for n, token in enumerate(tokens):
        beside = [m for m in (n + 1, n - 1) if 0 <= m < len(tokens) and m not in used]
        way = next((m for m in beside if tokens[m].word in LINE_WAYS), None)
        if token.kind == "rate" and way is not None:
            used |= {n, way}
            name = LINE_WAYS[tokens[way].word]
            if reading.once([token], f"the line {name}"):
                reading.outside[f"{name}_bytes_per_s"] = token.value
    if not used:
        return False
    reading.only([t for n, t in enumerate(tokens) if n not in used], "line", "internet", "outside", "office")
    both = ((way, reading.outside.get(f"{way}_bytes_per_s")) for way in ("up", "down"))
    said = ", ".join(f"{rate / MBIT:g} Mb/s {way}" for way, rate in both if rate is not None)
    reading.tell(tokens, f"the line to the outside: {said}")
    return True


def hot(reading: Reading, tokens: list[Token]) -> bool:
    """``hot for 6 weeks``."""
    weeks = next((t for t in tokens if t.kind == "span" and t.value[1] == "week"), None)
    if weeks is None or not any(t.word == "hot" for t in tokens):
        return False
    rest = [t for t in tokens if t is not weeks]
    if reading.only(rest, "hot", "stays", "stay") and reading.once(tokens, "how long it is hot"):
        count = round(weeks.value[0])
        if count > MOST_HOT_WEEKS:
            reading.refuse(
                tokens, f"“{weeks.text}” is more than the {MOST_HOT_WEEKS} weeks that can be said."
            )
            return True
        reading.fields["hot_weeks"] = count
        reading.tell(tokens, f"hot for {count} weeks after it is shot")
    return True


def ratios(reading: Reading, tokens: list[Token]) -> bool:
    """Proxies and previews, as a part of the footage."""
    said = next((t for t in tokens if t.word in RATIOS), None)
    if said is None or any(names_people(t) or t.word in FAR_WORDS for t in tokens):
        return False
    percent = next((t for t in tokens if t.kind == "percent"), None)
    rest = [t for t in tokens if t not in (said, percent)]
    if reading.only(rest) and reading.once(tokens, said.word):
        share = USUAL_PROXY_PERCENT if percent is None else percent.value
        if share > 500:
            reading.refuse(tokens, f"“{reading.text(tokens)}”: at most 500 % can be said.")
            return True
        reading.fields[RATIOS[said.word]] = share / 100
        left = (assumed(f"{share:g} %", f"{share:g}%", f"{share:g}"),) if percent is None else ()
        reading.tell(tokens, f"{said.word} of {share:g} % of the footage", *left)
    return True


def strange(reading: Reading, tokens: list[Token]) -> None:
    """Nothing of it is known: its words are named, and numbers where there are no words."""
    odd = [t for t in tokens if is_strange(t)]
    for token in [t for t in odd if t.kind == "word"] or odd or tokens[:1]:
        reading.refuse([token], no_word(token))


TOPICS: tuple[Topic, ...] = (money, until, kept, room, outside, hot, ratios)
