"""Every check there is, each by its label; ./test calls it once the machine has what it needs.

Counts tests where a runner counts them, from its own report, and one for a check that only passes or fails.
The last line is ``N passed, N failed, N skipped``.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from cluster import ROOT, Cluster

BIN = ROOT / ".venv" / "bin"
PYTHON = str(BIN / "python")
NPM_BIN = ROOT / "frontend" / "node_modules" / ".bin"
SERVER, FRONTEND = ROOT / "server", ROOT / "frontend"

MANAGE = [PYTHON, "-W", "ignore", "manage.py"]
COUNTED = [PYTHON, "tools/counted.py"]

DISCOVER = ["discover", "-t"]
CORE = ["without-django", *DISCOVER, "core", "-s"]
PRODUCTION = {
    "DJANGO_SETTINGS_MODULE": "grandlarder.settings.production",
    "LARDER_SECRET_KEY": "a-key-for-checking-the-settings-only-" + "0123456789" * 3,
    "LARDER_HOSTS": "larder.example",
}


@dataclass(frozen=True)
class Count:
    """What a part came to."""

    passed: int = 0
    failed: int = 0
    skipped: int = 0

    def __add__(self, other: Count) -> Count:
        return Count(self.passed + other.passed, self.failed + other.failed, self.skipped + other.skipped)

    def __str__(self) -> str:
        return f"{self.passed} passed, {self.failed} failed, {self.skipped} skipped"


@dataclass(frozen=True)
class Part:
    """One check: a command, where it runs, and how its output is counted."""

    label: str
    command: list[str]
    folder: Path = ROOT
    report: Callable[[dict[str, Any]], Count] | None = None
    """Reads the counts of the report that the runner writes to ``LARDER_COUNTS``; None where it has none."""
    environment: dict[str, str] | None = None
    has_database: bool = False
    one: tuple[str, ...] = ()
    """The command before the name of a single test, where the part has tests by name."""

    def only(self, name: str) -> Part:
        """The part with one test, test case or module of it."""
        return replace(self, command=[*self.one, name])


def by_unittest(report: dict[str, Any]) -> Count:
    """What ``tools/counted.py`` wrote."""
    return Count(**report)


def by_vitest(report: dict[str, Any]) -> Count:
    """What the frontend's runner wrote as JSON."""
    return Count(*(report[f"num{which}Tests"] for which in ("Passed", "Failed", "Pending")))


def django(label: str, *tests: str) -> Part:
    """Tests under Django's runner; ``tests`` are its own arguments."""
    runner = [*MANAGE, "test", "--noinput"]
    return Part(label, [*runner, *tests], SERVER, by_unittest, has_database=True, one=tuple(runner))


VITEST = [
    str(NPM_BIN / "vitest"),
    "run",
    "--no-color",
    "--reporter=default",
    "--reporter=json",
    "--outputFile.json={counts}",
]

PARTS = [
    Part("format", [str(BIN / "ruff"), "format", "--check", "."]),
    Part("lint", [str(BIN / "ruff"), "check", "."]),
    Part("types", [str(BIN / "mypy")]),
    Part("floors", [str(BIN / "lint-imports")]),
    Part("generated", [PYTHON, "-W", "ignore", "tools/generate.py", "--check"]),
    Part("migrations", [*MANAGE, "makemigrations", "--check", "--dry-run"], SERVER),
    Part("deploy", [*MANAGE, "check", "--deploy", "--fail-level", "WARNING"], SERVER, environment=PRODUCTION),
    Part("frontend-types", [str(NPM_BIN / "tsc"), "--noEmit"], FRONTEND),
    Part("frontend-lint", [str(NPM_BIN / "eslint"), "--max-warnings", "0", "src"], FRONTEND),
    Part("frontend-format", [str(NPM_BIN / "prettier"), "--check", "src"], FRONTEND),
    Part("frontend", VITEST, FRONTEND, by_vitest),
    Part("core", [*COUNTED, *CORE, "core/larder"], ROOT, by_unittest, one=tuple(COUNTED)),
    Part("command", [*COUNTED, *CORE[1:], "core/larder_cli"], ROOT, by_unittest, one=tuple(COUNTED)),
    Part("start", [PYTHON, "counted.py", *DISCOVER, ".", "-s", "tests"], ROOT / "tools", by_unittest),
    django("server", "tests"),
    django("browser", "browser", "--exclude-tag", "fuzz"),
    django("fuzz", "browser", "--tag", "fuzz"),
]


def counted(part: Part, status: int, place: Path) -> Count:
    """What a part came to, by its report; one that failed without saying what has failed once."""
    if part.report is None:
        return Count(int(status == 0), int(status != 0))
    count = part.report(json.loads(place.read_text())) if place.exists() else Count()
    return replace(count, failed=1) if status and not count.failed else count


def run(part: Part, environment: dict[str, str]) -> Count:
    """Run one part; its output is shown only where something failed."""
    began = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="larder-counts-") as folder:
        place = Path(folder) / "counts.json"
        done = subprocess.run(
            [each.format(counts=place) for each in part.command],
            cwd=part.folder,
            env=environment | (part.environment or {}) | {"LARDER_COUNTS": str(place)},
            text=True,
            stdin=subprocess.DEVNULL,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            check=False,
        )
        count = counted(part, done.returncode, place)
    if count.failed:
        print(done.stdout)
    print(f"{part.label}: {count} ({time.monotonic() - began:.0f} s)", flush=True)
    return count


def run_all(parts: list[Part], environment: dict[str, str]) -> Count:
    """One part after the other."""
    return sum((run(part, environment) for part in parts), Count())


def main(arguments: list[str]) -> int:
    """Run all parts, or the labelled ones; ``label:name`` runs one test of a part. Returns the exit status.

    Those with a database share one and run one after the other; the rest runs beside them.
    """
    labels = [part.label for part in PARTS]
    if arguments == ["--list"]:
        print("\n".join(labels))
        return 0
    by_name = dict(zip(labels, PARTS, strict=True))
    chosen = []
    for argument in arguments or labels:
        label, _, name = argument.partition(":")
        if label not in by_name or (name and not by_name[label].one):
            print(f"label cannot be {argument}: accepted is one of {' '.join(labels)}.", file=sys.stderr)
            return 2
        chosen.append(by_name[label].only(name) if name else by_name[label])
    with tempfile.TemporaryDirectory(prefix="larder-test-") as folder:
        Path(folder).chmod(0o755)
        with Cluster(Path(folder) / "cluster", durable=False) as cluster:
            environment = os.environ | cluster.environment()
            environment |= {
                "DJANGO_SETTINGS_MODULE": "grandlarder.settings.test",
                "PYTHONPATH": f"{ROOT / 'core'}{os.pathsep}{SERVER}",
                "NO_COLOR": "1",
            }
            lanes = [[part for part in chosen if part.has_database is wanted] for wanted in (True, False)]
            with ThreadPoolExecutor(len(lanes)) as pool:
                total = sum(pool.map(lambda lane: run_all(lane, environment), lanes), Count())
    print(total)
    return 1 if total.failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
