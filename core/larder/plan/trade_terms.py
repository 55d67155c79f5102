"""The trade's own words, in two sentences each, as ``trade_terms.toml`` has them."""

from __future__ import annotations

import tomllib
from functools import cache
from pathlib import Path

from larder.base.fields import Value


class TradeTerm(Value):
    """A word of the trade, what it is also written as, what it is and why it matters."""

    term: str
    forms: tuple[str, ...]
    what: str
    why: str


@cache
def trade_terms() -> tuple[TradeTerm, ...]:
    """All of them, in the order of the file."""
    text = Path(__file__).with_suffix(".toml").read_text(encoding="utf-8")
    return tuple(TradeTerm.model_validate(term) for term in tomllib.loads(text)["term"])
