"""The joint load as it is drawn: its distribution in bars of equal width."""

from __future__ import annotations

import numpy as np

from larder.base.results import Result
from larder.laws.demand import Load

from .loads import LOADS_READ, busiest_load
from .rates import RATES
from .stage import Judged, Part

DRAWN_BARS = 40
"""As many as can be told apart at the drawing's width."""


class LoadBar(Result):
    """The odds that the load lies in (from, to], bytes/s."""

    from_bytes_per_s: float
    to_bytes_per_s: float
    probability: float


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
    return bars_of(busiest_load(bundle.plan.brief, judged.of(RATES), bundle.house_rules))


BARS: Part[tuple[LoadBar, ...]] = Part("load_bars", _judge, reads=LOADS_READ, after=(RATES,), is_drawn=True)
