"""Whatever stands in a plan file, it is read or refused with sentences; and every field has its words."""

import copy
import json
import unittest
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.asks.movers import numbers_of
from larder.base.errors import RefusedMany
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.plan.glossary import bundle_schema, fields, label_at
from larder.readers.plan_file import bundle_from, read_bundle
from larder.tests.drawn import drawn

DEMO = Path(__file__).resolve().parents[4] / "demo" / "one-box.json"
PLAN = read_bundle(DEMO.read_bytes())
BASE = PLAN.document()

scalars = st.one_of(
    st.none(), st.booleans(), st.integers(-(10**40), 10**40), st.floats(), st.text(max_size=8),
    st.sampled_from(("18TB", "-1", "1e400", "\u0000", "\ud800", "raid6", "cow3", "2026-13-40", "9" * 400)),
)  # fmt: skip
anything = st.recursive(
    scalars,
    lambda inner: st.lists(inner, max_size=3) | st.dictionaries(st.text(max_size=4), inner, max_size=3),
    max_leaves=6,
)


def places(node: Any, path: tuple[Any, ...] = ()) -> list[tuple[Any, ...]]:
    """Every place in a document, by keys and list positions."""
    children = node.items() if isinstance(node, dict) else enumerate(node) if isinstance(node, list) else ()
    return [path, *(p for key, child in children for p in places(child, (*path, key)))]


PLACES = [path for path in places(BASE) if path]


def replaced(path: tuple[Any, ...], value: Any, *, drop: bool) -> dict[str, Any]:
    document = copy.deepcopy(BASE)
    node: Any = document
    for key in path[:-1]:
        node = node[key]
    if drop:
        del node[path[-1]]
    else:
        node[path[-1]] = value
    return document


class AnythingAtAll(unittest.TestCase):
    def judged_or_refused(self, document: Any) -> None:
        try:
            bundle = bundle_from(document)
        except RefusedMany as refused:
            for problem in refused.problems:
                self.assertTrue(problem.sentence.endswith("."), problem.sentence)
                self.assertNotIn("\n", problem.sentence)
            return
        self.assertEqual(bundle_from(bundle.document()), bundle)
        json.dumps(evaluate(bundle).model_dump(mode="json"), allow_nan=False)

    @drawn(300)
    @given(st.sampled_from(PLACES), anything, st.booleans())
    def test_any_value_in_any_place_is_judged_or_refused(
        self, path: tuple[Any, ...], value: Any, drop: bool
    ) -> None:
        self.judged_or_refused(replaced(path, value, drop=drop))

    @given(anything)
    def test_any_document_is_judged_or_refused(self, document: Any) -> None:
        self.judged_or_refused(document)

    @given(st.binary(max_size=60))
    def test_any_bytes_are_read_or_refused(self, raw: bytes) -> None:
        self.assertRaises(RefusedMany, read_bundle, raw)

    @drawn(100)
    @given(
        st.sampled_from(sorted(p for p, _ in numbers_of(PLAN) if p.startswith("plan/"))),
        st.integers(0, 10**7),
    )
    def test_any_number_of_the_plan_may_be_nudged_anywhere(self, path: str, value: int) -> None:
        document = copy.deepcopy(BASE)
        node: Any = document
        *parents, last = path.split("/")
        for key in parents:
            node = next(i for i in node if i["id"] == key) if isinstance(node, list) else node[key]
        node[last] = value
        self.judged_or_refused(document)


class Words(unittest.TestCase):
    def test_every_field_that_can_be_set_has_a_label(self) -> None:
        unlabelled = [
            f"{model}.{name}"
            for model, schema in bundle_schema()["$defs"].items()
            for name, field in schema.get("properties", {}).items()
            if "unit" not in field and field.get("type") not in ("array", None) and name not in ("id", "kind")
        ]
        self.assertEqual(unlabelled, [])

    def test_labels_name_the_item_and_the_field(self) -> None:
        for path, label in {
            "plan/pools/main/drive_count": "Boathouse pool: Drives",
            "plan/brief/seats/stills/images_per_s": "Stills retouch: Pictures per second",
            "plan/brief/budget": "Budget",
            "plan/wiring/links/box-port": "Link box-port",
            "catalogue/formats/colour-uhd/ratio": "Colour, 3840×2160 10-bit 4:2:2 at 4:1: Compression",
        }.items():
            self.assertEqual(label_at(path, BASE), label)

    def test_a_field_that_a_file_made_up_stays_on_its_line(self) -> None:
        self.assertEqual(label_at("plan/brief/\n\tx", BASE), "  x")

    def test_bounds_and_choices_come_from_the_types(self) -> None:
        table = fields()
        self.assertEqual((table["Pool.drive_count"]["min"], table["Pool.drive_count"]["max"]), (1, 500))
        self.assertEqual(table["Link.speed"]["choices"][0], "100Mb")
        self.assertTrue(table["Purchase.unit_price"]["optional"])
        self.assertEqual(Bundle.model_fields["currency"].default, "EUR")
