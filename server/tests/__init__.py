"""Tests of the server through its API, on a real PostgreSQL."""
