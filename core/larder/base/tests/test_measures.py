"""The one list of units: complete, the only one there is, and what is said in them."""

import json
import re
import unittest
from dataclasses import asdict
from pathlib import Path
from typing import get_args

from larder.base.fields import labelled
from larder.base.measures import SIGNS, Unit, known_unit, said, unit_of_name
from larder.plan.glossary import bundle_schema, fields
from larder.stock.item import StockItem

ROOT = Path(__file__).resolve().parents[4]


class TheList(unittest.TestCase):
    def test_every_unit_has_a_sign(self) -> None:
        self.assertEqual(set(SIGNS), set(get_args(Unit)))
        for unit, sign in SIGNS.items():
            self.assertGreater(sign.factor, 0, unit)

    def test_every_field_is_in_one_of_them(self) -> None:
        used = {entry["unit"] for entry in fields(StockItem).values()}
        self.assertLessEqual(used, set(SIGNS))
        self.assertGreater(len(used), 20)
        self.assertTrue(bundle_schema())

    def test_the_page_has_the_same_list(self) -> None:
        page = json.loads((ROOT / "frontend/src/generated/units.json").read_text())
        self.assertEqual(page, {unit: asdict(sign) for unit, sign in SIGNS.items()})

    def test_fields_terms_and_evidence_of_the_code_name_no_other(self) -> None:
        for path in (ROOT / "core" / "larder").rglob("*.py"):
            if "/tests/" in str(path):
                continue
            for unit in re.findall(r'unit="([^"]*)"', path.read_text()):
                self.assertIn(unit, SIGNS, path.name)

    def test_an_unknown_one_is_a_slip_of_ours(self) -> None:
        self.assertRaises(KeyError, known_unit, "furlongs")
        self.assertEqual(known_unit("TB"), "TB")
        self.assertTrue(labelled("Size", "TB"))


class Said(unittest.TestCase):
    def test_a_stored_number_as_its_field_shows_it(self) -> None:
        for value, unit, field, words in (
            (18e12, "TB", "drive_bytes", "18 TB"),
            (480e9, "TB", "drive_bytes", "480 GB"),
            (0, "GB", "stills_bytes_per_week", "0 B"),
            (27.5e6, "Mb/s", "mean_bytes_per_s", "220 Mb/s"),
            (250e6, "MB/s", "read_bytes_per_s", "250 MB/s"),
            (250e6, "", "read_bytes_per_s", "250 MB/s"),
            (4.96, "years", "drive_age_years_max", "4.96 years"),
            (3, "", "streams", "3"),
            (120, "money", "budget", "120"),
            (1e18, "h", "hours", "1e+18 h"),
        ):
            self.assertEqual(said(value, unit, field), words)

    def test_what_a_name_counts(self) -> None:
        for name, unit in (
            ("usable_bytes", "bytes"),
            ("read_bytes_per_s_low", "bytes_per_s"),
            ("usable_tib", "tib"),
            ("seconds_total", ""),
        ):
            self.assertEqual(unit_of_name(name), unit)
