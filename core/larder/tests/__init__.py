"""Tests of the core, run where Django cannot be imported."""
