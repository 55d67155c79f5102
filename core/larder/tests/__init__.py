"""Tests of the core, run where Django cannot be imported."""

from larder.tests import drawn  # noqa: F401  (its settings are those of every drawn test)
