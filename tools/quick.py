"""What ./test quick runs: what the changes since the last commit touch, the nearest first.

A *room* is a folder of the core (``laws``, ``judge`` …), an application of the server, the page or the tools.
A change touches the tests of its own room, then those of the rooms that import it, by how many imports away
they are.
"""

from __future__ import annotations

import ast
import subprocess
from collections.abc import Iterable
from dataclasses import replace
from pathlib import Path

from cluster import ROOT
from lanes import Piece
from parts import CORE, FRONTEND, NPM_BIN, SERVER, chosen

PYTHON_CHECKS = ("format", "lint", "floors", "types")
PAGE_CHECKS = ("frontend-format", "frontend-types")


def changed() -> list[Path]:
    """Files that differ from the last commit or are new; where none does, those of the last commit itself."""
    asked = (
        ("git", "diff", "--name-only", "HEAD"),
        ("git", "ls-files", "--others", "--exclude-standard"),
    )
    found = [name for command in asked for name in _said(*command)]
    if not found:
        print("Nothing has changed since the last commit: what that one changed is tried.")
        found = _said("git", "diff", "--name-only", "HEAD~1", "HEAD")
    return [ROOT / name for name in found]


def _said(*command: str) -> list[str]:
    done = subprocess.run(command, cwd=ROOT, text=True, capture_output=True, check=False)
    return done.stdout.splitlines()


def room_of(module: str) -> str:
    """``larder.laws.pool`` is in ``larder.laws``; an application of the server is a room by itself."""
    parts = module.split(".")
    return ".".join(parts[:2]) if parts[0] == "larder" else parts[0]


def module_of(path: Path) -> str:
    """The module that a Python file of the core or the server is; empty for any other file."""
    for top in (CORE, SERVER):
        if path.suffix == ".py" and path.is_relative_to(top):
            return ".".join(path.relative_to(top).with_suffix("").parts)
    return ""


def imported(path: Path) -> set[str]:
    """The rooms that a file imports, wherever in it."""
    found = set()
    for node in ast.walk(ast.parse(path.read_text())):
        if isinstance(node, ast.Import):
            found |= {room_of(name.name) for name in node.names}
        elif isinstance(node, ast.ImportFrom) and node.module and not node.level:
            found.add(room_of(node.module))
    return found


def importers() -> dict[str, set[str]]:
    """For each room those that import it; tests do not count as their room's."""
    found: dict[str, set[str]] = {}
    for top in (CORE, SERVER):
        for path in top.rglob("*.py"):
            if "tests" not in path.parts and "browser" not in path.parts:
                own = room_of(module_of(path))
                for room in imported(path) - {own}:
                    found.setdefault(room, set()).add(own)
    return found


def distances(rooms: Iterable[str]) -> dict[str, int]:
    """How many imports away each room is that hangs on one of these."""
    above, found = importers(), dict.fromkeys(rooms, 0)
    waiting = list(found)
    while waiting:
        room = waiting.pop(0)
        for each in above.get(room, ()):
            if each not in found:
                found[each] = found[room] + 1
                waiting.append(each)
    return found


def pieces() -> list[Piece]:
    """What is to run, the most telling first: cheap checks, the tests changed, then room by room."""
    files = [path for path in changed() if path.exists()]
    modules = {module for path in files if (module := module_of(path))}
    # A test that changed is tried itself; what others test does not hang on it.
    away = distances({room_of(module) for module in modules if ".test_" not in module})
    page = [path for path in files if path.is_relative_to(FRONTEND / "src")]
    found: list[tuple[float, Piece]] = []
    if any(path.suffix == ".py" for path in files):
        found += [(-1, piece) for piece in chosen(list(PYTHON_CHECKS))]
    if page:
        found += [(-1, piece) for piece in chosen(list(PAGE_CHECKS))]
        found += [(0, _related(piece, page)) for piece in chosen(["frontend"])]
        found.append((0, _linted(chosen(["frontend-lint"])[0], page)))
        stages = {path.parent.name for path in page}
        found += [
            (50, piece)
            for piece in chosen(["browser"])
            if piece.name.split(".")[1].removeprefix("test_") in stages
        ]
    if any(path.parent.name == "tools" for path in files):
        found += [(1, piece) for piece in chosen(["start"])]
    for piece in chosen(["core", "command", "server", "browser"]):
        room, is_changed = room_of(piece.name), any(piece.name.startswith(module) for module in modules)
        if is_changed:
            found.append((0, piece))
        elif piece.part == "core" and room in away:
            found.append((away[room] + 1, piece))
        elif piece.part == "command" and "larder_cli" in away:
            found.append((away["larder_cli"] + 20, piece))
        elif piece.part == "server" and set(away) & {"plans", "stock", "jobs", "accounts", "api", "advice"}:
            found.append((min(away.values()) + 30, piece))
    found.sort(key=lambda each: (each[0], each[1].expected_s))
    return [piece for _, piece in found]


def _related(piece: Piece, page: list[Path]) -> Piece:
    """The page's tests that import one of these files."""
    names = tuple(str(path.relative_to(FRONTEND)) for path in page)
    command = (piece.command[0], "related", "--run", *piece.command[2:], *names)
    return replace(piece, command=command)


def _linted(piece: Piece, page: list[Path]) -> Piece:
    """The linter on these files alone."""
    names = tuple(str(path) for path in page if path.suffix in (".ts", ".tsx"))
    # What is generated may have changed as well: the linter passes it by.
    command = (str(NPM_BIN / "eslint"), "--no-warn-ignored", "--max-warnings", "0", *names)
    return replace(piece, command=command, expected_s=10)
