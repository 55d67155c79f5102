"""./bench --mutants: plant small faults in every room, and see which the tests catch.

``--room NAME`` plants all of them in one room, ``--count N`` so many in all (300), ``--seed S`` others,
``--list FILE`` writes the survivors as JSON, ``--again FILE`` plants those of such a file again. A fault is
looked for by the tests that run its line, the quickest first, for at most a minute of their usual time; what
is slower than that, and what no test runs, has survived. A fault after which a test takes ten times its time
is caught too.
"""

from __future__ import annotations

import argparse
import importlib
import importlib.abc
import importlib.util
import json
import os
import random
import select
import signal
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Callable, Iterator, Sequence
from dataclasses import asdict, dataclass
from pathlib import Path
from types import ModuleType
from typing import Any

import page_mutants
from cluster import DATABASE, ROOT, Cluster
from mutants import Mutant, drawn, mutants_of, planted
from parts import MANAGE
from who_runs import Known, digest, measured

CORE, SERVER = ROOT / "core", ROOT / "server"
COUNT, FEWEST = 300, 24
"""Faults in all, and in the smallest room."""
ENOUGH = 0.85
LOOKED_FOR_S, LATE_FACTOR, LATE_S = 60.0, 10, 60.0
CORE_ROOMS = ("laws", "stages", "findings", "judge", "asks", "readers", "plan/upgrade")
ROOMS = (*CORE_ROOMS, "server", "page")


def files_of(room: str) -> list[Path]:
    """The modules of a room; of the server those that change something."""
    found = SERVER.glob("*/actions*.py") if room == "server" else (CORE / "larder" / room).rglob("*.py")
    return sorted(path for path in found if "tests" not in path.parts)


def every(room: str) -> list[list[Mutant]]:
    """Every fault that can be planted in a room, by module."""
    if room == "page":
        return page_mutants.every()
    top = SERVER if room == "server" else CORE
    return [mutants_of(path, room, top, ROOT) for path in files_of(room)]


def chosen(rooms: Sequence[str], count: int, seed: int) -> list[Mutant]:
    """So many faults over the rooms by how much there is in each, and in each at least some."""
    by_room = {room: every(room) for room in rooms}
    total = sum(len(module) for modules in by_room.values() for module in modules)
    found = []
    for room, modules in by_room.items():
        here = sum(map(len, modules))
        share = max(round(count * here / total), min(FEWEST, count))
        found += drawn(modules, share, random.Random(f"{seed} {room}"))
    return found


class Planted(importlib.abc.MetaPathFinder, importlib.abc.Loader):
    """Loads one module with its fault."""

    def __init__(self, mutant: Mutant) -> None:
        self.mutant = mutant

    def find_spec(self, name: str, _path: object, _target: object = None) -> Any:
        if name != self.mutant.module:
            return None
        place = ROOT / self.mutant.path
        is_package = place.name == "__init__.py"
        spec = importlib.util.spec_from_loader(name, self, origin=str(place), is_package=is_package)
        if spec is not None and is_package:
            spec.submodule_search_locations = [str(place.parent)]
        return spec

    def exec_module(self, module: ModuleType) -> None:
        module.__file__ = str(ROOT / self.mutant.path)
        tree = planted((ROOT / self.mutant.path).read_text(), self.mutant)
        exec(compile(tree, module.__file__, "exec"), module.__dict__)  # noqa: S102


def core_modules() -> list[str]:
    """The test modules of the core, and of the command that stands on it."""
    return [
        ".".join(path.relative_to(CORE).with_suffix("").parts)
        for path in sorted(CORE.rglob("tests/test_*.py"))
        if path.stem != "test_docs"
    ]


def server_modules() -> list[str]:
    """The server's test modules that need no browser."""
    return [f"tests.{path.stem}" for path in sorted((SERVER / "tests").glob("test_*.py"))]


def digest_of(module: str) -> str:
    """The state of a test module and of all that it might run."""
    is_core = module.startswith("larder")
    sources = [path for path in CORE.rglob("*.py") if "tests" not in path.parts or "test_" not in path.name]
    if not is_core:
        sources += [path for path in SERVER.rglob("*.py") if "tests" not in path.parts]
    own = (CORE if is_core else SERVER) / (module.replace(".", "/") + ".py")
    return digest([*sources, own])


def run_core(module: str) -> None:
    """Run a test module of the core where nothing of it is imported yet."""
    from counted import run_names

    sys.modules["django"] = None  # type: ignore[assignment]
    sys.path.insert(0, str(CORE))
    run_names([module])


def run_server(module: str) -> None:
    """Run a test module of the server on a database of its own."""
    on_django()
    _by_django([module], failfast=False)


def _by_django(tests: list[str], *, failfast: bool) -> unittest.TestResult:
    """Run tests by Django's runner on a database that is made for them."""
    import django

    django.setup()
    from grandlarder.testing import TimedRunner

    runner = TimedRunner(verbosity=0, interactive=False, failfast=failfast)
    runner.setup_test_environment()
    databases = runner.setup_databases(aliases={"default"}, serialized_aliases=set())
    result = runner.run_suite(runner.build_suite(tests))
    runner.teardown_databases(databases)
    return result


def on_django() -> None:
    """Where the server's modules are found, and on which database each process tests."""
    sys.path[:0] = [str(CORE), str(SERVER)]
    os.environ["LARDER_TEST_DB"] = f"test_{DATABASE}_{os.getpid()}"


def within(tests: Sequence[str], seconds: dict[str, float]) -> list[str]:
    """The first of the tests, as many as are done in the time that a fault is looked for."""
    found, left = [], LOOKED_FOR_S
    for test in tests:
        left -= seconds.get(test, 0.0)
        if left < 0 and found:
            break
        found.append(test)
    return found


def core_child(mutant: Mutant, tests: Sequence[str]) -> int:
    """0 where all tests pass, 1 where one fails; runs in a process of its own."""
    try:
        sys.meta_path.insert(0, Planted(mutant))
        for suite in _suites(tests):
            if not unittest.TextTestRunner(sys.stderr, failfast=True).run(suite).wasSuccessful():
                return 1
    except Exception:  # noqa: BLE001  (a module that cannot even be imported is as caught as can be)
        return 1
    return 0


def _suites(tests: Sequence[str]) -> Iterator[unittest.TestSuite]:
    """Tests one after the other, those of a case that follow each other together."""
    waiting: list[str] = []
    for test in tests:
        if waiting and test.rsplit(".", 1)[0] != waiting[0].rsplit(".", 1)[0]:
            yield unittest.defaultTestLoader.loadTestsFromNames(waiting)
            waiting = []
        waiting.append(test)
    if waiting:
        yield unittest.defaultTestLoader.loadTestsFromNames(waiting)


def server_child(mutant: Mutant, tests: Sequence[str]) -> int:
    """As :func:`core_child`, on a database of its own."""
    try:
        on_django()
        sys.meta_path.insert(0, Planted(mutant))
        result = _by_django(list(tests), failfast=True)
    except Exception:  # noqa: BLE001
        return 1
    return int(not result.wasSuccessful())


def page_child(mutant: Mutant, _tests: Sequence[str]) -> int:
    """As :func:`core_child`, by the page's own runner."""
    return page_mutants.run(mutant)


@dataclass
class Running:
    """A fault that is being looked for, and when it is given up."""

    mutant: Mutant
    ends: float


def verdicts(mutants: Sequence[Mutant], known: Known, workers: int) -> dict[Mutant, bool]:
    """Whether each was caught; told as it goes."""
    caught: dict[Mutant, bool] = {}
    running: dict[int, Running] = {}
    waiting = list(reversed(mutants))
    while waiting or running:
        while waiting and len(running) < workers:
            mutant = waiting.pop()
            tests = within(known.tests_of(mutant.path, mutant.line), known.seconds)
            if not tests and mutant.room != "page":
                caught[mutant] = False
                _tell(mutant, caught, len(mutants), "no test runs it")
                continue
            child: Callable[[Mutant, Sequence[str]], int] = {"page": page_child, "server": server_child}.get(
                mutant.room, core_child
            )
            pid = os.fork()
            if pid == 0:
                _quiet()
                os._exit(child(mutant, tests))
            usual = sum(known.seconds.get(test, 0.0) for test in tests)
            running[pid] = Running(mutant, time.monotonic() + LATE_S + LATE_FACTOR * usual)
        pid, status = os.waitpid(-1, os.WNOHANG)
        if pid in running:
            mutant = running.pop(pid).mutant
            caught[mutant] = os.waitstatus_to_exitcode(status) != 0
            _tell(mutant, caught, len(mutants), "survived")
            continue
        for late, each in running.items():
            if time.monotonic() > each.ends:
                os.kill(late, signal.SIGKILL)
        select.select([], [], [], 0.02)
    return caught


def _quiet() -> None:
    nowhere = os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 1)
    os.dup2(nowhere, 2)


def _tell(mutant: Mutant, caught: dict[Mutant, bool], total: int, words: str) -> None:
    if not caught[mutant]:
        print(f"{words}: {mutant.path}:{mutant.line}  {mutant.words}", flush=True)
    if len(caught) % 25 == 0:
        print(f"  {len(caught)} of {total}, {sum(caught.values())} caught", flush=True)


def known_of(rooms: Sequence[str], environment: dict[str, str]) -> Known:
    """What the tests of the core and of the server run, as far as these rooms need it."""
    seconds: dict[str, float] = {}
    lines: dict[str, dict[int, list[str]]] = {}
    if set(rooms) & set(CORE_ROOMS):
        core = measured(core_modules(), digest_of, run_core)
        seconds, lines = seconds | core.seconds, lines | core.lines
    if "server" in rooms:
        os.environ.update(environment)
        server = measured(server_modules(), digest_of, run_server)
        seconds |= server.seconds
        for path, of_file in server.lines.items():
            if path.startswith("server/"):
                lines[path] = of_file
    return Known(seconds, lines)


def main(arguments: list[str]) -> int:
    """Draw, plant, tell; returns 1 where fewer than 85 of 100 are caught in some room."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawTextHelpFormatter)
    parser.add_argument("--count", type=int, default=COUNT)
    parser.add_argument("--seed", type=int, default=11)
    parser.add_argument("--room", choices=ROOMS, action="append", help="only the modules of this room")
    parser.add_argument("--list", help="write every survivor to this file as JSON")
    parser.add_argument("--again", help="plant the faults of such a file again")
    options = parser.parse_args(arguments)
    rooms = tuple(options.room or ROOMS)
    with tempfile.TemporaryDirectory(prefix="larder-mutants-", ignore_cleanup_errors=True) as folder:
        Path(folder).chmod(0o755)
        cluster = Cluster(Path(folder) / "cluster", durable=False)
        try:
            environment = _with_database(cluster) if "server" in rooms else {}
            if options.again:
                mutants = [Mutant(**one) for one in json.loads(Path(options.again).read_text())]
                mutants = [mutant for mutant in mutants if mutant.room in rooms]
            else:
                mutants = chosen(rooms, options.count, options.seed)
            known = known_of(rooms, environment)
            _preload()
            caught = verdicts(mutants, known, os.cpu_count() or 1)
        finally:
            cluster.stop()
    return _account(mutants, caught, rooms, options.list)


def _with_database(cluster: Cluster) -> dict[str, str]:
    """Start it, with a database that is migrated and copied from."""
    cluster.start()
    environment = cluster.environment() | {
        "DJANGO_SETTINGS_MODULE": "grandlarder.settings.test",
        "PYTHONPATH": f"{CORE}{os.pathsep}{SERVER}",
        "LARDER_TEST_DB_TEMPLATE": DATABASE,
    }
    migrate = [*MANAGE, "migrate", "-v0"]
    subprocess.run(migrate, cwd=SERVER, env=os.environ | environment, check=True)
    return environment


def _preload() -> None:
    """What every child needs and no fault is in."""
    sys.path[:0] = [str(CORE)]
    for name in ("numpy", "pydantic", "hypothesis", "hypothesis.strategies", "ijson", "scipy.optimize"):
        importlib.import_module(name)


def _account(
    mutants: Sequence[Mutant], caught: dict[Mutant, bool], rooms: Sequence[str], place: str | None
) -> int:
    """What was caught in each room; survivors to a file where that is wanted."""
    if place:
        survivors = sorted((m for m in mutants if not caught[m]), key=lambda m: (m.path, m.line))
        Path(place).write_text(json.dumps([asdict(survivor) for survivor in survivors], indent=1))
    is_short = False
    for room in rooms:
        here = [mutant for mutant in mutants if mutant.room == room]
        held = sum(caught[each] for each in here)
        share = held / len(here) if here else 1.0
        is_short |= share < ENOUGH
        print(f"{room:14} {held:4} of {len(here):4} caught, {share:.0%}")
    print(f"{'together':14} {sum(caught.values()):4} of {len(mutants):4}")
    return int(is_short)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
