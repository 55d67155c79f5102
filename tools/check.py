"""Every check there is; ./test calls it once the machine has what it needs.

``./test`` runs all of it, ``./test LABEL …`` or ``LABEL:NAME`` a part or one test of it, ``./test quick``
what the changes since the last commit touch, within a minute. ``--times`` adds what took how long, ``--list``
names the parts. The last line is ``N passed, N failed, N skipped``. Ctrl-C, or a terminal that is closed,
ends it and all it started.
"""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import tempfile
import time
from contextlib import suppress
from pathlib import Path
from typing import Any

import quick
from cluster import ROOT, Cluster
from lanes import Count, Done, Lanes, Piece, adopt_orphans, end_all
from parts import KINDS, LABELS, MANAGE, SERVER, chosen, key, remember

SLOWEST = 40
QUICK_S = 55.0
"""When ``quick`` begins nothing more that would take it beyond a minute."""


class Stopped(BaseException):
    """Somebody pressed Ctrl-C, ended this process, or closed its terminal."""


def stop(_signal: int, _frame: Any) -> None:
    """Leave whatever is under way; what was started is ended on the way out."""
    for each in ENDING:
        signal.signal(each, signal.SIG_IGN)
    raise Stopped


ENDING = (signal.SIGINT, signal.SIGTERM, signal.SIGHUP)


class Account:
    """What was done so far: told by the part as soon as all of it is done."""

    def __init__(self, pieces: list[Piece]) -> None:
        self.open = {label: sum(piece.part == label for piece in pieces) for label in LABELS}
        self.done: list[Done] = []

    def add(self, done: Done) -> None:
        """Take a piece in; say what failed at once, and its part when that was the last of it."""
        self.done.append(done)
        if done.count.failed:
            print(f"{done.said}\n{key(done.piece)} FAILED: {done.count}\n", flush=True)
        part = done.piece.part
        self.open[part] -= 1
        if not self.open[part]:
            self.tell(part)

    def tell(self, part: str) -> None:
        """What a part came to."""
        of_it = [done for done in self.done if done.piece.part == part]
        count = sum((done.count for done in of_it), Count())
        print(f"{part}: {count} ({sum(done.took_s for done in of_it):.0f} s of work)", flush=True)

    def times(self) -> None:
        """The slowest tests, and what every piece took beside its tests."""
        tests = sorted(
            ((took, test) for done in self.done for test, took in done.seconds.items()), reverse=True
        )
        print("\nThe slowest tests, in seconds:")
        for took, test in tests[:SLOWEST]:
            print(f"{took:8.1f}  {test}")
        print("\nThe slowest pieces, in seconds:")
        for done in sorted(self.done, key=lambda done: -done.took_s)[:SLOWEST]:
            print(f"{done.took_s:8.1f}  {key(done.piece)}")

    @property
    def count(self) -> Count:
        """Everything together."""
        return sum((done.count for done in self.done), Count())


def run(pieces: list[Piece], within_s: float = float("inf")) -> tuple[Account, list[Piece]]:
    """Run pieces, with a database where one is needed; also what there was no time for."""
    account = Account(pieces)
    environment = os.environ | {
        "DJANGO_SETTINGS_MODULE": "grandlarder.settings.test",
        "PYTHONPATH": f"{ROOT / 'core'}{os.pathsep}{SERVER}",
        "NO_COLOR": "1",
        # The lanes share the cores out already.
        "OPENBLAS_NUM_THREADS": "1",
    }
    adopt_orphans()
    began = time.monotonic()
    with tempfile.TemporaryDirectory(prefix="larder-test-", ignore_cleanup_errors=True) as folder:
        Path(folder).chmod(0o755)
        cluster = Cluster(Path(folder) / "cluster", durable=False)
        try:
            if any(piece.worker == "django" for piece in pieces):
                cluster.start()
                environment |= cluster.environment()
                subprocess.run([*MANAGE, "migrate", "-v0"], cwd=SERVER, env=environment, check=True)
            # Browsers and servers wait for one another a good deal: more lanes than there are cores.
            cores = os.cpu_count() or 1
            lanes = Lanes(KINDS, environment, 2 * cores, cores)
            lanes.run(pieces, account.add, within_s - (time.monotonic() - began))
        finally:
            for each in ENDING:
                signal.signal(each, signal.SIG_IGN)
            cluster.stop()
            end_all()
    remember({key(done.piece): round(done.took_s, 1) for done in account.done})
    return account, lanes.left_out


def main(arguments: list[str]) -> int:
    """Run what is asked for. Returns the exit status."""
    names = [argument for argument in arguments if argument != "--times"]
    if names == ["--list"]:
        print("\n".join(LABELS))
        return 0
    for each in ENDING:
        signal.signal(each, stop)
    began, within_s = time.monotonic(), float("inf")
    try:
        if names == ["quick"]:
            pieces, within_s = quick.pieces(), QUICK_S
        else:
            pieces = chosen(names)
    except ValueError as fault:
        print(f"./test: {fault}", file=sys.stderr)
        return 2
    try:
        account, left_out = run(pieces, within_s)
    except Stopped:
        with suppress(OSError):  # a terminal that has gone hears nothing any more
            print("\n./test: stopped; everything that it had started has ended.", flush=True)
        os._exit(130)
    if "--times" in arguments:
        account.times()
    if left_out:
        print(f"\nNo time for {len(left_out)} of {len(pieces)}: {' '.join(key(each) for each in left_out)}")
    print(f"{time.monotonic() - began:.0f} s in all")
    print(account.count)
    return 1 if account.count.failed else 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
