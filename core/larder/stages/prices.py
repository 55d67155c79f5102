"""The prices that count on the plan's day, by class."""

from __future__ import annotations

from larder.plan.catalogue import Price, prices_on

from .stage import Part

PRICES: Part[dict[str, Price]] = Part(
    "prices",
    lambda judged: prices_on(judged.bundle.catalogue.prices, judged.bundle.as_of),
    reads=("catalogue/prices", "as_of"),
)
