"""What a revision changed, in words for the history."""

from __future__ import annotations

from typing import Any

from larder.base.errors import shown
from larder.base.patch import Document, Operation, value_at
from larder.plan.glossary import label_at

from .models import Kind

NAMED = 3


def summary_of(kind: Kind, patch: tuple[Operation, ...], before: Document, after: Document) -> str:
    """One line: the first few changes with old and new value, and how many more."""
    if kind is Kind.START:
        return "Plan begun"
    words = [_change(operation, before, after) for operation in patch[:NAMED]]
    if len(patch) > NAMED:
        words.append(f"{len(patch) - NAMED} more")
    lead = {Kind.UNDO: "Undone: ", Kind.REDO: "Redone: ", Kind.RESTORE: "Brought back: "}.get(kind, "")
    return lead + ("; ".join(words) or "no change")


def _change(operation: Operation, before: Document, after: Document) -> str:
    target = operation.target
    path = "/".join(target)
    if operation.op == "add":
        return f"added {label_at(path, after)}"
    if operation.op == "remove":
        return f"removed {label_at(path, before)}"
    old, new = value_at(before, target), value_at(after, target)
    if isinstance(old, dict) or isinstance(new, dict):
        return f"changed {label_at(path, after)}"
    return f"{label_at(path, after)} {_plain(old)} → {_plain(new)}"


def _plain(value: Any) -> str:
    if value is None:
        return "none"
    if isinstance(value, bool) or not isinstance(value, int | float):
        return shown(value).strip('"')
    for factor, prefix in ((10**12, "T"), (10**9, "G"), (10**6, "M")):
        if abs(value) >= factor:
            return f"{value / factor:g} {prefix}"
    return f"{value:g}"
