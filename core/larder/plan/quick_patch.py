"""A patch brought onto a plan that is right already, without reading the whole file again.

For trying many single changes: only the items on the way are copied, and what the wires must keep to is
looked at. Whatever is then taken goes through the file like any other change.
"""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel

from larder.base.errors import Refused
from larder.base.patch import Operation, Patch

from .bundle import Bundle
from .ports import check_wiring
from .wiring import Link

_NEW = {"plan/wiring/links": Link}
"""The lists that a change may add to, and of what."""


def patched(bundle: Bundle, patch: Patch) -> Bundle:
    """``bundle`` with ``patch`` on it. Raises :class:`Refused` where its wires could not be like that."""
    for operation in patch:
        bundle = _applied(bundle, operation.path.split("/"), operation)
    check_wiring(bundle.plan)
    return bundle


def _applied(node: Any, parts: list[str], operation: Operation) -> Any:
    key, rest = parts[0], parts[1:]
    if isinstance(node, tuple):
        index = next((n for n, item in enumerate(node) if item.id == key), None)
        if index is None:
            raise Refused("path", operation.path, "a path that the plan has")
        if rest:
            return (*node[:index], _applied(node[index], rest, operation), *node[index + 1 :])
        return (*node[:index], *node[index + 1 :])
    if not isinstance(node, BaseModel) or key not in type(node).model_fields:
        raise Refused("path", operation.path, "a path that the plan has")
    if rest:
        return node.model_copy(update={key: _applied(getattr(node, key), rest, operation)})
    value = operation.value
    if operation.op == "add":
        value = (*getattr(node, key), _NEW[operation.path].model_validate(value))
    return node.model_copy(update={key: value})
