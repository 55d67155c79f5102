"""Django's test runner, for ``manage.py test`` and as a worker of ``./test`` that keeps its database."""

from __future__ import annotations

import sys
import unittest
from collections.abc import Callable
from typing import Any

from django.conf import settings
from django.test.runner import DiscoverRunner

sys.path.append(str(settings.ROOT / "tools"))  # after everything: it has tests of its own
from counted import TimedResult, serve

PATIENCE_S = 600.0
AT_THE_END: list[Callable[[], None]] = []
"""Ends what is kept for all tests of a process, the last one first, before its database goes."""


class TimedRunner(DiscoverRunner):
    """The usual runner, whose result knows how long each test took."""

    def get_resultclass(self) -> type[unittest.TextTestResult]:
        """The result's class, unless a debugger asks for its own."""
        return super().get_resultclass() or TimedResult

    def setup_test_environment(self, **options: Any) -> None:
        """As usual; a long question takes as long as it takes, for a busy machine is no fault."""
        super().setup_test_environment(**options)
        from plans import questions

        questions.EXPLAIN_SECONDS = questions.BUSY_EXPLAIN_SECONDS = PATIENCE_S

    def teardown_databases(self, old_config: Any, **options: Any) -> None:
        """End what still talks to them, then remove them."""
        while AT_THE_END:
            AT_THE_END.pop()()
        super().teardown_databases(old_config, **options)


def main() -> None:
    """Set a database up once, then run what is asked."""
    import django

    django.setup()
    runner = TimedRunner(verbosity=1, interactive=False)
    runner.setup_test_environment()
    # Copied from a template that is migrated already, see ``lanes``; nothing in it is rolled back to.
    databases = runner.setup_databases(aliases={"default"}, serialized_aliases=set())
    try:
        serve(lambda names: runner.run_suite(runner.build_suite(names)))
    finally:
        runner.teardown_databases(databases)


if __name__ == "__main__":
    from grandlarder.testing import main as work  # the one module that the tests import too

    work()
