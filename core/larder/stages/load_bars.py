"""The joint load as it is drawn: its distribution in bars of equal width."""

from __future__ import annotations

import numpy as np

from larder.base.memo import remembered
from larder.base.results import Result
from larder.laws.demand import Load
from larder.plan.brief import Brief
from larder.plan.house_rules import HouseRules

from .loads import LOADS_READ, busiest_load, people
from .rates import RATES
from .stage import Judged, Part

KEPT_BYTES = 500_000
DRAWN_BARS = 40
"""As many as can be told apart at the drawing's width."""


class LoadBar(Result):
    """The odds that the load lies in (from, to], bytes/s."""

    from_bytes_per_s: float
    to_bytes_per_s: float
    probability: float


@remembered(KEPT_BYTES, lambda *_: 12_000)
def _bars(
    brief: Brief, rates: tuple[tuple[str, tuple[float, ...]], ...], rules: HouseRules
) -> tuple[LoadBar, ...]:
    return bars_of(busiest_load(brief, dict(rates), rules))


def bars_of(load: Load) -> tuple[LoadBar, ...]:
    """The distribution in bars of equal width, for drawing."""
    if load.max_bytes_per_s <= 0:
        return ()
    edges = np.linspace(0, load.max_bytes_per_s, DRAWN_BARS + 1)
    which = np.clip(np.searchsorted(edges, load.values, side="left") - 1, 0, DRAWN_BARS - 1)
    odds = np.bincount(which, weights=load.odds, minlength=DRAWN_BARS)
    return tuple(
        LoadBar(from_bytes_per_s=low, to_bytes_per_s=high, probability=odd)
        for low, high, odd in zip(edges[:-1].tolist(), edges[1:].tolist(), odds.tolist(), strict=True)
    )


def _judge(judged: Judged) -> tuple[LoadBar, ...]:
    bundle = judged.bundle
    return _bars(people(bundle.plan.brief), tuple(judged.of(RATES).items()), bundle.house_rules)


BARS: Part[tuple[LoadBar, ...]] = Part("load_bars", _judge, reads=LOADS_READ, after=(RATES,), is_drawn=True)
