"""Tests of what ./start brings up: run as it is run, in a clone of its own, on loopback."""
