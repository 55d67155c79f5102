"""The papers agree with the code."""

import re
import unittest
from importlib import import_module
from pathlib import Path

import larder
from larder.plan.house_rules import RULE_REASONS, HouseRules

ROOT = Path(__file__).resolve().parents[3]


class HouseRulesTable(unittest.TestCase):
    def test_the_table_lists_every_rule_with_its_default_and_reason(self) -> None:
        text = (ROOT / "docs" / "house-rules.md").read_text()
        rows = re.findall(r"^\| `([a-z_]+)` \| ([\d.]+) \|.*\| (.*) \|$", text, re.MULTILINE)
        expected = [
            (name, float(field.default), RULE_REASONS[name])
            for name, field in HouseRules.model_fields.items()
        ]
        self.assertEqual([(name, float(default), why) for name, default, why in rows], expected)

    def test_stated_assumptions_are_those_of_the_code(self) -> None:
        text = (ROOT / "docs" / "house-rules.md").read_text()
        rows = re.findall(r"^\| `([A-Z_]+)` \| ([\d.]+) \|[^|]*\| `([\w/]+)\.py` \|", text, re.MULTILINE)
        self.assertGreater(len(rows), 20)
        for name, value, module in rows:
            constant = getattr(import_module("larder." + module.replace("/", ".")), name)
            self.assertEqual(float(value), float(constant), name)

    def test_every_module_named_in_the_docs_exists(self) -> None:
        for name in re.findall(r"`([\w/]+\.py)`", (ROOT / "docs" / "house-rules.md").read_text()):
            self.assertTrue((ROOT / "core" / "larder" / name).exists(), name)


class Findings(unittest.TestCase):
    def test_every_finding_is_raised_in_a_test(self) -> None:
        core = ROOT / "core" / "larder"
        rules = "".join(path.read_text() for path in (core / "findings").glob("*.py"))
        tests = "".join(path.read_text() for path in core.glob("*/tests/test_*.py"))
        found = set(re.findall(r'"([a-z]+(?:-[a-z]+){2,})"', rules)) | set(
            re.findall(r'id="([a-z-]+)"', rules)
        )
        self.assertGreater(len(found), 35)
        self.assertEqual({name for name in found if f'"{name}"' not in tests}, set())


class Offer(unittest.TestCase):
    def test_every_offered_name_is_there(self) -> None:
        for name in larder.__all__:
            self.assertTrue(hasattr(larder, name), name)
