"""Format rates against public figures."""

import unittest
from fractions import Fraction

from larder.base.errors import Refused
from larder.laws.media import RDD36_TARGET_MBIT_PER_S, codec_class, format_rate


class KnownAnswers(unittest.TestCase):
    def test_film_scans_in_ten_bit_rgb(self) -> None:
        rate = format_rate(2048, 1556, Fraction(24), "444", 10, packing="rgb32")
        self.assertAlmostEqual(rate.bytes_per_s / 1e6, 306, delta=0.5)
        rate = format_rate(4096, 3112, Fraction(24), "444", 10, packing="rgb32")
        self.assertAlmostEqual(rate.bytes_per_s / 1e9, 1.22, delta=0.005)

    def test_packed_ten_bit_422_takes_sixteen_bytes_for_six_pixels(self) -> None:
        rate = format_rate(1920, 1080, Fraction(25), "422", 10, packing="v16per6")
        self.assertEqual(rate.bytes_per_frame, 1920 * 1080 * 16 / 6)

    def test_samples_per_pixel_and_compression(self) -> None:
        for sampling, samples in {"420": 1.5, "422": 2, "444": 3, "4444": 4, "bayer": 1}.items():
            rate = format_rate(100, 100, Fraction(10), sampling, 8, Fraction(4))
            self.assertEqual(rate.bytes_per_s, 10_000 * samples * 10 / 4, sampling)
        self.assertAlmostEqual(rate.tb_per_hour, rate.bytes_per_s * 3600 / 1e12)

    def test_published_classes_and_standards_names(self) -> None:
        self.assertEqual(RDD36_TARGET_MBIT_PER_S, (45, 102, 147, 220, 330))
        self.assertEqual((codec_class("h264"), codec_class("nobody-knows")), ("H.264", "other"))

    def test_impossible_formats_are_refused(self) -> None:
        for change in (
            {"width": 0}, {"fps": Fraction(0)}, {"sampling": "411"}, {"bits": 0}, {"ratio": Fraction(1, 2)}, {"ratio": Fraction(2001, 2)},
            {"packing": "rgb32"}, {"packing": "tight"},
        ):  # fmt: skip
            values = {"width": 10, "height": 10, "fps": Fraction(25), "sampling": "422", "bits": 10} | change
            with self.assertRaises(Refused, msg=str(change)):
                format_rate(**values)  # type: ignore[arg-type]
