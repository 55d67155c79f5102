"""Tests of ``larder.readers``, with the settings that all of the core's tests share."""

import larder.tests  # noqa: F401
