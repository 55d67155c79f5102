"""Pieces of work side by side: the longest first, each lane with its workers, all of it ended at once.

A *piece* is one command, or test names for a worker that has imported what they need. Lanes take pieces as
they get free. Whatever a piece started (browsers, databases, servers) is a descendant of this process and
ends with it.
"""

from __future__ import annotations

import ctypes
import json
import os
import signal
import subprocess
import tempfile
import threading
import time
from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

BECOME_SUBREAPER = 36
"""prctl: what a dead child leaves behind becomes a child of this process, to be found and ended."""
LONGEST_PIECE_S = 3_600
"""After this a piece counts as failed. It is no judgement of speed: nothing waits for ever."""


@dataclass(frozen=True)
class Count:
    """What a piece, a part or the whole came to."""

    passed: int = 0
    failed: int = 0
    skipped: int = 0

    def __add__(self, other: Count) -> Count:
        return Count(self.passed + other.passed, self.failed + other.failed, self.skipped + other.skipped)

    def __str__(self) -> str:
        return f"{self.passed} passed, {self.failed} failed, {self.skipped} skipped"


@dataclass(frozen=True)
class Piece:
    """What one lane does in one go."""

    part: str
    name: str
    command: tuple[str, ...] = ()
    """A process of its own; empty where a worker runs ``tests``."""
    folder: Path = Path()
    environment: dict[str, str] = field(default_factory=dict)
    report: Callable[[dict[str, Any]], Count] | None = None
    """Reads the counts of the report that a command writes to ``LARDER_COUNTS``; None where it has none."""
    worker: str = ""
    tests: tuple[str, ...] = ()
    expected_s: float = 1.0


@dataclass(frozen=True)
class Done:
    """What a piece came to, what it said, and the seconds of its tests."""

    piece: Piece
    count: Count
    took_s: float
    said: str
    seconds: dict[str, float]


@dataclass(frozen=True)
class WorkerKind:
    """How a worker is started; ``environment_of`` makes what differs from lane to lane."""

    command: tuple[str, ...]
    folder: Path
    environment_of: Callable[[int], dict[str, str]] = lambda _lane: {}


class Worker:
    """A process that runs test names until it is closed."""

    def __init__(self, kind: WorkerKind, lane: int, environment: dict[str, str], log: Path) -> None:
        asks, self._asks = os.pipe()
        self._answers, answers = os.pipe()
        self._log = log.open("ab")
        self.log = log
        self.process = subprocess.Popen(
            kind.command,
            cwd=kind.folder,
            env=environment
            | kind.environment_of(lane)
            | {"LARDER_ASKS": str(asks), "LARDER_ANSWERS": str(answers)},
            stdin=subprocess.DEVNULL,
            stdout=self._log,
            stderr=subprocess.STDOUT,
            pass_fds=(asks, answers),
        )
        os.close(asks)
        os.close(answers)
        self._lines = os.fdopen(self._answers)

    def ask(self, tests: Sequence[str]) -> dict[str, Any] | None:
        """What the tests came to; None where the worker ended instead."""
        with suppress(BrokenPipeError):
            os.write(self._asks, (json.dumps(list(tests)) + "\n").encode())
        line = self._lines.readline()
        return json.loads(line) if line else None

    def close(self) -> None:
        """Let it end by itself: it takes its database and its browser down."""
        os.close(self._asks)
        with suppress(subprocess.TimeoutExpired):
            self.process.wait(60)
        self.process.kill()
        self._lines.close()
        self._log.close()


class Lanes:
    """So many pieces at a time; the first ``with_database`` lanes begin with what has a database."""

    def __init__(
        self, kinds: dict[str, WorkerKind], environment: dict[str, str], count: int, with_database: int = 1
    ) -> None:
        self.kinds, self.environment, self.count = kinds, environment, count
        self.with_database = with_database
        self._waiting: list[Piece] = []
        self._lock = threading.Lock()
        self._ends = float("inf")
        self.left_out: list[Piece] = []

    def run(
        self, pieces: Sequence[Piece], when_done: Callable[[Done], None], within_s: float = float("inf")
    ) -> None:
        """Run them all and tell each; what would not be done ``within_s`` is kept in ``left_out``.

        Returns in the main thread only, so that a signal is noticed at once.
        """
        # The first in the list goes first where time is short, else the longest, which leaves the ends even.
        self._waiting = list(pieces)
        if within_s == float("inf"):
            self._waiting.sort(key=lambda piece: -piece.expected_s)
        self._ends = time.monotonic() + within_s
        lock = threading.Lock()

        def tell(done: Done) -> None:
            with lock:
                when_done(done)

        with tempfile.TemporaryDirectory(prefix="larder-lanes-") as folder:
            threads = [
                threading.Thread(target=self._work, args=(lane, Path(folder), tell), daemon=True)
                for lane in range(self.count)
            ]
            for thread in threads:
                thread.start()
            for thread in threads:
                while thread.is_alive():
                    thread.join(0.2)

    def _take(self, lane: int) -> Piece | None:
        """The next piece for a lane: some begin with what has a database, the others with what has none.

        Browsers wait a good deal for their own page; beside them there is time for arithmetic.
        """
        with self._lock:
            is_other = lane >= self.with_database
            order = sorted(self._waiting, key=lambda piece: (piece.worker == "django") is is_other)
            for piece in order if self._ends == float("inf") else list(self._waiting):
                if time.monotonic() + piece.expected_s > self._ends:
                    self._waiting.remove(piece)
                    self.left_out.append(piece)
                    continue
                self._waiting.remove(piece)
                return piece
        return None

    def _work(self, lane: int, folder: Path, tell: Callable[[Done], None]) -> None:
        workers: dict[str, Worker] = {}
        while piece := self._take(lane):
            began = time.monotonic()
            if piece.worker:
                count, said, seconds = self._by_worker(piece, lane, workers, folder)
            else:
                (count, said), seconds = self._by_command(piece), {}
            tell(Done(piece, count, time.monotonic() - began, said, seconds))
        for worker in workers.values():
            worker.close()

    def _by_worker(
        self, piece: Piece, lane: int, workers: dict[str, Worker], folder: Path
    ) -> tuple[Count, str, dict[str, float]]:
        log = folder / f"{lane}-{piece.worker}.log"
        if piece.worker not in workers:
            kind = self.kinds[piece.worker]
            workers[piece.worker] = Worker(kind, lane, self.environment, log)
        worker = workers[piece.worker]
        before = log.stat().st_size
        late = threading.Timer(LONGEST_PIECE_S, worker.process.kill)
        late.start()
        answer = worker.ask(piece.tests)
        late.cancel()
        said = log.read_bytes()[before:].decode(errors="replace")
        if answer is None:
            workers.pop(piece.worker).close()
            return Count(failed=1), f"{said}\nThe worker ended in the middle of {piece.name}.", {}
        seconds = answer.pop("seconds")
        return Count(**answer), said, seconds

    def _by_command(self, piece: Piece) -> tuple[Count, str]:
        with tempfile.TemporaryDirectory(prefix="larder-counts-") as folder:
            place = Path(folder) / "counts.json"
            process = subprocess.Popen(
                [each.format(counts=place) for each in piece.command],
                cwd=piece.folder,
                env=self.environment | piece.environment,
                text=True,
                stdin=subprocess.DEVNULL,
                stdout=subprocess.PIPE,
                stderr=subprocess.STDOUT,
            )
            try:
                said, _ = process.communicate(timeout=LONGEST_PIECE_S)
            except subprocess.TimeoutExpired:
                process.kill()
                said, _ = process.communicate()
            failed = Count(int(process.returncode == 0), int(process.returncode != 0))
            if piece.report is None or not place.exists():
                return failed, said
            count = piece.report(json.loads(place.read_text()))
            return (Count(count.passed, 1, count.skipped) if failed.failed > count.failed else count), said


def adopt_orphans() -> None:
    """From now on what a dead child leaves behind is this process's own child."""
    ctypes.CDLL(None).prctl(BECOME_SUBREAPER, 1, 0, 0, 0)


def descendants(of: int) -> list[int]:
    """Every process below one that still runs."""
    children: dict[int, list[int]] = {}
    for entry in Path("/proc").iterdir():
        with suppress(OSError, ValueError):
            if entry.name.isdigit():
                state, parent = (entry / "stat").read_text().rpartition(")")[2].split()[:2]
                if state != "Z":
                    children.setdefault(int(parent), []).append(int(entry.name))
    found, waiting = [], [of]
    while waiting:
        below = children.get(waiting.pop(), [])
        found += below
        waiting += below
    return found


def end_all() -> None:
    """End everything below this process, and what that leaves behind, until nothing is left."""
    ends = time.monotonic() + 10
    while (left := descendants(os.getpid())) and time.monotonic() < ends:
        for pid in left:
            with suppress(ProcessLookupError, PermissionError):
                os.kill(pid, signal.SIGKILL)
        with suppress(ChildProcessError):
            while os.waitpid(-1, os.WNOHANG)[0]:
                pass
        time.sleep(0.02)
