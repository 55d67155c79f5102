"""Version 8 knows what grows and what it costs: what a purchase is, so that a pick list can be closed.

Purchases were free words. Those that name a part of the usual kinds become that part, which is told.
"""

from __future__ import annotations

from .change import Change, Document, items_at

_PARTS = (
    ("adapter", ("adapter",)),
    ("network card", ("network card",)),
    ("cable", ("cable", "patch lead")),
    ("rails", ("rails", "rail kit")),
    ("carrier", ("carrier", "caddy", "caddies")),
    ("cooler", ("cooler",)),
    ("power lead", ("power lead", "power splitter")),
    ("switch", ("switch",)),
)
"""(part, words that name it); the first that is found decides."""


def step(document: Document, changes: list[Change]) -> Document:
    """The document with its purchases told apart."""
    made = dict(document)
    plan = document.get("plan")
    if not isinstance(plan, dict) or not isinstance(plan.get("purchases"), list):
        return made
    parts: dict[str, str] = {}
    for path, item in items_at(document, "plan/purchases"):
        name = str(item.get("name", "")).lower()
        part = next((part for part, words in _PARTS if any(word in name for word in words)), "")
        if part:
            parts[str(item.get("id"))] = part
            changes.append(Change(f"{path}/part", was="", now=part))
    result = [
        item | {"part": parts[str(item.get("id"))]}
        if isinstance(item, dict) and str(item.get("id")) in parts
        else item
        for item in plan["purchases"]
    ]
    return made | {"plan": plan | {"purchases": result}}
