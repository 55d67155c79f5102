"""Verified copies by hand."""

import unittest

from larder.base.units import GB
from larder.laws.verified_copy import moved_bytes, seconds_until_safe


class Copies(unittest.TestCase):
    def test_a_card_to_two_targets_moves_five_times_itself(self) -> None:
        self.assertEqual(moved_bytes(512 * GB, 2, verifies=True), 2560 * GB)
        self.assertEqual(moved_bytes(512 * GB, 2, verifies=False), 1536 * GB)

    def test_what_is_held_back_takes_so_much_longer(self) -> None:
        self.assertEqual(seconds_until_safe(512 * GB, 0.2 * GB, 1.0), 2560)
        self.assertEqual(seconds_until_safe(512 * GB, 0.2 * GB, 0.5), 5120)
        self.assertEqual(seconds_until_safe(512 * GB, 0.2 * GB, 7.0), 2560)
        self.assertIsNone(seconds_until_safe(512 * GB, 0.2 * GB, 0.0))
        self.assertEqual(seconds_until_safe(0, 0.2 * GB, 0.0), 0)
