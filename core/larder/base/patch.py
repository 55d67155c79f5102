"""Patches on plan documents: apply, undo, tell apart and merge, by stable item ids.

A document is plain JSON. A path runs through objects by key and through lists by item id, joined by
"/". Three operations suffice: ``set`` a field (or a whole item), ``add`` an item, ``remove`` an item.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from .errors import Refused

MOST_OPERATIONS = 2_000
Document = dict[str, Any]


class Operation(BaseModel):
    """One change. ``at`` is the position of an added item; the end where it is left out."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    op: Literal["set", "add", "remove"]
    path: Annotated[str, Field(min_length=1, max_length=300)]
    value: Any = None
    at: Annotated[int | None, Field(ge=0)] = None

    @property
    def target(self) -> tuple[str, ...]:
        """The path of what changes; for an added item the path it will have."""
        parts = tuple(self.path.split("/"))
        if self.op == "add" and isinstance(self.value, dict):
            return (*parts, str(self.value.get("id")))
        return parts


Patch = tuple[Operation, ...]


def set_fields(path: str, **fields: object) -> Patch:
    """Fields of the item at ``path`` set, each by an operation of its own."""
    return tuple(Operation(op="set", path=f"{path}/{name}", value=value) for name, value in fields.items())


@dataclass(frozen=True)
class Clash:
    """The same place changed twice: what it was, and what each of the two made of it."""

    path: str
    base: Any
    mine: Any
    theirs: Any


def apply_patch(document: Document, patch: Patch) -> Document:
    """``document`` with ``patch`` applied; what is untouched is shared, nothing is changed in place.

    Raises :class:`Refused` for a path that leads nowhere.
    """
    for operation in patch:
        document = _apply(document, operation.path.split("/"), operation)
    return document


def _apply(node: Any, parts: list[str], operation: Operation) -> Any:
    key, rest = parts[0], parts[1:]
    if isinstance(node, dict) and key in node:
        if operation.op == "add" and not rest:
            return {**node, key: _with_item(node[key], operation)}
        if operation.op == "set" and not rest:
            _check_scalar(node[key], operation)
            return {**node, key: operation.value}
        if rest:
            return {**node, key: _apply(node[key], rest, operation)}
    if isinstance(node, list):
        index = _index(node, key)
        if index is not None:
            return _in_list(node, index, rest, operation)
    raise Refused("path", operation.path, f"a path that the plan has, for {operation.op}")


def _in_list(node: list[Any], index: int, rest: list[str], operation: Operation) -> list[Any]:
    if rest:
        changed = [_apply(node[index], rest, operation)]
    elif operation.op == "remove":
        changed = []
    elif operation.op == "set" and isinstance(operation.value, dict):
        changed = [{**operation.value, "id": node[index]["id"]}]
    else:
        raise Refused("path", operation.path, f"a path that the plan has, for {operation.op}")
    return [*node[:index], *changed, *node[index + 1 :]]


def _with_item(items: Any, operation: Operation) -> list[Any]:
    if not isinstance(items, list):
        raise Refused("path", operation.path, "the path of a list, for add")
    if not isinstance(operation.value, dict) or not isinstance(operation.value.get("id"), str):
        raise Refused(operation.path, operation.value, "an item with an id")
    at = len(items) if operation.at is None else operation.at
    return [*items[:at], operation.value, *items[at:]]


def _check_scalar(present: Any, operation: Operation) -> None:
    """Lists and objects change item by item, or two people's changes could not be merged."""
    if isinstance(present, list | dict) or isinstance(operation.value, list | dict):
        raise Refused(operation.path, operation.value, "a single value; lists change by add and remove")


def _index(items: list[Any], item_id: str) -> int | None:
    return next(
        (i for i, item in enumerate(items) if isinstance(item, dict) and item.get("id") == item_id),
        None,
    )


def value_at(document: Any, path: tuple[str, ...]) -> Any:
    """What stands at ``path``, or None where nothing does."""
    for part in path:
        if isinstance(document, list):
            index = _index(document, part)
            document = None if index is None else document[index]
        else:
            document = document.get(part) if isinstance(document, dict) else None
    return document


def diff(before: Document, after: Document) -> Patch:
    """The patch that turns ``before`` into ``after`` (the order of a list's items aside)."""
    return tuple(_diff((), before, after))


def _diff(path: tuple[str, ...], before: Any, after: Any) -> list[Operation]:
    if before == after:
        return []
    if isinstance(before, dict) and isinstance(after, dict) and before.keys() == after.keys():
        return [op for key in before for op in _diff((*path, key), before[key], after[key])]
    if isinstance(before, list) and isinstance(after, list):
        return _diff_items(path, before, after)
    return [Operation(op="set", path="/".join(path), value=after)]


def _diff_items(path: tuple[str, ...], before: list[Any], after: list[Any]) -> list[Operation]:
    were, stay = {item["id"]: item for item in before}, {item["id"] for item in after}
    operations = [
        Operation(op="remove", path="/".join((*path, item["id"])))
        for item in before
        if item["id"] not in stay
    ]
    for at, item in enumerate(after):
        if item["id"] not in were:
            operations.append(Operation(op="add", path="/".join(path), value=item, at=at))
        else:
            operations += _diff((*path, item["id"]), were[item["id"]], item)
    return operations


def merge(base: Document, patch: Patch, head: Document) -> tuple[Document, tuple[Clash, ...]]:
    """``patch``, made on ``base``, brought onto ``head``; with clashes nothing is applied.

    Changes of different fields and items go together; only the same place changed to two different
    values is a clash, also where one side removed what the other changed.
    """
    theirs = diff(base, head)
    mine = diff(base, apply_patch(base, patch))
    clashes = tuple(
        clash for ours, other in _meeting(mine, theirs) if (clash := _clash(base, ours, other)) is not None
    )
    if clashes:
        return head, clashes
    already = {(other.op, other.target) for other in theirs}
    fresh = tuple(ours for ours in mine if (ours.op, ours.target) not in already)
    return apply_patch(head, fresh), ()


def _meeting(mine: Patch, theirs: Patch) -> Iterator[tuple[Operation, Operation]]:
    """Pairs of which one's place is the other's, or lies in it; found by place, since both may be long."""
    at: dict[tuple[str, ...], list[Operation]] = defaultdict(list)
    around: dict[tuple[str, ...], list[Operation]] = defaultdict(list)
    for other in theirs:
        at[other.target].append(other)
        for length in range(len(other.target)):
            around[other.target[:length]].append(other)
    for ours in mine:
        for length in range(len(ours.target) + 1):
            yield from ((ours, other) for other in at.get(ours.target[:length], ()))
        yield from ((ours, other) for other in around.get(ours.target, ()))


def _clash(base: Document, ours: Operation, other: Operation) -> Clash | None:
    """What two operations at one place, or around it, disagree about; None where they agree."""
    if (ours.op, ours.target, ours.value) == (other.op, other.target, other.value):
        return None
    # The deeper path tells which field it is about; the other side holds the item around it.
    path = max(ours.target, other.target, key=len)
    return Clash("/".join(path), value_at(base, path), ours.value, other.value)
