"""The papers agree with the code."""

import ast
import re
import unittest
from importlib import import_module
from pathlib import Path

import larder
import larder.findings.rules
from larder.findings.finding import RULES
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


class WhereIsIt(unittest.TestCase):
    """docs/where-is-it.md: what somebody new looks for is where they look first, and nowhere else."""

    ROWS = re.findall(
        r"^\| \d+ \| .*\? \| `laws/(\w+)\.py` \| `(\w+)` \|$",
        (ROOT / "docs" / "where-is-it.md").read_text(),
        re.MULTILINE,
    )

    def test_every_rule_is_in_the_module_of_the_first_guess(self) -> None:
        self.assertEqual(len(self.ROWS), 20)
        for module, function in self.ROWS:
            self.assertTrue(callable(getattr(import_module(f"larder.laws.{module}"), function)), function)

    def test_nobody_else_has_a_function_of_that_name(self) -> None:
        defined: dict[str, list[str]] = {}
        for path in (ROOT / "core" / "larder").rglob("*.py"):
            if "tests" not in path.parts:
                for node in ast.walk(ast.parse(path.read_text())):
                    if isinstance(node, ast.FunctionDef):
                        defined.setdefault(node.name.strip("_"), []).append(path.stem)
        for module, function in self.ROWS:
            self.assertEqual(defined[function], [module])

    def test_house_rules_of_a_law_are_read_by_whoever_calls_it_and_compared_by_the_law_alone(self) -> None:
        """A rule of the house that a law takes is handed over, never reckoned with, outside of ``laws``."""
        handed = {
            "disk_deaths_percent", "old_disk_deaths_percent", "flash_deaths_percent", "drive_hours_max",
            "single_parity_rebuild_hours_max", "single_parity_unreadable_percent_max", "kwh_price",
        }  # fmt: skip
        for path in (ROOT / "core" / "larder" / "asks").rglob("*.py"):
            for node in ast.walk(ast.parse(path.read_text())) if "tests" not in path.parts else ():
                operands = []
                if isinstance(node, ast.BinOp):
                    operands = [node.left, node.right]
                elif isinstance(node, ast.Compare):
                    operands = [node.left, *node.comparators]
                used = {operand.attr for operand in operands if isinstance(operand, ast.Attribute)}
                self.assertFalse(
                    used & handed, f"{path.name}:{getattr(node, 'lineno', 0)} reckons with {used}"
                )


RAISING = ("cleared", "raised", "known")
"""Helpers of the tests that fail where the finding they are asked for is not raised."""


def texts_of(name: str, function: ast.AST) -> set[str]:
    """What a name may be within a test: the texts assigned to it, or those that a loop gives it."""
    found: set[str] = set()
    for node in ast.walk(function):
        if isinstance(node, ast.Assign):
            pairs = [(target, node.value) for target in node.targets]
        elif isinstance(node, ast.For):
            rows = node.iter.elts if isinstance(node.iter, ast.Tuple | ast.List) else []
            targets = node.target.elts if isinstance(node.target, ast.Tuple) else [node.target]
            pairs = [
                (target, value)
                for row in rows
                for target, value in zip(
                    targets, row.elts if isinstance(row, ast.Tuple) else [row], strict=False
                )
            ]
        else:
            continue
        for target, value in pairs:
            if isinstance(target, ast.Name) and target.id == name and isinstance(value, ast.Constant):
                found.add(str(value.value))
    return found


def raised_in(path: Path) -> set[str]:
    """The ids of findings that the tests of a file ask one of those helpers for."""
    found: set[str] = set()
    for function in ast.walk(ast.parse(path.read_text())):
        if not isinstance(function, ast.FunctionDef) or not function.name.startswith("test_"):
            continue
        for call in ast.walk(function):
            if not isinstance(call, ast.Call):
                continue
            name = call.func.attr if isinstance(call.func, ast.Attribute) else getattr(call.func, "id", "")
            if name not in RAISING:
                continue
            for argument in call.args:
                if isinstance(argument, ast.Constant):
                    found.add(str(argument.value))
                elif isinstance(argument, ast.Name):
                    found |= texts_of(argument.id, function)
    return found


class Findings(unittest.TestCase):
    def test_every_finding_is_raised_by_a_test(self) -> None:
        """Raised, not merely mentioned: by a helper that fails where it is not."""
        raised = set().union(
            *(raised_in(path) for path in (ROOT / "core" / "larder").glob("*/tests/test_*.py"))
        )
        self.assertGreater(len(RULES), 40)
        self.assertEqual({rule.id for rule in RULES if rule.id not in raised}, set())

    def test_rules_that_share_an_id_are_told_apart_by_their_keys(self) -> None:
        keys = [rule.key for rule in RULES]
        # Two wear findings and two about lanes lie at different places, whose ids tell them apart.
        shared = {key for key in keys if keys.count(key) > 1}
        self.assertLessEqual(shared, {"flash-wear-before-its-service-life", "lanes-short"})


class Offer(unittest.TestCase):
    def test_every_offered_name_is_there(self) -> None:
        for name in larder.__all__:
            self.assertTrue(hasattr(larder, name), name)


class UnitsAreNamed(unittest.TestCase):
    """Whoever reads a public quantity need not guess what it is in: its name or its docstring says so."""

    QUANTITY = re.compile(r"(float|int|Floats?|Decimal)( \| None)?|(tuple|NDArray)\[(float|int|np\.float).*")
    NAME = re.compile(
        r"(bytes|seconds|hours|years|days|weeks|months|minutes|percent|share|odds|probability|ratio|watts|kwh|"
        r"dba|kg|cores|drives|files|count|number|index|factor|exponent|_s|_per_\w+)$"
    )
    WORDS = re.compile(
        r"[Bb]ytes|[Ss]econds?\b|[Hh]ours?\b|years?\b|days?\b|weeks|months?\b|[Mm]inutes|[Ll]anes|°C|unit|tokens|per cent|percent|%|share|odds|"
        r"probabilit|ratio|factor|watt|W\b|[MGTk]B|bits?\b|number|count|how many|times|kWh|currency|price|index|"
        r"files|dB|kg|frames|drives|cores|exponent|part of"
    )

    def test_every_public_quantity_has_a_unit(self) -> None:
        silent, heard = [], 0
        for path in sorted((ROOT / "core" / "larder").rglob("*.py")):
            tree = ast.parse(path.read_text()) if "tests" not in path.parts else ast.Module([], [])
            owners = [tree, *(node for node in tree.body if isinstance(node, ast.ClassDef))]
            for node in (node for owner in owners for node in owner.body):
                if not isinstance(node, ast.FunctionDef) or node.name.startswith("_") or node.returns is None:
                    continue
                if self.QUANTITY.fullmatch(ast.unparse(node.returns)):
                    heard += 1
                    if not self.NAME.search(node.name) and not self.WORDS.search(
                        ast.get_docstring(node) or ""
                    ):
                        silent.append(f"{path.name}:{node.lineno} {node.name}")
        self.assertEqual(silent, [])
        self.assertGreater(heard, 150)
