"""Plant small faults in the laws and the stages, and see which the tests of their own room catch.

``python tools/bench_mutants.py [--count N] [--seed S] [--list FILE]``: mutants are drawn by seed, evenly
over the modules. Each runs in a child that was forked before anything of the core was imported, sees the
module with its one fault, and ends with the first test that fails; tests that have not ended after
two minutes count as caught, for the sound code needs less than half of that. Survivors are printed with
file, line and change.
"""

from __future__ import annotations

import argparse
import ast
import copy
import importlib
import importlib.abc
import importlib.util
import json
import os
import random
import select
import signal
import sys
import time
import unittest
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from pathlib import Path
from types import ModuleType
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
CORE = ROOT / "core"
ROOMS = ("laws", "stages")
SECONDS = 120
OWN_SETTINGS = "_hypothesis_internal_use_settings"
"""Where the library keeps the settings of one test; it has no public way to lower them from outside."""
EXAMPLES = 25
"""Examples of a property under mutation: a fault that needs more to show is rare in any run."""
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
}
"""Constants whose change is no fault of the trade, with the reason."""
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


@dataclass(frozen=True)
class Mutant:
    """One fault: the node-th of its module that can be changed, and what becomes of it."""

    module: str
    path: str
    node: int
    line: int
    change: str


def _judged(tree: ast.Module) -> Iterator[ast.AST]:
    """Every node that may be changed, in a stable order; no annotations, decorators, refusals, bare sizes."""
    waiting: list[ast.AST] = [tree]
    while waiting:
        node = waiting.pop()
        if isinstance(node, ast.Raise) or _is_left_out(node):
            continue
        yield node
        for field, value in ast.iter_fields(node):
            if field not in ("decorator_list", "annotation", "returns"):
                children = value if isinstance(value, list) else [value]
                waiting += [child for child in children if isinstance(child, ast.AST)]


LEFT_OUT_ARGUMENTS = ("strict", "is_told", "maxsize")
"""Checks of our own, what leaves a part out of the answer, sizes of memos."""


def _is_left_out(node: ast.AST) -> bool:
    """Whether this sets a constant or an argument whose change is no fault, or only estimates a size."""
    if isinstance(node, ast.keyword):
        return node.arg in LEFT_OUT_ARGUMENTS
    if isinstance(node, ast.FunctionDef):
        return node.name == "_sums_bytes"
    if isinstance(node, ast.Assign | ast.AnnAssign):
        targets = node.targets if isinstance(node, ast.Assign) else [node.target]
        names = {each.id for target in targets for each in ast.walk(target) if isinstance(each, ast.Name)}
        return bool(names & NOT_JUDGED.keys())
    return False


def _change(node: ast.AST) -> str:
    """What :func:`_apply` would do to a node, in words; empty where nothing."""
    change = ""
    match node:
        case ast.Compare(ops=[op, *_]) if type(op) in COMPARE:
            change = f"{type(op).__name__} to {COMPARE[type(op)].__name__}"
        case ast.BinOp(op=op) if type(op) in ARITHMETIC:
            change = f"{type(op).__name__} to {ARITHMETIC[type(op)].__name__}"
        case ast.BoolOp(op=op):
            change = f"{type(op).__name__} swapped"
        case ast.UnaryOp(op=ast.Not()):
            change = "not dropped"
        case ast.IfExp():
            change = "branches swapped"
        case ast.Call(func=ast.Name(id=name)) if name in CALLS:
            change = f"{name} to {CALLS[name]}"
        case ast.Constant(value=bool() | int() | float() as value):
            change = f"{value} to {_other(value)}"
    return change


def _other(value: float) -> float:
    if isinstance(value, bool):
        return not value
    return value + 1 if isinstance(value, int) else value * 1.5 + (0.5 if value == 0 else 0)


def _apply(node: Any) -> None:
    """Plant the fault, in place."""
    if isinstance(node, ast.Compare):
        node.ops[0] = COMPARE[type(node.ops[0])]()
    elif isinstance(node, ast.BinOp):
        node.op = ARITHMETIC[type(node.op)]()
    elif isinstance(node, ast.BoolOp):
        node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
    elif isinstance(node, ast.UnaryOp):
        operand = node.operand
        node.op, node.operand = ast.Not(), ast.UnaryOp(ast.Not(), operand)
    elif isinstance(node, ast.IfExp):
        node.body, node.orelse = node.orelse, node.body
    elif isinstance(node, ast.Call):
        node.func.id = CALLS[node.func.id]
    else:
        node.value = _other(node.value)


def mutants_of(path: Path) -> list[Mutant]:
    """Every fault that can be planted in a module."""
    module = ".".join(path.relative_to(CORE).with_suffix("").parts)
    tree = ast.parse(path.read_text())
    return [
        Mutant(module, str(path.relative_to(ROOT)), n, getattr(node, "lineno", 0), change)
        for n, node in enumerate(_judged(tree))
        if (change := _change(node))
    ]


def drawn(count: int, seed: int, rooms: Sequence[str] = ROOMS) -> list[Mutant]:
    """So many mutants, one module after the other, each module's in an order drawn by ``seed``."""
    chance = random.Random(seed)
    modules = [mutants_of(path) for room in rooms for path in sorted((CORE / "larder" / room).glob("*.py"))]
    for each in modules:
        chance.shuffle(each)
    found: list[Mutant] = []
    # A module with ten times the code gets about ten times the faults, and each gets one at least.
    total = sum(map(len, modules))
    for each in modules:
        found += each[: max(1, round(count * len(each) / total))] if each else []
    chance.shuffle(found)
    return found[:count]


class _Planted(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Loads one module with its fault."""

    def __init__(self, mutant: Mutant) -> None:
        self.mutant = mutant

    def find_spec(self, name: str, _path: object, _target: object = None) -> Any:
        if name != self.mutant.module:
            return None
        return importlib.util.spec_from_loader(name, self, origin=str(ROOT / self.mutant.path))

    def exec_module(self, module: ModuleType) -> None:
        tree = ast.parse((ROOT / self.mutant.path).read_text())
        for n, node in enumerate(_judged(tree)):
            if n == self.mutant.node:
                _apply(node)
                break
        exec(compile(ast.fix_missing_locations(tree), self.mutant.path, "exec"), module.__dict__)  # noqa: S102


def _tests(module: str) -> list[str]:
    """The tests of the module's room, those of its own name first."""
    _, room, name = module.split(".")
    tests = sorted((CORE / "larder" / room / "tests").glob("test_*.py"))
    tests.sort(key=lambda path: path.stem != f"test_{name}")
    return [f"larder.{room}.tests.{path.stem}" for path in tests]


def _child(mutant: Mutant | None, module: str) -> int:
    """0 where all tests pass, 1 where one fails; runs in a process of its own."""
    sys.stderr = Path(os.devnull).open("w")  # noqa: SIM115  (as long as the child lives)
    if mutant is not None:
        sys.meta_path.insert(0, _Planted(mutant))
    try:
        from hypothesis import HealthCheck, settings

        settings.register_profile(
            "mutants", deadline=None, max_examples=EXAMPLES, derandomize=True, database=None,
            suppress_health_check=list(HealthCheck),
        )  # fmt: skip
        settings.load_profile("mutants")
        for name in _tests(module):
            suite = unittest.defaultTestLoader.loadTestsFromName(name)
            _shortened(suite, settings(settings.get_profile("mutants")))
            result = unittest.TextTestRunner(sys.stderr, failfast=True).run(suite)
            if not result.wasSuccessful():
                return 1
    except Exception:  # noqa: BLE001  (a module that cannot even be imported is as caught as can be)
        return 1
    return 0


def _shortened(suite: unittest.TestSuite, few: Any) -> None:
    """Tests that ask for many examples make do with few here."""
    for test in suite:
        if isinstance(test, unittest.TestSuite):
            _shortened(test, few)
            continue
        function = getattr(type(test), test.id().rsplit(".", 1)[1], None)
        own = getattr(function, OWN_SETTINGS, None)
        if own is not None and own.max_examples > few.max_examples:
            setattr(function, OWN_SETTINGS, few)


def _preload() -> None:
    """What every child needs and no mutant is in."""
    sys.path[:0] = [str(CORE)]
    for name in ("numpy", "pydantic", "hypothesis", "hypothesis.strategies", "ijson"):
        importlib.import_module(name)


@dataclass
class _Running:
    mutant: Mutant
    ends: float


def verdicts(mutants: list[Mutant], workers: int) -> dict[Mutant, bool]:
    """Whether each was caught."""
    caught: dict[Mutant, bool] = {}
    running: dict[int, _Running] = {}
    waiting = list(reversed(mutants))
    while waiting or running:
        while waiting and len(running) < workers:
            mutant = waiting.pop()
            pid = os.fork()
            if pid == 0:
                os._exit(_child(mutant, mutant.module))
            running[pid] = _Running(mutant, time.monotonic() + SECONDS)
        pid, status = os.waitpid(-1, os.WNOHANG)
        if pid:
            caught[running.pop(pid).mutant] = os.waitstatus_to_exitcode(status) != 0
            if len(caught) % 50 == 0:
                print(f"  {len(caught)} of {len(mutants)}, {sum(caught.values())} caught", flush=True)
            continue
        for late, each in running.items():
            if time.monotonic() > each.ends:
                os.kill(late, signal.SIGKILL)
        select.select([], [], [], 0.02)
    return caught


def main(arguments: list[str]) -> int:
    """Draw, plant, tell; returns 1 where fewer than 85 of 100 are caught."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=300)
    parser.add_argument("--seed", type=int, default=11)
    parser.add_argument("--room", choices=ROOMS, help="only the modules of this room")
    parser.add_argument("--list", help="write every survivor to this file as JSON")
    options = parser.parse_args(arguments)
    _preload()
    rooms = (options.room,) if options.room else ROOMS
    for room in rooms:
        began = time.monotonic()
        pid = os.fork()
        if pid == 0:
            os._exit(_child(None, f"larder.{room}.nothing"))
        if os.waitstatus_to_exitcode(os.waitpid(pid, 0)[1]):
            print(f"the tests of {room} fail on the sound code: nothing to be learnt")
            return 1
        took = time.monotonic() - began
        print(f"{room}: sound in {took:.1f} s of {SECONDS} s")
        if took > SECONDS / 2:
            print(f"the tests of {room} take too long: what is slow would count as caught")
            return 1
    mutants = drawn(options.count, options.seed, rooms)
    caught = verdicts(mutants, os.cpu_count() or 1)
    survivors = sorted((m for m in mutants if not caught[m]), key=lambda m: (m.path, m.line))
    for each in survivors:
        print(f"survived: {each.path}:{each.line}  {each.change}")
    if options.list:
        Path(options.list).write_text(json.dumps([vars(copy.copy(m)) for m in survivors], indent=1))
    share = sum(caught.values()) / len(mutants)
    print(f"mutants of laws/ and stages/ caught: {sum(caught.values())} of {len(mutants)}, {share:.0%}")
    return 0 if share >= 0.85 else 1


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
