"""Version 3 sizes on 99 % with a rush, gives a rebuild 30 %, and names the pools that somebody works on.

An older plan keeps what it was judged by: the house rules that it left to their defaults then are said now.
"""

from __future__ import annotations

from .change import Change, Document

_DEFAULTS_THEN = {"sized_on_percentile": 95.0, "rush_odds": 1.0, "rebuild_share_percent": 50.0}
"""In what was called a common peak everybody was at peak, which is a rush of odds 1."""


def step(document: Document, changes: list[Change]) -> Document:  # noqa: ARG001  (nothing is changed)
    """The document with version 2's defaults written out."""
    rules = document.get("house_rules")
    if isinstance(rules, dict):
        document = document | {"house_rules": _DEFAULTS_THEN | rules}
    return document
