"""Which tests run which lines, and how long each takes: measured once for a state of the sources, then kept.

A fault in a line is looked for by the tests that run that line, the quickest first.
"""

from __future__ import annotations

import hashlib
import json
import os
import sys
import tempfile
import unittest
from collections.abc import Callable, Sequence
from concurrent.futures import ProcessPoolExecutor
from dataclasses import dataclass
from functools import partial
from multiprocessing import get_context
from pathlib import Path
from typing import Any

from cluster import ROOT

KEPT = ROOT / ".state" / "who-runs"
AT_IMPORT = "import"
"""The context of lines that run when their module is imported, before any test."""


@dataclass(frozen=True)
class Known:
    """What was measured: ``seconds`` by test, and for each file its lines with the tests that run them."""

    seconds: dict[str, float]
    lines: dict[str, dict[int, list[str]]]

    def tests_of(self, path: str, line: int) -> list[str]:
        """The tests that run a line, the quickest first; of one that runs at import, those of its module."""
        of_file = self.lines.get(path, {})
        found = set(of_file.get(line, ())) - {AT_IMPORT}
        if not found and AT_IMPORT in of_file.get(line, ()):
            found = {test for tests in of_file.values() for test in tests} - {AT_IMPORT}
        return sorted(found, key=lambda test: self.seconds.get(test, 0.0))


def measured(modules: Sequence[str], digest_of: Callable[[str], str], run: Callable[[str], None]) -> Known:
    """What the tests of these modules run; only those that are not known in this state are run."""
    KEPT.mkdir(parents=True, exist_ok=True)
    places = {module: KEPT / f"{module}-{digest_of(module)}.json" for module in modules}
    missing = [module for module, place in places.items() if not place.exists()]
    if missing:
        print(f"looking which tests run which lines: {len(missing)} of {len(modules)} modules", flush=True)
        with ProcessPoolExecutor(
            os.cpu_count(), mp_context=get_context("spawn"), max_tasks_per_child=1
        ) as pool:
            list(pool.map(partial(_kept, run), missing, [places[module] for module in missing]))
    seconds: dict[str, float] = {}
    lines: dict[str, dict[int, list[str]]] = {}
    for place in places.values():
        if not place.exists():
            continue
        rows = json.loads(place.read_text())
        seconds |= rows["seconds"]
        for path, of_file in rows["lines"].items():
            mine = lines.setdefault(path, {})
            for line, tests in of_file.items():
                mine.setdefault(int(line), []).extend(tests)
    return Known(seconds, lines)


def digest(files: Sequence[Path]) -> str:
    """A name for a state of files."""
    result = b"".join(hashlib.sha256(path.read_bytes()).digest() for path in sorted(files))
    return hashlib.sha256(result).hexdigest()[:16]


def _kept(run: Callable[[str], None], module: str, place: Path) -> None:
    for old in KEPT.glob(f"{module}-*.json"):
        old.unlink()
    result = covered(module, run)
    place.write_text(json.dumps(result))


def covered(module: str, run: Callable[[str], None]) -> dict[str, Any]:
    """Run the tests of a module under measurement, each as a context of its own."""
    import coverage

    sys.stderr = Path(os.devnull).open("w")  # noqa: SIM115  (as long as the process lives)
    with tempfile.TemporaryDirectory() as folder:
        cover = coverage.Coverage(
            data_file=str(Path(folder) / "data"),
            source=[str(ROOT / "core" / "larder"), str(ROOT / "server")],
            omit=["*/tests/*", "*/migrations/*", "*/browser/*"],
            config_file=False,
            messages=False,
        )
        cover.start()
        cover.switch_context(AT_IMPORT)
        seconds: dict[str, float] = {}
        _told_apart(cover, seconds)
        run(module)
        cover.stop()
        data = cover.get_data()
        lines = {
            str(Path(path).relative_to(ROOT)): data.contexts_by_lineno(path) for path in data.measured_files()
        }
    return {"seconds": seconds, "lines": lines}


def _told_apart(cover: Any, seconds: dict[str, float]) -> None:
    """From now on each test is a context, and its seconds are kept."""
    from counted import TimedResult

    start, stop = TimedResult.startTest, TimedResult.stopTest

    def begun(result: TimedResult, test: unittest.TestCase) -> None:
        cover.switch_context(test.id())
        start(result, test)

    def ended(result: TimedResult, test: unittest.TestCase) -> None:
        stop(result, test)
        seconds[test.id()] = result.seconds[test.id()]
        cover.switch_context(AT_IMPORT)

    TimedResult.startTest, TimedResult.stopTest = begun, ended  # type: ignore[method-assign]
