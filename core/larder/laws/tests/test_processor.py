"""What serving a byte costs a processor, by hand, and what seats inside leave of it."""

import unittest

from larder.base.units import GB
from larder.laws.processor import CORES, core_seconds_per_gb, cores_left


class Processor(unittest.TestCase):
    def test_protocol_parity_checksums_and_encryption_add_up(self) -> None:
        full = core_seconds_per_gb(parity=True, checksums=True, encrypted_share=0.5)
        self.assertAlmostEqual(full.a_byte_read * GB, 0.4 + 0.2 + 0.2)
        self.assertAlmostEqual(full.a_byte_written * GB, 0.4 + 0.2 + 0.2 + 0.3)
        bare = core_seconds_per_gb(parity=False, checksums=False, encrypted_share=0)
        self.assertAlmostEqual(bare.a_byte_read * GB, 0.4)
        self.assertEqual(bare.a_byte_read, bare.a_byte_written)

    def test_a_seat_inside_takes_cores_but_never_all_of_them(self) -> None:
        self.assertEqual(cores_left(CORES["middle"], 2), CORES["middle"] - 2)
        self.assertAlmostEqual(cores_left(CORES["small"], 40), CORES["small"] / 10)
