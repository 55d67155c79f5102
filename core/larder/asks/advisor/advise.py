"""The advice: the best design of each school, the few worth a thought, today, and the least that does.

The tables sort out; every design that is shown has been judged as any plan is, and its figures are those. The
whole answer is made of parts, so that a large catalogue can be gone through a part at a time.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import NamedTuple

import numpy as np

from larder.asks.side_by_side import measured_of, names_of_boxes, reasons_of, words_of_pool
from larder.base.memo import kept_aside
from larder.base.results import Result
from larder.base.units import size_text
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.growth import month_of

from .answers import (
    Advice,
    Binding,
    JudgedDesign,
    Outcome,
    SchoolAnswer,
    Standing,
    Target,
    school_answer,
    with_gaps,
    would_have_to_give,
)
from .by_hand import far_seats, from_elsewhere, line_misses, paired_portables, people, plan_of
from .conflict import conflict_of
from .design import Choices, key_of
from .field import Spot
from .needs import WORDS, Mark, NeedId, misses_of
from .schools import SCHOOLS, School, school_of
from .search import Search, choices_for
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
LACKS = {
    "always-on-desktop": "a computer with a USB port and an array that plugs into it, both priced",
    "self-built": "a priced box with cards of its own or a cooler to be bought",
    "all-flash": "prices of a switch, adapters and cables at 25GbE, and flash that fits a box",
}
PAIRED_SCHOOL = "paired-portables"
LACKS_ELSE = "boxes and drives, priced, that fit each other so"


@dataclass(frozen=True)
class Advised:
    """The advice, and what its designs are made of."""

    advice: Advice
    choices: Choices

    def bundle(self, key: str, name: str = "Design") -> Bundle:
        """The plan of one design; raises :class:`Refused` for a key that there is not."""
        return plan_of(self.choices, key, name)


class Found(NamedTuple):
    """The few designs that are shown, by cost, of ``worth`` undominated ones, and what they keep to."""

    mark: Mark
    target: Target
    designs: tuple[JudgedDesign, ...]
    worth: int


class Advisor:
    """One search, and what is told of it, each thing once."""

    def __init__(self, bundle: Bundle) -> None:
        self.bundle = bundle
        self.search = Search(bundle)
        self.enough, self.tight = self.search.marks
        self._serving: dict[str, SchoolAnswer | None] = {}
        self._losing: dict[str, SchoolAnswer] = {}

    @cached_property
    def found(self) -> Found:
        """Of those that are enough, else of those that just do."""
        targets: tuple[tuple[Mark, Target], ...] = ((self.enough, "enough"), (self.tight, "tight"))
        for mark, target in targets:
            spots, measures = self.search.worth(mark)
            found: list[JudgedDesign] = []
            schools = [self._school_id(spot) for spot in spots]
            for at in thinned(measures, schools, MOST_DESIGNS):
                design = self.design_at(spots[at], mark, LETTERS[len(found)])
                if not design.misses:
                    found.append(design)
            if found:
                return Found(mark, target, with_gaps(found), len(spots))
        return Found(self.tight, "none", (), 0)

    def _school_id(self, spot: Spot) -> str:
        options, field = self.search.choices.options, self.search.fields[spot.field_at]
        school = school_of(options, field, self.search.design(spot))
        return school.id if school else ""

    def design_at(self, spot: Spot, mark: Mark, letter: str = "") -> JudgedDesign:
        """The design at a spot, judged."""
        design = self.search.design(spot)
        bundle = self.search.plan(spot, f"Design {letter}".strip())
        keeping = self.search.choices.keepings[spot.keeping_at].words
        network = self.search.choices.networks[design.network_at].words
        return judged_design(bundle, key_of(design), self._school_id(spot), (keeping, network), mark, letter)

    def best(self, school: School | None, marks: tuple[Mark, ...] = ()) -> JudgedDesign | None:
        """The cheapest, of a school or any, that its evaluation bears out; *enough* before what just does."""
        for mark in marks or self.search.marks:
            banned: list[Spot] = []
            while len(banned) < TRIES and (spot := self.search.cheapest(mark, school, banned)) is not None:
                design = self.design_at(spot, mark)
                if not design.misses:
                    return design
                banned.append(spot)
        return None

    def school(self, school: School, *, losers: bool = True) -> SchoolAnswer:
        """What one school comes to; without ``losers`` one that does not serve is not asked why."""
        if school.id not in self._serving:
            self._serving[school.id] = self._served(school)
        serving = self._serving[school.id]
        if serving is not None:
            return serving
        if not losers:
            return school_answer(school, "unasked", None, "")
        if school.id not in self._losing:
            self._losing[school.id] = self._lost(school)
        return self._losing[school.id]

    def _served(self, school: School) -> SchoolAnswer | None:
        """The best design of a school; what no catalogue settles is answered in any case."""
        if school.id == PAIRED_SCHOOL:
            return self._paired(school)
        if school.id == "from-elsewhere":
            return self._elsewhere(school)
        outcomes: tuple[tuple[Mark, Outcome], ...] = ((self.enough, "serves"), (self.tight, "just"))
        for mark, verdict in outcomes:
            result = self.best(school, (mark,))
            if result is not None:
                return school_answer(school, verdict, result, f"{result.title}.")
        return None

    def _lost(self, school: School) -> SchoolAnswer:
        """The nearest design of a school that does not serve, or what the catalogue lacks for it."""
        near = self.search.nearest(self.tight, school)
        if near is None:
            lacks = LACKS.get(school.id, LACKS_ELSE)
            said = f"Nothing can be built so from this catalogue: it lacks {lacks}."
            return school_answer(school, "nothing", None, said)
        design = self.design_at(near.spot, self.tight)
        return school_answer(school, "fails", design, would_have_to_give(design))

    def _paired(self, school: School) -> SchoolAnswer:
        seats, misses = people(self.bundle), ""
        if seats > 1:
            misses = f"It serves one person: {seats} would pass drives from hand to hand. "
        tried = [
            judged_design(bundle, key, school.id, (keeping,), self.tight)
            for key, bundle, keeping in paired_portables(self.search.choices, self._needed())
        ]
        if not tried:
            return school_answer(school, "nothing", None, "Nothing can be built so: no drive has a price.")
        best = min(tried, key=lambda result: (len(result.misses), result.measured.five_years))
        if not best.misses and not misses:
            said = f"You do not need a shared box: {best.title} do."
            return school_answer(school, "serves", best, said)
        return school_answer(
            school, "fails", best, misses + (would_have_to_give(best) if best.misses else "")
        )

    def _needed(self) -> tuple[float, float]:
        """What is worked on and what is kept besides, bytes."""
        for field in self.search.fields:
            if field.shape != "one pool":
                work, archive = field.ground.terms(0).needed
                return work, archive
        return self.search.fields[0].ground.terms(0).needed[0], 0.0

    def _elsewhere(self, school: School) -> SchoolAnswer:
        if not far_seats(self.bundle):
            return school_answer(school, "nothing", None, "Nobody in this brief works from elsewhere.")
        if not self.found.designs:
            said = "There is no storage here that serves; a line from elsewhere comes after it."
            return school_answer(school, "nothing", None, said)
        reasons = []
        for key, bundle, way in from_elsewhere(self.search.choices, self.found.designs[0].key):
            evaluation = evaluate(bundle)
            missed = [*line_misses(bundle, evaluation)]
            missed += [miss.words for miss in misses_of(bundle, evaluation, self.tight)]
            if not missed:
                result = judged_design(bundle, key, school.id, (f"far seats by {way}",), self.tight)
                said = f"On design A, all who are far away work by {way}."
                return school_answer(school, "serves", result, said)
            reasons.append(f"{way}: {missed[0]}")
        return school_answer(school, "fails", None, "; ".join(reasons) + ".")

    def conflict(self) -> str:
        """Which needs cannot hold together, where nothing keeps to all: no design, and no pair of drives."""
        paired = next(school for school in SCHOOLS if school.id == PAIRED_SCHOOL)
        if self.found.designs or self.school(paired).verdict == "serves":
            return ""
        return conflict_of(self.search, self.tight, lambda spot: self.design_at(spot, self.tight).misses)

    def binds(self) -> list[Binding]:
        """What each need rules out by itself, of all boxes with their pools; most first."""
        ruled: dict[NeedId, list[float]] = {}
        counted = 0
        for field in self.search.fields:
            for which, table in enumerate(field.tables):
                counted += len(table)
                far = [
                    field.far(which, at, self.found.mark) for at in range(len(self.search.choices.keepings))
                ]
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


def judged_design(
    bundle: Bundle, key: str, school_id: str, besides: tuple[str, ...], mark: Mark, letter: str = ""
) -> JudgedDesign:
    """A design as it is judged."""
    evaluation, plan = evaluate(bundle), bundle.plan
    flash = tuple(
        f"{cache.drive_count} × {size_text(cache.drive_bytes)} {CACHE_WORDS[cache.mode]}"
        for cache in plan.caches
    )
    pools = tuple(words_of_pool(pool) for pool in plan.pools)
    measured = measured_of(bundle, evaluation)
    return JudgedDesign(
        key=key,
        letter=letter,
        school_id=school_id,
        title="; ".join((*pools, *flash)),
        parts=(*pools, *flash, *names_of_boxes(bundle), *besides),
        measured=measured,
        misses=misses_of(bundle, evaluation, mark),
        why=tuple(reasons_of(bundle, measured)),
    )


class AdvicePart(Result):
    """A part of the advice: of the designs, of one school, or of what binds and what cannot hold together."""

    looked_at: int = 0
    worth: int = 0
    target: Target = "none"
    designs: tuple[JudgedDesign, ...] = ()
    today: Standing | None = None
    left_out: tuple[str, ...] = ()
    school: SchoolAnswer | None = None
    binds: tuple[Binding, ...] = ()
    conflict: str = ""


class AdviceInParts:
    """The advice for the brief of a plan, a part by its number: designs, then each school, then the rest.

    Raises :class:`Refused` for a brief without seats and a catalogue from which nothing can be built; no
    table is made before the first part is asked for.
    """

    count = len(SCHOOLS) + 2

    def __init__(self, bundle: Bundle, *, losers: bool = True) -> None:
        self.bundle, self.losers = bundle, losers
        choices_for(bundle)

    def part(self, number: int) -> AdvicePart:
        """One of ``count`` parts, from 0; the first takes the longest."""
        advisor = advisor_of(self.bundle)
        if number == 0:
            found = advisor.found
            return AdvicePart(
                looked_at=advisor.search.looked_at,
                worth=found.worth,
                target=found.target,
                designs=found.designs,
                today=standing_of(self.bundle, advisor.tight),
                left_out=(*advisor.search.left_out, *_unpriced(self.bundle)),
            )
        if number <= len(SCHOOLS):
            return AdvicePart(school=advisor.school(SCHOOLS[number - 1], losers=self.losers))
        return AdvicePart(binds=tuple(advisor.binds()), conflict=advisor.conflict() if self.losers else "")

    @staticmethod
    def summed(parts: Iterable[AdvicePart]) -> Advice:
        """The advice of the parts that there are, the first among them; other schools are not asked yet."""
        first, *rest = parts
        result = {part.school.id: part.school for part in rest if part.school is not None}
        letters = {design.key: design.letter for design in first.designs}
        schools = tuple(
            answer.model_copy(update={"letter": letters.get(answer.design.key, "") if answer.design else ""})
            for school in SCHOOLS
            for answer in [result.get(school.id) or school_answer(school, "unasked", None, "")]
        )
        last = next((part for part in rest if part.school is None), AdvicePart())
        return Advice(
            looked_at=first.looked_at,
            worth=first.worth,
            target=first.target,
            designs=first.designs,
            schools=schools,
            today=first.today,
            smallest=_smallest(first.designs, schools),
            binds=last.binds,
            conflict=last.conflict,
            left_out=first.left_out,
        )


def _smallest(designs: tuple[JudgedDesign, ...], schools: tuple[SchoolAnswer, ...]) -> str:
    """The least that does, in words."""
    paired = next(answer for answer in schools if answer.id == PAIRED_SCHOOL)
    if paired.verdict == "serves":
        return paired.sentence
    serving = [school.design for school in schools if school.verdict in ("serves", "just") and school.design]
    every = [*designs, *serving]
    if not every:
        return ""
    least = min(every, key=lambda design: design.measured.capex)
    spent = f"{least.measured.capex:,.0f} {least.measured.currency}"
    return f"The least to spend now that does: {least.title}, {spent}."


def _unpriced(bundle: Bundle) -> list[str]:
    """What is bought besides storage and has no price yet."""
    names = [p.name for p in bundle.plan.purchases if p.count and p.unit_price is None and not p.is_reused]
    return [f"Bought as well, without a price: {', '.join(names)}"] if names else []


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


@lru_cache(maxsize=2)
def advisor_of(bundle: Bundle) -> Advisor:
    """Whoever answers questions about the designs for a plan's brief, kept for what is asked next.

    Its tables may fill hundreds of megabytes: nothing else holds on to it.
    """
    return Advisor(bundle)


@lru_cache(maxsize=6)
def advise(bundle: Bundle, *, losers: bool = True) -> Advised:
    """The advice for the brief of a plan; without ``losers`` schools that do not serve are left unasked.

    Raises :class:`Refused` for a brief without seats and a catalogue from which nothing can be built.
    """
    with kept_aside():
        whole = AdviceInParts(bundle, losers=losers)
        return Advised(whole.summed(map(whole.part, range(whole.count))), choices_for(bundle))


def opened(bundle: Bundle, key: str, name: str) -> Bundle:
    """The plan of one design of the advice for ``bundle``, as any other plan.

    Raises :class:`Refused` for a key that is none of it.
    """
    return bundle_from(plan_of(choices_for(bundle), key, name).document())
