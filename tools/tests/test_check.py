"""./test itself: what it is made of, what a change touches, and that it ends with all that it started."""

from __future__ import annotations

import os
import pty
import signal
import subprocess
import sys
import unittest
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path
from unittest.mock import patch

import parts
import quick
from cluster import ROOT
from lanes import Count, Done, Lanes, Piece, WorkerKind, descendants
from tests.clones import until
from tests.test_start import _own_terminal

CHECK = [sys.executable, str(ROOT / "tools" / "check.py"), "browser:browser.test_plan.Nudging"]


def told(pid: int) -> str:
    """A process's command line; empty where it has ended."""
    with suppress(OSError):
        if Path(f"/proc/{pid}/exe").exists():
            return Path(f"/proc/{pid}/cmdline").read_bytes().replace(b"\0", b" ").decode()
    return ""


class Ending(unittest.TestCase):
    """Ctrl-C, or a terminal that is closed, ends a run and everything that it has started."""

    def ended(self, end: Callable[[subprocess.Popen[bytes]], None], **options: object) -> None:
        process = subprocess.Popen(CHECK, start_new_session=True, **options)  # type: ignore[call-overload]
        self.addCleanup(process.send_signal, signal.SIGTERM)
        below: list[int] = []

        def is_at_work() -> bool:
            below[:] = descendants(process.pid)
            return any("--type=renderer" in told(pid) for pid in below)

        until("the browser", is_at_work)
        self.assertTrue(any("postgres" in told(pid) for pid in below))
        end(process)
        self.assertEqual(process.wait(60), 130)
        self.assertEqual([told(pid) for pid in below if told(pid)], [])

    def test_by_the_key(self) -> None:
        quiet = {"stdin": subprocess.DEVNULL, "stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL}
        self.ended(lambda process: process.send_signal(signal.SIGINT), **quiet)

    def test_by_its_terminal(self) -> None:
        leader, follower = pty.openpty()

        def closed(_process: object) -> None:
            os.close(follower)
            os.close(leader)

        on_it = {"stdin": follower, "stdout": follower, "stderr": follower}
        self.ended(closed, **on_it, preexec_fn=lambda: _own_terminal(follower))


class Pieces(unittest.TestCase):
    def test_every_test_module_is_in_exactly_one_part(self) -> None:
        pieces = parts.chosen([])
        modules = [
            ".".join(path.relative_to(top).with_suffix("").parts)
            for top, folders in (
                (ROOT / "core", ("larder", "larder_cli")),
                (ROOT / "server", ("tests", "browser")),
            )
            for folder in folders
            for path in (top / folder).rglob("test_*.py")
        ]
        for module in modules:
            owners = {piece.part for piece in pieces if (piece.name + ".").startswith(module + ".")}
            self.assertEqual(len(owners), 1, module)
        named = [parts.key(piece) for piece in pieces]
        self.assertEqual(len(named), len(set(named)))

    def test_what_names_nothing_is_refused_and_a_single_test_is_a_piece(self) -> None:
        for bad in ("frob", "lint:x", "core "):
            self.assertRaisesRegex(ValueError, "is no part of the tests", parts.chosen, [bad])
        (one,) = parts.chosen(["core:larder.laws.tests.test_fill"])
        self.assertEqual((one.worker, one.tests), ("core", ("larder.laws.tests.test_fill",)))


class InLanes(unittest.TestCase):
    def run_all(self, *pieces: Piece, within_s: float = float("inf")) -> tuple[list[Done], Lanes]:
        kinds = {"plain": WorkerKind((sys.executable, "counted.py"), ROOT / "tools")}
        lanes, done = Lanes(kinds, dict(os.environ), 2), []
        lanes.run(pieces, done.append, within_s)
        return done, lanes

    def test_a_command_and_a_test_are_counted_and_what_fails_says_why(self) -> None:
        run = (sys.executable, "-c")
        done, _ = self.run_all(
            Piece("a", "good", (*run, "print('fine')")),
            Piece("a", "bad", (*run, "print('dear me'); raise SystemExit(3)")),
            Piece("b", "tests", worker="plain", tests=("tests.test_start.Reasons",)),
            Piece("b", "none", worker="plain", tests=("tests.test_nowhere",)),
        )
        by_name = {each.piece.name: each for each in done}
        self.assertEqual(by_name["good"].count, Count(passed=1))
        self.assertEqual((by_name["bad"].count, by_name["bad"].said), (Count(failed=1), "dear me\n"))
        self.assertEqual(by_name["tests"].count, Count(passed=1))
        self.assertEqual(
            list(by_name["tests"].seconds),
            ["tests.test_start.Reasons.test_what_clients_were_told_is_no_reason"],
        )
        self.assertEqual(by_name["none"].count, Count(failed=1))
        self.assertIn("test_nowhere", by_name["none"].said)

    def test_a_worker_that_ends_in_the_middle_is_a_failure_and_the_next_piece_has_another(self) -> None:
        done, _ = self.run_all(
            Piece("a", "ends", worker="plain", tests=("os._exit",), expected_s=2),
            Piece("a", "goes on", worker="plain", tests=("tests.test_start.Reasons",)),
            Piece("a", "waits", (sys.executable, "-c", "import time; time.sleep(0)")),
        )
        self.assertEqual(sum((each.count for each in done), Count()), Count(passed=2, failed=1))

    def test_what_there_is_no_time_for_is_left_out_and_named(self) -> None:
        short = Piece("a", "short", (sys.executable, "-c", ""), expected_s=0)
        long = Piece("a", "long", (sys.executable, "-c", ""), expected_s=1e6)
        done, lanes = self.run_all(long, short, within_s=500)
        self.assertEqual(([each.piece for each in done], lanes.left_out), ([short], [long]))


class Quick(unittest.TestCase):
    def touched(self, *names: str) -> list[str]:
        with patch("quick.changed", lambda: [ROOT / name for name in names]):
            return [parts.key(piece) for piece in quick.pieces()]

    def test_the_own_room_comes_first_and_what_imports_it_after_it(self) -> None:
        found = self.touched("core/larder/stages/odds.py")
        rooms = [name.split(".")[1] for name in found if name.startswith("core:")]
        self.assertEqual(rooms[: rooms.count("stages")], ["stages"] * rooms.count("stages"))
        self.assertIn("judge", rooms)
        self.assertNotIn("laws", rooms)
        self.assertTrue(any(name.startswith("server:") for name in found))
        self.assertIn("types:types", found)

    def test_a_changed_test_is_the_first_of_all(self) -> None:
        found = self.touched("core/larder/laws/tests/test_fill.py", "core/larder/laws/fill.py")
        first = next(name for name in found if name.startswith("core:"))
        self.assertEqual(first, "core:larder.laws.tests.test_fill")

    def test_of_a_test_alone_nothing_else_is_tried(self) -> None:
        found = self.touched("core/larder/laws/tests/test_fill.py")
        self.assertEqual([name for name in found if ":larder." in name], ["core:larder.laws.tests.test_fill"])

    def test_a_change_of_the_page_asks_the_pages_tests_and_no_arithmetic(self) -> None:
        found = self.touched("frontend/src/stages/growth/axes.ts")
        self.assertIn("frontend:frontend", found)
        self.assertTrue(any(name.startswith("browser:browser.test_growth.") for name in found))
        self.assertFalse([name for name in found if name.startswith(("core:", "server:"))])
