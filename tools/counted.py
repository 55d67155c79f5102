"""unittest, with what it came to written down by its own result: ``counted.py [without-django] ARGUMENTS``.

The file named by ``LARDER_COUNTS`` is given as JSON ``{"passed": …, "failed": …, "skipped": …}``.
"""

from __future__ import annotations

import json
import os
import sys
import unittest
from pathlib import Path


def written(result: unittest.TestResult) -> None:
    """Write the counts of a run down where they are wanted; an unexpected success is a failure."""
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped) + len(result.expectedFailures)
    counts = {"passed": max(result.testsRun - failed - skipped, 0), "failed": failed, "skipped": skipped}
    if place := os.environ.get("LARDER_COUNTS"):
        Path(place).write_text(json.dumps(counts))


def main(arguments: list[str]) -> int:
    """Run the tests that unittest's own arguments name. Returns the exit status."""
    if arguments[:1] == ["without-django"]:
        # The core's tests must pass where Django cannot be imported: an entry of None makes its import fail.
        sys.modules["django"] = None
        arguments = arguments[1:]
    result = unittest.main(module=None, argv=["unittest", *arguments], exit=False).result
    written(result)
    return 0 if result.wasSuccessful() and result.testsRun else 1


if __name__ == "__main__":
    sys.path.insert(0, "")
    sys.exit(main(sys.argv[1:]))
