"""The rates of every format of the library, by id."""

from __future__ import annotations

from larder.plan.formats import Rates, rates_in

from .stage import Part

RATES: Part[Rates] = Part(
    "rates",
    lambda judged: rates_in(judged.bundle.catalogue.formats),
    reads=("catalogue/formats",),
    is_answered=False,
)
