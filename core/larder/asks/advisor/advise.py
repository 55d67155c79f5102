"""The advice: the best design of each school, the few worth a thought, today, and the least that does.

The tables sort out; every design that is shown has been judged as any plan is, and its figures are those.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from functools import lru_cache
from itertools import pairwise
from typing import Literal

import numpy as np

from larder.asks.side_by_side import Measured, measured_of, names_of_boxes, reasons_of, words_of_pool
from larder.base.errors import Refused
from larder.base.memo import kept_aside
from larder.base.results import Result
from larder.base.units import TB, size_text
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.growth import month_of

from .by_hand import far_seats, from_elsewhere, line_misses, paired_portables, people
from .design import DESIGN_ACCEPTED, design_from, key_of
from .field import Spot
from .needs import NEED_IDS, WORDS, Mark, Miss, NeedId, misses_of
from .schools import SCHOOLS, School, school_of
from .search import Search
from .thin import thinned

MOST_DESIGNS = 7
TRIES = 8
"""Designs that are judged for one place before the next best is given up."""
LETTERS = "ABCDEFG"
CACHE_WORDS = {
    "read": "flash cache that keeps what is played",
    "write-through": "flash cache that writes through",
    "write-back": "flash cache, mirrored, that writes back",
    "staging": "staging flash, mirrored",
}


Outcome = Literal["serves", "just", "fails", "nothing", "unasked"]
Target = Literal["enough", "tight", "none"]


class DesignTold(Result):
    """A design that was judged. ``key`` opens it; ``letter`` names it among the few that are shown.

    ``parts`` are its pools, boxes, copies and network in words.
    """

    key: str
    letter: str
    school_id: str
    title: str
    parts: tuple[str, ...]
    measured: Measured
    misses: tuple[Miss, ...]
    why: tuple[str, ...]
    gap: str = ""


class SchoolAnswer(Result):
    """What a school comes to: its best design, or the nearest one with what would have to give.

    ``letter`` is that of the same design among the few that are shown, empty where it is none of them.
    """

    id: str
    number: int
    name: str
    fits: str
    verdict: Outcome
    letter: str
    design: DesignTold | None
    sentence: str


class Standing(Result):
    """A plan that is there already: what it misses, and when it is to be changed."""

    name: str
    measured: Measured
    misses: tuple[Miss, ...]
    sentence: str


class Binding(Result):
    """A need, and the share of all boxes with their pools that it alone rules out, 0 to 1."""

    need: NeedId
    words: str
    rules_out: float


class Advice(Result):
    """The whole answer. ``looked_at`` designs the catalogue allows; ``worth`` of them are undominated.

    ``target`` is what was found: designs that are *enough* in speed and space, such as just do, or none.
    """

    looked_at: int
    worth: int
    target: Target
    designs: tuple[DesignTold, ...]
    schools: tuple[SchoolAnswer, ...]
    today: Standing | None
    smallest: str
    binds: tuple[Binding, ...]
    conflict: str
    left_out: tuple[str, ...]


@dataclass
class Advised:
    """The advice with the plans that its designs are, by key."""

    advice: Advice
    bundles: dict[str, Bundle] = field(default_factory=dict)

    def bundle(self, key: str) -> Bundle:
        """The plan of one design; raises :class:`Refused` for a key that there is not."""
        if key not in self.bundles:
            raise Refused("design", key, "one of " + ", ".join(self.bundles))
        return self.bundles[key]


class Advisor:
    """One search, and what is told of it."""

    def __init__(self, bundle: Bundle, *, losers: bool) -> None:
        self.bundle, self.losers = bundle, losers
        self.search = search_of(bundle)
        self.enough, self.tight = self.search.marks
        self.bundles: dict[str, Bundle] = {}

    def advised(self) -> Advised:
        mark, target, designs, worth = self._designs()
        schools = tuple(self._school(school, designs) for school in SCHOOLS)
        advice = Advice(
            looked_at=self.search.looked_at,
            worth=worth,
            target=target,
            designs=designs,
            schools=schools,
            today=standing_of(self.bundle, self.tight),
            smallest=self._smallest(designs, schools),
            binds=tuple(self._binds(mark)),
            conflict="" if designs or not self.losers else self._conflict(),
            left_out=(*self.search.choices.options.left_out, *_unpriced(self.bundle)),
        )
        return Advised(advice, self.bundles)

    def _designs(self) -> tuple[Mark, Target, tuple[DesignTold, ...], int]:
        """The few that are shown, by cost: of those that are enough, else of those that just do."""
        targets: tuple[tuple[Mark, Target], ...] = ((self.enough, "enough"), (self.tight, "tight"))
        for mark, target in targets:
            spots, measures = self.search.worth(mark)
            found: list[DesignTold] = []
            schools = [self._school_id(spot) for spot in spots]
            for at in thinned(measures, schools, MOST_DESIGNS):
                told = self.told_at(spots[at], mark, LETTERS[len(found)])
                if not told.misses:
                    found.append(told)
            if found:
                return mark, target, _with_gaps(found), len(spots)
        return self.tight, "none", (), 0

    def _school_id(self, spot: Spot) -> str:
        options, of = self.search.choices.options, self.search.fields[spot.field_at]
        school = school_of(options, of, self.search.design(spot))
        return school.id if school else ""

    def told_at(self, spot: Spot, mark: Mark, letter: str = "") -> DesignTold:
        design = self.search.design(spot)
        bundle = self.search.plan(spot, f"Design {letter}".strip())
        keeping = self.search.choices.keepings[spot.keeping_at].words
        network = self.search.choices.networks[design.network_at].words
        return self.told(bundle, key_of(design), self._school_id(spot), (keeping, network), mark, letter)

    def told(
        self, bundle: Bundle, key: str, school_id: str, besides: tuple[str, ...], mark: Mark, letter: str = ""
    ) -> DesignTold:
        """A design as it was judged, kept under its key."""
        evaluation = evaluate(bundle)
        self.bundles[key] = bundle
        plan = bundle.plan
        flash = tuple(
            f"{cache.drive_count} × {size_text(cache.drive_bytes)} {CACHE_WORDS[cache.mode]}"
            for cache in plan.caches
        )
        pools = tuple(words_of_pool(pool) for pool in plan.pools)
        return DesignTold(
            key=key,
            letter=letter,
            school_id=school_id,
            title="; ".join((*pools, *flash)),
            parts=(*pools, *flash, *names_of_boxes(bundle), *besides),
            measured=(measured := measured_of(bundle, evaluation)),
            misses=misses_of(bundle, evaluation, mark),
            why=tuple(reasons_of(bundle, measured)),
        )

    def _school(self, school: School, designs: tuple[DesignTold, ...]) -> SchoolAnswer:
        if school.id == "paired-portables":
            return self._paired(school)
        if school.id == "from-elsewhere":
            return self._elsewhere(school, designs)
        outcomes: tuple[tuple[Mark, Outcome], ...] = ((self.enough, "serves"), (self.tight, "just"))
        for mark, verdict in outcomes:
            told = self.best(school, (mark,))
            if told is not None:
                letter = next((each.letter for each in designs if each.key == told.key), "")
                return _answer(school, verdict, told, f"{told.title}.", letter)
        if not self.losers:
            return _answer(school, "unasked", None, "")
        near = self.search.nearest(self.tight, school)
        if near is None:
            return _answer(school, "nothing", None, self._why_nothing(school))
        told = self.told_at(near.spot, self.tight)
        return _answer(school, "fails", told, _would_have_to_give(told))

    def best(self, school: School | None, marks: tuple[Mark, ...] = ()) -> DesignTold | None:
        """The cheapest, of a school or any, that its evaluation bears out; *enough* before what just does."""
        for mark in marks or self.search.marks:
            banned: list[Spot] = []
            while len(banned) < TRIES and (spot := self.search.cheapest(mark, school, banned)) is not None:
                told = self.told_at(spot, mark)
                if not told.misses:
                    return told
                banned.append(spot)
        return None

    def _why_nothing(self, school: School) -> str:
        """What the catalogue lacks for a school."""
        lacks = {
            "always-on-desktop": "a computer with a USB port and an array that plugs into it, both priced",
            "self-built": "a priced box with cards of its own or a cooler to be bought",
            "all-flash": "prices of a switch, adapters and cables at 25GbE, and flash that fits a box",
        }
        wants = lacks.get(school.id, "boxes and drives, priced, that fit each other so")
        return f"Nothing can be built so from this catalogue: it lacks {wants}."

    def _paired(self, school: School) -> SchoolAnswer:
        seats, misses = people(self.bundle), ""
        if seats > 1:
            misses = f"It serves one person: {seats} would pass drives from hand to hand. "
        best: DesignTold | None = None
        for bundle, keeping in paired_portables(self.search.choices, self._needed()):
            told = self.told(bundle, school.id, school.id, (keeping,), self.tight)
            if best is None or _rank(told) < _rank(best):
                best = told
                kept = bundle
        if best is None:
            return _answer(school, "nothing", None, "Nothing can be built so: no drive has a price.")
        self.bundles[school.id] = kept
        if not best.misses and not misses:
            said = f"You do not need a shared box: {best.title} do."
            return _answer(school, "serves", best, said)
        return _answer(school, "fails", best, misses + (_would_have_to_give(best) if best.misses else ""))

    def _needed(self) -> tuple[float, float]:
        """What is worked on and what is kept besides, bytes."""
        for of in self.search.fields:
            if of.shape != "one pool":
                work, archive = of.ground.terms(0).needed
                return work, archive
        return self.search.fields[0].ground.terms(0).needed[0], 0.0

    def _elsewhere(self, school: School, designs: tuple[DesignTold, ...]) -> SchoolAnswer:
        if not far_seats(self.bundle):
            return _answer(school, "nothing", None, "Nobody in this brief works from elsewhere.")
        if not designs:
            said = "There is no storage here that serves; a line from elsewhere comes after it."
            return _answer(school, "nothing", None, said)
        reasons = []
        for bundle, evaluation, way in from_elsewhere(self.bundles[designs[0].key]):
            missed = [*line_misses(bundle, evaluation)]
            missed += [miss.words for miss in misses_of(bundle, evaluation, self.tight)]
            if not missed:
                told = self.told(bundle, school.id, school.id, (f"far seats by {way}",), self.tight)
                return _answer(school, "serves", told, f"On design A, all who are far away work by {way}.")
            reasons.append(f"{way}: {missed[0]}")
        return _answer(school, "fails", None, "; ".join(reasons) + ".")

    def _smallest(self, designs: tuple[DesignTold, ...], schools: tuple[SchoolAnswer, ...]) -> str:
        """The least that does, in words."""
        paired = next(answer for answer in schools if answer.id == "paired-portables")
        if paired.verdict == "serves":
            return paired.sentence
        serving = [each.design for each in schools if each.verdict in ("serves", "just") and each.design]
        every = [*designs, *serving]
        if not every:
            return ""
        least = min(every, key=lambda design: design.measured.capex)
        return (
            f"The least to spend now that does: {least.title}, "
            f"{least.measured.capex:,.0f} {least.measured.currency}."
        )

    def _binds(self, mark: Mark) -> list[Binding]:
        """What each need rules out by itself, of all boxes with their pools; most first."""
        ruled: dict[NeedId, list[float]] = {}
        counted = 0
        for of in self.search.fields:
            for which, table in enumerate(of.tables):
                counted += len(table)
                far = [of.far(which, at, mark) for at in range(len(self.search.choices.keepings))]
                for need in far[0]:
                    every = np.min([each[need] for each in far], axis=0)
                    ruled.setdefault(need, []).append(float((every > 0).sum()))
        if not counted:
            return []
        found = [
            Binding(need=need, words=WORDS[need], rules_out=sum(counts) / counted)
            for need, counts in ruled.items()
        ]
        return sorted((each for each in found if each.rules_out > 0), key=lambda each: -each.rules_out)

    def _conflict(self) -> str:
        """Which needs cannot hold together, and by how much."""
        alone = self.search.without(self.tight)
        told: list[tuple[NeedId, str]] = []
        for need, near in sorted(alone.items(), key=lambda each: each[1].far)[:3]:
            misses = self.told_at(near.spot, self.tight).misses
            words = next((miss.words for miss in misses if miss.need == need), "")
            if words:
                told.append((need, words))
        if len(told) >= 2:
            (one, by_one), (other, by_other) = told[:2]
            return (
                f"{_capital(WORDS[one])} and {WORDS[other]} cannot both hold: what keeps to all else "
                f"misses the one ({by_one}) or the other ({by_other})."
            )
        if told:
            return self._stands_alone(*told[0])
        nearest = self.search.nearest(self.tight)
        if nearest is None:
            return "Nothing can be built from this catalogue."
        misses = self.told_at(nearest.spot, self.tight).misses
        said = "; and ".join(miss.words for miss in misses[:3])
        needs = [*dict.fromkeys([*(miss.need for miss in misses), "space"])]
        match self.search.cannot_hold(self.tight, needs):
            case (one, other):
                both = self._both(one, other)
            case (one,):
                both = f"{_capital(WORDS[one])} cannot hold, {GIVING}"
            case _:
                both = "No two needs are to blame"
        return f"{both}. The nearest of all misses: {said}."

    @staticmethod
    def _both(one: NeedId, other: NeedId) -> str:
        return f"{_capital(WORDS[one])} and {WORDS[other]} cannot both hold, {GIVING}"

    def _stands_alone(self, need: NeedId, words: str) -> str:
        """One need that alone would have to give: beside one that it cannot hold with, or by itself."""
        held = ((other, self.search.cannot_hold(self.tight, (need, other))) for other in NEED_IDS)
        partner = next((other for other, kept in held if other != need and len(kept) > 1), None)
        if partner is None:
            return f"{_capital(WORDS[need])} stands in the way by itself: {words}."
        return f"{self._both(need, partner)}. What keeps to all else: {words}."


GIVING = "whatever else gives but the rule for copies"


def _unpriced(bundle: Bundle) -> list[str]:
    """What is bought besides storage and has no price yet."""
    names = [p.name for p in bundle.plan.purchases if p.count and p.unit_price is None and not p.is_reused]
    return [f"Bought as well, without a price: {', '.join(names)}"] if names else []


def _rank(told: DesignTold) -> tuple[int, Decimal]:
    """Fewer misses first, then the cheaper over five years."""
    return len(told.misses), told.measured.five_years


def _capital(words: str) -> str:
    return words[:1].upper() + words[1:]


def _answer(
    school: School,
    verdict: Outcome,
    design: DesignTold | None,
    sentence: str,
    letter: str = "",
) -> SchoolAnswer:
    return SchoolAnswer(
        id=school.id, number=school.number, name=school.name, fits=school.fits, verdict=verdict,
        letter=letter, design=design, sentence=sentence,
    )  # fmt: skip


def _would_have_to_give(told: DesignTold) -> str:
    """What the nearest design of a school misses, in words."""
    missed = [miss.words for miss in told.misses[:3]]
    more = len(told.misses) - len(missed)
    return f"The nearest, {told.title}: " + "; ".join(missed) + (f"; and {more} more." if more else ".")


def _with_gaps(designs: list[DesignTold]) -> tuple[DesignTold, ...]:
    """Each with what it costs more than the one before, and what for."""
    found = designs[:1]
    for before, told in pairwise(designs):
        found.append(told.model_copy(update={"gap": gap_between(before, told)}))
    return tuple(found)


def gap_between(before: DesignTold, told: DesignTold, named: str = "") -> str:
    """What one design costs more than another in five years, and what it has more of."""
    a, b = before.measured, told.measured
    gained = []
    if b.plannable_bytes > a.plannable_bytes * 1.02:
        gained.append(f"{(b.plannable_bytes - a.plannable_bytes) / TB:.0f} TB more")
    if (b.speed_ratio or 0) > (a.speed_ratio or 0) * 1.02:
        gained.append(f"×{b.speed_ratio:.2f} instead of ×{a.speed_ratio:.2f}")
    if (b.one_in_years or 0) > (a.one_in_years or 0) * 3:
        gained.append(f"a pool is lost {b.chance} a year instead of {a.chance}")
    if (b.survives or 0) > (a.survives or 0):
        gained.append(f"survives {b.survives} dead drives instead of {a.survives}")
    more = f"{b.five_years - a.five_years:,.0f} {b.currency} more than {named or before.letter} in five years"
    return f"{more}: {', '.join(gained)}." if gained else f"{more}."


def standing_of(bundle: Bundle, mark: Mark) -> Standing | None:
    """What stands in the plan as a choice of its own; None where nothing does."""
    if not bundle.plan.pools:
        return None
    evaluation = evaluate(bundle)
    misses, measured = misses_of(bundle, evaluation, mark), measured_of(bundle, evaluation)
    if misses:
        said = f"Staying with it misses {len(misses)} {'need' if len(misses) == 1 else 'needs'}: "
        said += "; ".join(miss.words for miss in misses[:3]) + ". Change now."
    elif measured.full_on is not None:
        said = f"Staying with it serves. Change when it is full, in {month_of(measured.full_on)}."
    else:
        said = "Staying with it serves, and nothing fills it yet."
    return Standing(name=bundle.plan.name, measured=measured, misses=misses, sentence=said)


@lru_cache(maxsize=3)
def search_of(bundle: Bundle) -> Search:
    """The search for a plan's brief, kept for what is asked of it next."""
    return Search(bundle)


def advisor_of(bundle: Bundle) -> Advisor:
    """Whoever answers questions about the designs for a plan's brief."""
    return Advisor(bundle, losers=True)


@lru_cache(maxsize=6)
def advise(bundle: Bundle, *, losers: bool = True) -> Advised:
    """The advice for the brief of a plan; without ``losers`` schools that do not serve are left unasked.

    Raises :class:`Refused` for a brief without seats and a catalogue from which nothing can be built.
    """
    with kept_aside():
        return Advisor(bundle, losers=losers).advised()


def opened(bundle: Bundle, key: str, name: str) -> Bundle:
    """The plan of one design of the advice for ``bundle``, as any other plan.

    Raises :class:`Refused` for a key that is none of it.
    """
    if key.startswith("d"):
        choices, design = search_of(bundle).choices, design_from(key)
        try:
            made = choices.bundle(design, name)
        except (IndexError, ValueError):
            raise Refused("design", key, DESIGN_ACCEPTED) from None
    else:
        found = advise(bundle).bundle(key)
        made = found.model_copy(update={"plan": found.plan.model_copy(update={"name": name})})
    return bundle_from(made.document())
