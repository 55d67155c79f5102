"""What an upgrade step had to change, and the small tools that steps share."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

Document = dict[str, Any]


@dataclass(frozen=True)
class Change:
    """One value that a step had to change, where it stood; ``said`` tells it where it has no place now."""

    path: str
    was: Any
    now: Any
    said: str = ""


def items_at(document: Document, path: str) -> Iterator[tuple[str, Document]]:
    """(path, item) of everything in the list at ``path``."""
    node: Any = document
    for part in path.split("/"):
        node = node.get(part) if isinstance(node, dict) else None
    for item in node if isinstance(node, list) else ():
        if isinstance(item, dict):
            yield f"{path}/{item.get('id')}", item


def is_number(value: Any) -> bool:
    """Whether this is a number; yes and no are none."""
    return isinstance(value, int | float) and not isinstance(value, bool)


def clamp(item: Document, path: str, field: str, low: float, high: float, changes: list[Change]) -> None:
    """Bring a field within bounds and note it; what is no number stays for the validator to refuse."""
    value: Any = item.get(field)
    if not is_number(value) or low <= value <= high:
        return
    # Whole numbers stay whole.
    item[field] = low if value < low else high
    changes.append(Change(f"{path}/{field}", value, item[field]))
