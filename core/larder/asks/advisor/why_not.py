"""Why not that? The best design with whatever one points at in it, beside the cheapest of all."""

from __future__ import annotations

from typing import Literal

import numpy as np

from larder.base.errors import Refused
from larder.base.results import Result
from larder.laws.layout import Family
from larder.plan.bundle import Bundle
from larder.plan.layout_words import words_of

from .advise import advisor_of
from .answers import JudgedDesign, gap_between
from .field import Field, Mask
from .halves import BoxTable
from .options import Options
from .schools import School
from .search import choices_for

Kind = Literal["layout", "box", "drive", "network"]


class Offered(Result):
    """Something that one may point at."""

    id: str
    kind: Kind
    words: str


class WhyNot(Result):
    """What comes of it: a design that serves, or the nearest that does not."""

    words: str
    serves: bool
    design: JudgedDesign | None
    sentence: str


class Offer(Result):
    """All that one may point at; ``takes_long`` where to look at all designs takes more than seconds."""

    takes_long: bool
    items: tuple[Offered, ...]


def offer_of(bundle: Bundle) -> Offer:
    """What one may point at, without looking at any design.

    Nothing where a design cannot be made yet, for want of prices or seats; advice says which.
    """
    try:
        options = choices_for(bundle).options
    except Refused:
        return Offer(takes_long=False, items=())
    return Offer(takes_long=options.takes_long, items=offered(bundle))


def offered(bundle: Bundle) -> tuple[Offered, ...]:
    """Every layout, box, class of drive and network that designs are made of.

    Raises :class:`Refused` where none can be made yet.
    """
    choices = choices_for(bundle)
    options = choices.options
    has_sets = any(drive.sizes for drive in options.drives)
    found = [
        Offered(id=f"layout:{layout.name}", kind="layout", words=words_of(layout))
        for layout in options.layouts
        if has_sets or layout.family is not Family.LAYERED
    ]
    found += [
        Offered(id=f"box:{at}", kind="box", words=option.words) for at, option in enumerate(options.boxes)
    ]
    found += [
        Offered(id=f"drive:{drive.model.id}", kind="drive", words=drive.model.name)
        for drive in options.drives
        if drive.lot is None or drive.only_lot
    ]
    found += [
        Offered(id=f"network:{at}", kind="network", words=network.words)
        for at, network in enumerate(choices.networks)
    ]
    return tuple(found)


def pointed_at(bundle: Bundle, of: str) -> Offered:
    """What is offered under this id; raises :class:`Refused` for something that is not."""
    every = {each.id: each for each in offered(bundle)}
    if of not in every:
        raise Refused("of", of, "the id of a layout, box, drive or network that is offered")
    return every[of]


def why_not(bundle: Bundle, of: str) -> WhyNot:
    """What comes of using that; raises :class:`Refused` for something that is not offered."""
    pointed = pointed_at(bundle, of)
    advisor = advisor_of(bundle)
    school = _with(pointed)
    best = advisor.best(None)
    for mark in advisor.search.marks:
        result = advisor.best(school, (mark,))
        if result is not None:
            return WhyNot(words=pointed.words, serves=True, design=result, sentence=_serves(best, result))
    near = advisor.search.nearest(advisor.tight, school)
    if near is None:
        said = f"{pointed.words} goes together with nothing in this catalogue that could serve."
        return WhyNot(words=pointed.words, serves=False, design=None, sentence=said)
    result = advisor.design_at(near.spot, advisor.tight)
    return WhyNot(words=pointed.words, serves=False, design=result, sentence=_fails(best, result))


def _serves(best: JudgedDesign | None, result: JudgedDesign) -> str:
    if best is None or best.key == result.key:
        return f"It is what the cheapest design has: {result.title}."
    return f"It would do: {result.title}. {gap_between(best, result, 'the cheapest')}"


def _fails(best: JudgedDesign | None, design: JudgedDesign) -> str:
    """What it would save, and what it misses for that."""
    missed = "; ".join(miss.words for miss in design.misses[:2]) or "its evaluation does not bear it out"
    said = f"The nearest with it, {design.title}: {missed}."
    if best is not None:
        saved = best.measured.five_years - design.measured.five_years
        if saved > 1:
            return f"It would save {saved:,.0f} {design.measured.currency} over five years. {said}"
    return said


def _with(pointed: Offered) -> School:
    """All designs that have it, as if they were a school."""
    kind, _, item = pointed.id.partition(":")

    def is_in(of: Field) -> bool:
        return kind != "network" or of.network_at == int(item)

    def rows(options: Options, table: BoxTable) -> Mask:
        return _rows(kind, item, options, table)

    return School(pointed.id, 0, pointed.words, "", field=is_in, rows=rows, any_half=kind != "network")


def _rows(kind: str, item: str, options: Options, table: BoxTable) -> Mask:
    has = np.zeros(len(table), bool)
    if kind == "network":
        return ~has
    if kind == "box":
        found: Mask = table.box_at == int(item)
        return found
    for pool in table.pools:
        if kind == "drive":
            result = np.array([drive.model.id == item for drive in options.drives])
            has |= result[pool.drive_at]
        else:
            result = np.array([layout.name == item for layout in options.layouts])
            has |= result[pool.layout_at]
    return has
