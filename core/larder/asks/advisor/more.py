"""What a little more would cost: of space, people, dead drives survived, quiet, or money now."""

from __future__ import annotations

from decimal import Decimal
from functools import cached_property
from typing import NamedTuple

from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.plan.seats import FootageSeat, PhotoSeat
from larder.stages.costs import CostsResult

from .advise import advisor_of
from .field import Spot
from .needs import Mark
from .search import Search, choices_for

MORE_TB, QUIETER_DBA, MORE_MONEY_PERCENT = 10, 5.0, 50
MOST_FAILURES = 3


class MoreOf(Result):
    """What more of one thing costs beside the cheapest design; null where nothing serves then.

    ``five_years`` and ``capex`` are what it costs more; below 0 it costs less.
    """

    words: str
    five_years: Decimal | None
    capex: Decimal | None
    currency: str
    sentence: str


class _Wish(NamedTuple):
    words: str
    bundle: Bundle
    is_of_needs: bool
    """Whether only what designs are held against changes, and not what they come to."""


class MoreInParts:
    """What a little more of each thing would cost, a part a thing, by its number."""

    def __init__(self, bundle: Bundle) -> None:
        self.bundle = bundle
        choices_for(bundle)

    @cached_property
    def _wishes(self) -> list[_Wish]:
        return _wishes(self.bundle)

    @property
    def count(self) -> int:
        """How many parts there are."""
        return len(self._wishes)

    def part(self, number: int) -> MoreOf | None:
        """One of ``count`` parts, from 0; None where nothing serves as it is."""
        search = advisor_of(self.bundle).search
        mark, base = _cheapest(search)
        return None if base is None else _more(search, mark, base, self._wishes[number])


def more_of(bundle: Bundle) -> tuple[MoreOf, ...]:
    """All of it; empty where nothing serves as it is."""
    whole = MoreInParts(bundle)
    return tuple(result for number in range(whole.count) if (result := whole.part(number)) is not None)


def _cheapest(search: Search) -> tuple[Mark, Spot | None]:
    for mark in search.marks:
        spot = search.cheapest(mark)
        if spot is not None:
            return mark, spot
    return search.marks[-1], None


def _more(search: Search, mark: Mark, base: Spot, wish: _Wish) -> MoreOf:
    currency = search.bundle.currency
    try:
        there = search.held_against(wish.bundle) if wish.is_of_needs else Search(wish.bundle)
        spot = there.cheapest(mark)
    except Refused:
        spot = None
    if spot is None:
        said = f"{wish.words}: nothing in this catalogue does that within the other needs."
        return MoreOf(words=wish.words, five_years=None, capex=None, currency=currency, sentence=said)
    then, today = _judged(there, spot), _judged(search, base)
    more, now = then.five_years - today.five_years, then.capex - today.capex
    said = f"{wish.words}: {_amount(more, currency)} over five years, {_amount(now, currency)} now."
    return MoreOf(words=wish.words, five_years=more, capex=now, currency=currency, sentence=said)


def _judged(search: Search, spot: Spot) -> CostsResult:
    """What a design costs by the ordinary judgement: the search's own sums are a few cents a ledger apart."""
    return evaluate(search.plan(spot, search.bundle.plan.name)).costs


def _amount(amount: Decimal, currency: str) -> str:
    rounded = round(amount)
    if rounded == 0:
        return "nothing more"
    return f"{abs(rounded):,} {currency} {'more' if rounded > 0 else 'less'}"


def _wishes(bundle: Bundle) -> list[_Wish]:
    brief, rules = bundle.plan.brief, bundle.house_rules
    room = brief.limits.room
    kept = brief.model_copy(update={"kept_today_bytes": brief.kept_today_bytes + MORE_TB * TB})
    found = [_Wish(f"{MORE_TB} TB more to keep", _with_brief(bundle, kept), is_of_needs=False)]
    seats = [s for s in brief.seats if isinstance(s, FootageSeat | PhotoSeat) and s.count]
    if seats:
        main = max(seats, key=lambda seat: seat.count)
        grown = tuple(
            seat.model_copy(update={"count": seat.count + 1}) if seat is main else seat
            for seat in brief.seats
        )
        words = f"One more seat of {main.name}"
        found.append(
            _Wish(words, _with_brief(bundle, brief.model_copy(update={"seats": grown})), is_of_needs=False)
        )
    if rules.failures_survived_min < MOST_FAILURES:
        stricter = rules.model_copy(update={"failures_survived_min": rules.failures_survived_min + 1})
        words = f"{stricter.failures_survived_min} dead drives survived, not {rules.failures_survived_min}"
        found.append(_Wish(words, bundle.model_copy(update={"house_rules": stricter}), is_of_needs=True))
    if room.noise_dba_max is not None:
        quiet = room.model_copy(update={"noise_dba_max": room.noise_dba_max - QUIETER_DBA})
        limits = brief.limits.model_copy(update={"room": quiet})
        words = f"{QUIETER_DBA:.0f} dB(A) quieter"
        found.append(
            _Wish(words, _with_brief(bundle, brief.model_copy(update={"limits": limits})), is_of_needs=True)
        )
    if brief.budget:
        budget = brief.budget * (100 + MORE_MONEY_PERCENT) / 100
        richer = _with_brief(bundle, brief.model_copy(update={"budget": budget}))
        found.append(_Wish(f"A budget {MORE_MONEY_PERCENT} % larger", richer, is_of_needs=True))
    return found


def _with_brief(bundle: Bundle, brief: object) -> Bundle:
    return bundle.model_copy(update={"plan": bundle.plan.model_copy(update={"brief": brief})})
