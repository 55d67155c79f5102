"""Which needs cannot hold together in a catalogue, and by how much."""

from __future__ import annotations

from collections.abc import Callable

from .field import Spot
from .needs import NEED_IDS, WORDS, Mark, Miss, NeedId
from .search import Search

GIVING = "whatever else gives but the rule for copies"
MOST_TRIED = 3


def conflict_of(search: Search, mark: Mark, misses_at: Callable[[Spot], tuple[Miss, ...]]) -> str:
    """A sentence for a brief that no design keeps to; ``misses_at`` is what the design at a spot misses."""
    result: list[tuple[NeedId, str]] = []
    for need, near in sorted(search.without(mark).items(), key=lambda each: each[1].far)[:MOST_TRIED]:
        words = next((miss.words for miss in misses_at(near.spot) if miss.need == need), "")
        if words:
            result.append((need, words))
    if len(result) >= 2:
        (one, by_one), (other, by_other) = result[:2]
        return (
            f"{_capital(WORDS[one])} and {WORDS[other]} cannot both hold: what keeps to all else "
            f"misses the one ({by_one}) or the other ({by_other})."
        )
    if result:
        return _stands_alone(search, mark, *result[0])
    nearest = search.nearest(mark)
    if nearest is None:
        return "Nothing can be built from this catalogue."
    misses = misses_at(nearest.spot)
    said = "; and ".join(miss.words for miss in misses[:MOST_TRIED])
    needs = [*dict.fromkeys([*(miss.need for miss in misses), "space"])]
    match search.cannot_hold(mark, needs):
        case (one, other):
            both = _both(one, other)
        case (one,):
            both = f"{_capital(WORDS[one])} cannot hold, {GIVING}"
        case _:
            both = "No two needs are to blame"
    return f"{both}. The nearest of all misses: {said}."


def _stands_alone(search: Search, mark: Mark, need: NeedId, words: str) -> str:
    """One need that alone would have to give: beside one that it cannot hold with, or by itself."""
    held = ((other, search.cannot_hold(mark, (need, other))) for other in NEED_IDS)
    partner = next((other for other, kept in held if other != need and len(kept) > 1), None)
    if partner is None:
        return f"{_capital(WORDS[need])} stands in the way by itself: {words}."
    return f"{_both(need, partner)}. What keeps to all else: {words}."


def _both(one: NeedId, other: NeedId) -> str:
    return f"{_capital(WORDS[one])} and {WORDS[other]} cannot both hold, {GIVING}"


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]
