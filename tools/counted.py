"""A worker for tests: takes names over a pipe, one line at a time, and answers what each line came to.

``counted.py [without-django]`` is started by :mod:`lanes`, imports what the tests share once, and then runs
whatever it is asked until the pipe is closed. ``LARDER_ASKS`` and ``LARDER_ANSWERS`` are the numbers of the
two pipes: in comes a JSON list of test names a line, out goes ``{"passed": …, "failed": …, "skipped": …,
"seconds": {test: …}}``.
"""

from __future__ import annotations

import json
import os
import sys
import time
import unittest
from collections.abc import Callable
from typing import Any


class TimedResult(unittest.TextTestResult):
    """The usual result, with each test's seconds; what a class sets up counts with its first test."""

    def __init__(self, *arguments: Any, **options: Any) -> None:
        super().__init__(*arguments, **options)
        self.seconds: dict[str, float] = {}
        self._since = time.monotonic()

    def stopTest(self, test: unittest.TestCase) -> None:  # noqa: N802  (unittest's own name)
        """Keep what the test took since the one before it ended."""
        now = time.monotonic()
        self.seconds[test.id()] = now - self._since
        self._since = now
        super().stopTest(test)


def told(result: unittest.TestResult) -> dict[str, Any]:
    """What a run came to; an unexpected success is a failure, and a run without a test is one too."""
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped) + len(result.expectedFailures)
    return {
        "passed": max(result.testsRun - failed - skipped, 0),
        "failed": failed if result.testsRun else max(failed, 1),
        "skipped": skipped,
        "seconds": getattr(result, "seconds", {}),
    }


def serve(run: Callable[[list[str]], unittest.TestResult]) -> None:
    """Answer every line of names with what ``run`` makes of it, until nobody asks any more."""
    with (
        os.fdopen(int(os.environ["LARDER_ASKS"])) as asks,
        os.fdopen(int(os.environ["LARDER_ANSWERS"]), "w", buffering=1) as answers,
    ):
        for line in asks:
            answer = told(run(json.loads(line)))
            sys.stdout.flush()
            sys.stderr.flush()
            answers.write(json.dumps(answer) + "\n")


def run_names(names: list[str]) -> unittest.TestResult:
    """Run the modules, cases or tests of these names."""
    suite = unittest.defaultTestLoader.loadTestsFromNames(names)
    return unittest.TextTestRunner(resultclass=TimedResult).run(suite)


if __name__ == "__main__":
    sys.path.insert(0, "")
    if "without-django" in sys.argv[1:]:
        # The core's tests must pass where Django cannot be imported: an entry of None makes its import fail.
        sys.modules["django"] = None  # type: ignore[assignment]
    serve(run_names)
