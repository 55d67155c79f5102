"""Stage *Stock*: what the plan says of the stock that it was made on."""

from __future__ import annotations

from larder.plan.bundle import StockFacts

from .stage import Part

STOCK: Part[StockFacts] = Part("stock", lambda judged: judged.bundle.facts.stock, reads=("facts/stock",))
