"""What ./test consists of: checks that are a command each, and tests by the module or case a piece runs."""

from __future__ import annotations

import ast
import json
import os
from collections.abc import Iterator
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from cluster import DATABASE, ROOT
from lanes import Count, Piece, WorkerKind

BIN = ROOT / ".venv" / "bin"
PYTHON = str(BIN / "python")
NPM_BIN = ROOT / "frontend" / "node_modules" / ".bin"
CORE, SERVER, FRONTEND, TOOLS = ROOT / "core", ROOT / "server", ROOT / "frontend", ROOT / "tools"
MANAGE = (PYTHON, "-W", "ignore", "manage.py")
SECONDS = ROOT / ".state" / "test-seconds.json"
"""What every piece took when it last ran here; only the order of the pieces hangs on it."""
PRODUCTION = {
    "DJANGO_SETTINGS_MODULE": "grandlarder.settings.production",
    "LARDER_SECRET_KEY": "a-key-for-checking-the-settings-only-" + "0123456789" * 3,
    "LARDER_HOSTS": "larder.example",
}
EXPECTED_S = {"browser": 30.0, "fuzz": 60.0, "start": 60.0, "server": 8.0, "core": 3.0, "command": 20.0}
"""By part, until a piece has run here."""


def own_database(lane: int) -> dict[str, str]:
    """Each lane's tests have a database of their own, copied from the one that is migrated already."""
    return {"LARDER_TEST_DB": f"test_{DATABASE}_{lane}", "LARDER_TEST_DB_TEMPLATE": DATABASE}


KINDS = {
    "core": WorkerKind((PYTHON, "tools/counted.py", "without-django"), ROOT),
    "plain": WorkerKind((PYTHON, "tools/counted.py"), ROOT),
    "tools": WorkerKind((PYTHON, "counted.py"), TOOLS),
    "django": WorkerKind((PYTHON, "-W", "ignore", "-m", "grandlarder.testing"), SERVER, own_database),
}


@dataclass(frozen=True)
class Tests:
    """A part that consists of test modules below ``folder``, named as seen from ``top``."""

    label: str
    worker: str
    top: Path
    folder: Path
    only: str = "test_*.py"
    but: str = ""
    by_case: bool = False
    """Whether each test case is a piece, where a module would keep a lane for long."""

    def pieces(self) -> Iterator[Piece]:
        """One for each module, or for each case of it."""
        for path in sorted(self.folder.rglob(self.only)):
            if "tests" not in path.parts and self.top != SERVER:
                continue
            module = ".".join(path.relative_to(self.top).with_suffix("").parts)
            if module == self.but:
                continue
            names = [f"{module}.{case}" for case in cases(path)] if self.by_case else [module]
            yield from (self.piece(name) for name in names)

    def piece(self, name: str) -> Piece:
        """The piece that runs the tests of this name."""
        return Piece(
            self.label, name, worker=self.worker, tests=(name,), expected_s=EXPECTED_S.get(self.label, 2)
        )


def cases(path: Path) -> list[str]:
    """The test cases of a module that have tests of their own, read without importing it."""
    return [
        node.name
        for node in ast.parse(path.read_text()).body
        if isinstance(node, ast.ClassDef)
        and any(isinstance(each, ast.FunctionDef) and each.name.startswith("test") for each in node.body)
    ]


@dataclass(frozen=True)
class Check:
    """A part that is one command."""

    label: str
    what: Piece

    def pieces(self) -> Iterator[Piece]:
        """The command."""
        yield self.what


def check(label: str, *command: str, folder: Path = ROOT, expected_s: float = 3, **more: Any) -> Check:
    """A command that passes or fails."""
    return Check(label, Piece(label, label, tuple(command), folder, expected_s=expected_s, **more))


def by_vitest(report: dict[str, Any]) -> Count:
    """What the frontend's runner wrote as JSON."""
    return Count(*(report[f"num{which}Tests"] for which in ("Passed", "Failed", "Pending")))


VITEST = (
    str(NPM_BIN / "vitest"),
    "run",
    "--no-isolate",
    "--no-color",
    "--reporter=default",
    "--reporter=json",
    "--outputFile.json={counts}",
)
PARTS: list[Check | Tests] = [
    check("format", str(BIN / "ruff"), "format", "--check", "."),
    check("lint", str(BIN / "ruff"), "check", "."),
    check("types", str(BIN / "mypy"), expected_s=15),
    check("floors", str(BIN / "lint-imports")),
    check("generated", PYTHON, "-W", "ignore", "tools/generate.py", "--check", expected_s=8),
    check("migrations", *MANAGE, "makemigrations", "--check", "--dry-run", folder=SERVER),
    check(
        "deploy",
        *MANAGE,
        "check",
        "--deploy",
        "--fail-level",
        "WARNING",
        folder=SERVER,
        environment=PRODUCTION,
    ),
    check("frontend-types", str(NPM_BIN / "tsc"), "--noEmit", folder=FRONTEND, expected_s=17),
    check(
        "frontend-lint", str(NPM_BIN / "eslint"), "--max-warnings", "0", "src", folder=FRONTEND, expected_s=27
    ),
    check("frontend-format", str(NPM_BIN / "prettier"), "--check", "src", folder=FRONTEND, expected_s=7),
    check("frontend", *VITEST, folder=FRONTEND, expected_s=11, report=by_vitest),
    Tests("core", "core", CORE, CORE / "larder"),
    Tests("command", "plain", CORE, CORE / "larder_cli"),
    Tests("start", "tools", TOOLS, TOOLS / "tests", by_case=True),
    Tests("server", "django", SERVER, SERVER / "tests"),
    Tests("browser", "django", SERVER, SERVER / "browser", but="browser.test_api_fuzz", by_case=True),
    Tests("fuzz", "django", SERVER, SERVER / "browser", only="test_api_fuzz.py"),
]
LABELS = [part.label for part in PARTS]


def chosen(arguments: list[str]) -> list[Piece]:
    """The pieces of the labelled parts, or of all; ``label:name`` is one test of a part.

    Raises ``ValueError`` with a sentence for an argument that names nothing.
    """
    parts, found = dict(zip(LABELS, PARTS, strict=True)), []
    for argument in arguments or LABELS:
        label, _, name = argument.partition(":")
        part = parts.get(label)
        if part is None or (name and isinstance(part, Check)):
            raise ValueError(f"{argument} is no part of the tests. Parts are: {' '.join(LABELS)}.")
        found += [part.piece(name)] if name and isinstance(part, Tests) else part.pieces()
    took = measured()
    return [replace(each, expected_s=took.get(key(each), each.expected_s)) for each in found]


def key(piece: Piece) -> str:
    """What a piece is remembered under."""
    return f"{piece.part}:{piece.name}"


def measured() -> dict[str, float]:
    """Seconds of the pieces that have run here."""
    try:
        return json.loads(SECONDS.read_text())
    except (OSError, ValueError):
        return {}


def remember(took: dict[str, float]) -> None:
    """Keep what pieces took, for the next run's order."""
    SECONDS.parent.mkdir(exist_ok=True)
    fresh = SECONDS.with_suffix(f".{os.getpid()}")
    fresh.write_text(json.dumps(measured() | took, indent=1, sort_keys=True))
    fresh.replace(SECONDS)
