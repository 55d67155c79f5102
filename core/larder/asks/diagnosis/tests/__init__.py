"""Tests of ``larder.asks.diagnosis``."""

import larder.tests  # noqa: F401
