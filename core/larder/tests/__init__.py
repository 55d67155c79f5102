"""Tests of the core, run where Django cannot be imported."""

from hypothesis import settings

# No test asserts a time: a case that takes long on a busy machine is no fault.
settings.register_profile("larder", deadline=None)
settings.load_profile("larder")
