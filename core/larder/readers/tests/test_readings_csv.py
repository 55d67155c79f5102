"""Capacity readings by CSV: taken, replaced, refused line by line, and out again."""

import unittest

from larder.base.errors import Refused, RefusedMany
from larder.base.patch import apply_patch
from larder.base.units import TB
from larder.readers.plan_file import bundle_from
from larder.readers.readings_csv import read_readings_csv, write_readings_csv
from larder.tests.plans import demo


class Readings(unittest.TestCase):
    def setUp(self) -> None:
        self.bundle = demo("one-box")

    def test_rows_are_added_and_come_out_as_they_went_in(self) -> None:
        text = "Date;Pool;Used;Project\n2026-10-05;main;21.5TB;\n2026-11-02;Boathouse pool;22TB;\n2026-11-02;main;3TB;Terns\n"
        rows = read_readings_csv(text.encode(), self.bundle)
        self.assertEqual((rows.added, rows.replaced), (3, 0))
        taken = bundle_from(apply_patch(self.bundle.document(), rows.patch))
        self.assertEqual([r.used_bytes for r in taken.plan.growth.readings], [21.5 * TB, 22 * TB, 3 * TB])
        again = read_readings_csv(write_readings_csv(taken).encode(), taken)
        self.assertEqual((again.added, again.replaced), (0, 3))
        self.assertEqual(bundle_from(apply_patch(taken.document(), again.patch)), taken)

    def test_a_reading_after_the_plans_day_moves_the_day(self) -> None:
        rows = read_readings_csv(b"date,pool,used\n2026-12-24,main,30TB\n", self.bundle)
        taken = bundle_from(apply_patch(self.bundle.document(), rows.patch))
        self.assertEqual(taken.as_of.isoformat(), "2026-12-24")

    def test_every_faulty_row_is_told(self) -> None:
        text = (
            b"date,pool,used\n2026-13-01,main,20TB\n2026-11-01,attic,20TB\n2026-11-01,main,plenty\n"
            b"2026-11-02,main,999TB\n2026-11-03,main\n2026-11-04,main,1TB\n2026-11-04,main,2TB\n"
        )
        with self.assertRaises(RefusedMany) as caught:
            read_readings_csv(text, self.bundle)
        said = [problem.sentence for problem in caught.exception.problems]
        self.assertEqual(len(said), 6)
        for n, words in enumerate(
            ("date", "id or name of a pool", "used", "at most what its drives hold", "3 cells", "once a day")
        ):
            self.assertIn(words, said[n])

    def test_a_header_that_is_none(self) -> None:
        for text in (b"day,pool,used\n", b"date,used\n", b"date,pool,used,used\n"):
            with self.assertRaisesRegex(Refused, "date,pool,used"):
                read_readings_csv(text, self.bundle)

    def test_a_reading_in_the_future_is_refused_by_hand(self) -> None:
        document = self.bundle.document()
        document["plan"]["growth"] = {
            "readings": [{"id": "r", "pool_id": "main", "read_on": "2027-01-01", "used_bytes": TB}]
        }
        with self.assertRaisesRegex(RefusedMany, "the plan's day, or before"):
            bundle_from(document)
