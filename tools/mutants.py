"""Small faults that can be planted in a Python module: which there are, and what each does to the source.

Kinds are those that went through by hand: ``<`` for ``<=`` at a rule's edge, a ``min`` dropped where two
verdicts meet, an addend or a condition forgotten, a bound that is off, branches swapped, a key of a document
renamed, a filter left out, a call not made.
"""

from __future__ import annotations

import ast
import random
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

NOT_JUDGED = {
    "KEPT_BYTES": "how much a memo holds",
    "EXACT_COMBINATIONS": "which of two exact ways is taken",
    "MULTIPLIED_OUT": "which of two ways is quicker",
    "MOVED_SEATS": "which of two ways is quicker",
    "FEW_SEATS": "which of two ways is quicker",
    "MOST_WORK": "how coarse a large lattice is",
    "FEWEST_CELLS": "how coarse a large lattice is",
    "LATTICE_CELLS": "how fine a lattice is; its bound is told",
    "_ROUNDING": "slack for floating point",
    "DRAWN_BARS": "how many bars are drawn",
    "DRAWN_WEEKS": "how many steps are drawn",
    "CURVE_STEPS": "how many points are drawn",
    "CURVE_POINTS": "how finely a curve is read off",
    "SINGLE_RANKS": "how finely a curve is read off",
    "GROUP_GROWTH": "how finely a curve is read off",
    "MOST_CLASSES": "when the command refuses a list",
    "LARGEST_FACTOR": "when arrays refuse a fraction",
    "BLOCK": "how large a portion of a search is",
    "SWEPT_AT": "how large a portion of a search is",
    "SWEPT": "how large a portion of a search is",
    "KEPT": "how much a memo holds",
    "__all__": "what a package offers",
}
"""Constants whose change is no fault of the trade, with the reason."""
LEFT_OUT_ARGUMENTS = ("strict", "is_told", "maxsize", "exclude_unset", "allow_nan", "ensure_ascii")
"""Checks of our own, what leaves a part out of the answer, sizes of memos, how JSON is written."""
COMPARE: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
    ast.In: ast.NotIn, ast.NotIn: ast.In, ast.Is: ast.IsNot, ast.IsNot: ast.Is,
}  # fmt: skip
ARITHMETIC: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult, ast.FloorDiv: ast.Mult,
    ast.Mod: ast.Mult, ast.Pow: ast.Mult,
}  # fmt: skip
CALLS = {
    "min": "max",
    "max": "min",
    "least": "most",
    "most": "least",
    "any": "all",
    "all": "any",
    "sorted": "list",
}
FILTERS = ("filter", "get", "exclude", "get_or_create", "update", "create")

Change = tuple[str, Callable[[], None]]


@dataclass(frozen=True)
class Mutant:
    """One fault: the change-th of the node-th of its module that can be changed."""

    room: str
    module: str
    path: str
    node: int
    change: int
    line: int
    words: str


def judged(tree: ast.Module) -> Iterator[ast.AST]:
    """Every node that may be changed, in a stable order; no annotations, decorators, refusals, bare sizes."""
    waiting: list[ast.AST] = [tree]
    while waiting:
        node = waiting.pop()
        if isinstance(node, ast.Raise | ast.JoinedStr) or _is_left_out(node):
            continue
        yield node
        for field, value in ast.iter_fields(node):
            if field not in ("decorator_list", "annotation", "returns"):
                children = value if isinstance(value, list) else [value]
                waiting += [child for child in children if isinstance(child, ast.AST)]


def _is_left_out(node: ast.AST) -> bool:
    """Whether this sets a constant or an argument whose change is no fault, or only estimates a size."""
    if isinstance(node, ast.keyword):
        return node.arg in LEFT_OUT_ARGUMENTS
    if isinstance(node, ast.FunctionDef):
        return node.name in ("_sums_bytes", "_kept_bytes")
    if isinstance(node, ast.If) and isinstance(node.test, ast.Name) and node.test.id == "TYPE_CHECKING":
        return True
    if isinstance(node, ast.Assign | ast.AnnAssign):
        targets = node.targets if isinstance(node, ast.Assign) else [node.target]
        names = {each.id for target in targets for each in ast.walk(target) if isinstance(each, ast.Name)}
        return bool(names & NOT_JUDGED.keys())
    return False


def changes(node: Any) -> list[Change]:
    """What can be done to a node: words, and what does it in place."""
    match node:
        case ast.Compare(ops=[op, *_]) if type(op) in COMPARE:
            other = COMPARE[type(op)]
            return [(f"{type(op).__name__} to {other.__name__}", lambda: node.ops.__setitem__(0, other()))]
        case ast.BinOp(op=op) if type(op) in ARITHMETIC:
            other = ARITHMETIC[type(op)]
            found = [(f"{type(op).__name__} to {other.__name__}", lambda: setattr(node, "op", other()))]
            if isinstance(op, ast.Add | ast.Sub):
                found.append(("second term forgotten", lambda: _become(node, node.left)))
            return found
        case ast.BoolOp(op=op):
            other_op = ast.Or if isinstance(op, ast.And) else ast.And
            return [
                (f"{type(op).__name__} swapped", lambda: setattr(node, "op", other_op())),
                ("last condition forgotten", lambda: _become(node, _fewer(node))),
            ]
        case ast.UnaryOp(op=ast.Not()):
            return [("not dropped", lambda: _become(node, node.operand))]
        case ast.IfExp():
            return [("branches swapped", lambda: _swap(node))]
        case _:
            return [*_call_changes(node), *_constant_changes(node), *_statement_changes(node)]


def _call_changes(node: Any) -> list[Change]:
    match node:
        case ast.Call(func=ast.Name(id=name), args=args) if name in CALLS:
            found = [(f"{name} to {CALLS[name]}", lambda: setattr(node.func, "id", CALLS[name]))]
            if name in ("min", "max") and len(args) > 1 and not isinstance(args[0], ast.Starred):
                found.append((f"{name} dropped", lambda: _become(node, node.args[0])))
            return found
        case ast.Call(func=ast.Attribute(attr=attr), keywords=[_, *_]) if attr in FILTERS:
            return [(f"{node.keywords[-1].arg} left out of {attr}", node.keywords.pop)]
    return []


def _constant_changes(node: Any) -> list[Change]:
    match node:
        case ast.Constant(value=bool() | int() | float() as value):
            return [(f"{value} to {_other(value)}", lambda: setattr(node, "value", _other(value)))]
        case ast.Subscript(slice=ast.Constant(value=str() as key)):
            return [(f"key {key} renamed", lambda: setattr(node.slice, "value", key + "_"))]
    return []


def _statement_changes(node: Any) -> list[Change]:
    match node:
        case ast.Expr(value=ast.Call()):
            return [("call not made", lambda: setattr(node, "value", ast.Constant(None)))]
        case ast.AugAssign():
            return [("not added up", lambda: setattr(node, "value", _nothing(node)))]
    return []


def _nothing(node: ast.AugAssign) -> ast.expr:
    """What changes nothing when it is added or multiplied in place."""
    if isinstance(node.op, ast.Mult | ast.Div):
        return ast.Constant(1)
    if isinstance(node.op, ast.Add) and isinstance(node.value, ast.List | ast.ListComp | ast.Tuple):
        return (
            ast.List([], ast.Load()) if not isinstance(node.value, ast.Tuple) else ast.Tuple([], ast.Load())
        )
    if isinstance(node.op, ast.BitOr) and isinstance(node.value, ast.Dict):
        return ast.Dict([], [])
    return ast.Constant(0)


def _become(node: Any, other: Any) -> None:
    """Put one expression in another's place, in place."""
    replacement = dict(other.__dict__)
    node.__class__ = other.__class__
    node.__dict__.clear()
    node.__dict__.update(replacement)


def _fewer(node: ast.BoolOp) -> ast.expr:
    values = node.values[:-1]
    return values[0] if len(values) == 1 else ast.BoolOp(node.op, values)


def _swap(node: ast.IfExp) -> None:
    node.body, node.orelse = node.orelse, node.body


def _other(value: float) -> float:
    if isinstance(value, bool):
        return not value
    return value + 1 if isinstance(value, int) else value * 1.5 + (0.5 if value == 0 else 0)


def mutants_of(path: Path, room: str, top: Path, root: Path) -> list[Mutant]:
    """Every fault that can be planted in a module."""
    module = ".".join(path.relative_to(top).with_suffix("").parts).removesuffix(".__init__")
    tree = ast.parse(path.read_text())
    return [
        Mutant(room, module, str(path.relative_to(root)), n, k, getattr(node, "lineno", 0), words)
        for n, node in enumerate(judged(tree))
        for k, (words, _) in enumerate(changes(node))
    ]


def planted(source: str, mutant: Mutant) -> ast.Module:
    """The module's tree with its fault."""
    tree = ast.parse(source)
    for n, node in enumerate(judged(tree)):
        if n == mutant.node:
            changes(node)[mutant.change][1]()
            break
    return ast.fix_missing_locations(tree)


def drawn(modules: Sequence[list[Mutant]], count: int, chance: random.Random) -> list[Mutant]:
    """So many, spread over the modules by how much there is in each, in an order drawn."""
    every = [each for module in modules for each in chance.sample(module, len(module))]
    step = max(len(every) / count, 1.0)
    found = [every[int(n * step)] for n in range(min(count, len(every)))]
    chance.shuffle(found)
    return found
