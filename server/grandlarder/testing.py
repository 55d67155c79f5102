"""Django's test runner, whose counts ``./test`` reads instead of its prose."""

from __future__ import annotations

import sys
import unittest

from django.conf import settings
from django.test.runner import DiscoverRunner

sys.path.append(str(settings.ROOT / "tools"))  # after everything: it has tests of its own
from counted import written


class CountedRunner(DiscoverRunner):
    """The usual runner; its result is also written down."""

    def run_suite(self, suite: unittest.TestSuite, **options: object) -> unittest.TestResult:
        """Run the tests, then write down what they came to."""
        result = super().run_suite(suite, **options)
        written(result)
        return result
