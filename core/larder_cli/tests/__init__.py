"""Tests of the larder command."""
