"""Patches: applied, told apart, and merged, as laws over random edits of the demo plan."""

import copy
import json
import unittest
from pathlib import Path
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.patch import Operation, apply_patch, diff, merge
from larder.readers.plan_file import read_bundle
from larder.tests.drawn import drawn

DEMO = Path(__file__).resolve().parents[4] / "demo" / "one-box.json"
BASE = read_bundle(DEMO.read_bytes()).document()
PATHS = (
    "plan/pools/main/drive_count", "plan/pools/main/layout", "plan/brief/budget", "plan/name",
    "plan/brief/seats/edit/streams", "plan/brief/seats/colour/count", "plan/wiring/mtu",
)  # fmt: skip

setting = st.builds(
    lambda path, value: Operation(op="set", path=path, value=value), st.sampled_from(PATHS), st.integers(0, 9)
)
removing = st.sampled_from(("colour", "stills", "ingest")).map(
    lambda seat: Operation(op="remove", path=f"plan/brief/seats/{seat}")
)
adding = st.sampled_from(("new-1", "new-2")).map(
    lambda seat: Operation(op="add", path="plan/brief/seats", value={"id": seat, "name": seat})
)


def edits() -> st.SearchStrategy[tuple[Operation, ...]]:
    return st.lists(st.one_of(setting, adding, removing), max_size=5, unique_by=lambda o: o.target).map(tuple)


def applied(patch: tuple[Operation, ...]) -> dict[str, Any] | None:
    try:
        return apply_patch(BASE, patch)
    except Refused:
        return None


class Laws(unittest.TestCase):
    @given(edits())
    def test_a_diff_leads_there_and_back_and_changes_nothing_in_place(self, patch) -> None:  # type: ignore[no-untyped-def]
        before = copy.deepcopy(BASE)
        after = applied(patch)
        if after is None:
            return
        self.assertEqual(BASE, before)
        self.assertEqual(apply_patch(BASE, diff(BASE, after)), after)
        self.assertEqual(diff(apply_patch(after, diff(after, BASE)), BASE), ())

    @drawn(200)
    @given(edits(), edits())
    def test_two_peoples_changes_all_arrive_or_clash(self, mine, theirs) -> None:  # type: ignore[no-untyped-def]
        ours, others = applied(mine), applied(theirs)
        if ours is None or others is None:
            return
        merged, clashes = merge(BASE, mine, others)
        if clashes:
            self.assertEqual(merged, others)
            touched = {o.target for o in diff(BASE, ours)}
            for clash in clashes:
                path = tuple(clash.path.split("/"))
                self.assertTrue(any(path[: len(t)] == t or t[: len(path)] == path for t in touched))
            return
        for operation in diff(BASE, ours):
            self.assertIn((operation.op, operation.target), {(o.op, o.target) for o in diff(BASE, merged)})
        for operation in diff(BASE, others):
            self.assertIn((operation.op, operation.target), {(o.op, o.target) for o in diff(BASE, merged)})

    def test_the_same_field_set_to_two_values_shows_both(self) -> None:
        def setting_to(value: int) -> tuple[Operation, ...]:
            return (Operation(op="set", path="plan/pools/main/drive_count", value=value),)

        head = apply_patch(BASE, setting_to(10))
        _, clashes = merge(BASE, setting_to(12), head)
        self.assertEqual([(c.base, c.mine, c.theirs) for c in clashes], [(9, 12, 10)])
        self.assertEqual(merge(BASE, setting_to(10), head), (head, ()))

    def test_removing_what_somebody_else_changed_is_a_clash(self) -> None:
        head = apply_patch(BASE, (Operation(op="set", path="plan/brief/seats/edit/streams", value=4),))
        _, clashes = merge(BASE, (Operation(op="remove", path="plan/brief/seats/edit"),), head)
        self.assertEqual([c.path for c in clashes], ["plan/brief/seats/edit/streams"])


SMALL: dict[str, Any] = {
    "plan": {
        "name": "One box",
        "pools": [
            {"id": "hot", "drive_count": 4, "price": None},
            {"id": "cold", "drive_count": 8, "price": None},
        ],
        "boxes": [],
        "seats": [{"id": "edit", "activities": [{"id": "render", "odds": 0.1}]}],
    }
}


def at(node: Any, path: str) -> Any:
    for key in path.split("/"):
        node = next(i for i in node if i["id"] == key) if isinstance(node, list) else node[key]
    return node


class CasesSharedWithThePage(unittest.TestCase):
    """The page applies patches as well, before the server has: the same cases run over its code."""

    def test_each(self) -> None:
        for case in json.loads(Path(__file__).with_name("patch_cases.json").read_text()):
            with self.subTest(case["name"]):
                patch = tuple(Operation(**operation) for operation in case["patch"])
                if case.get("leads_nowhere"):
                    self.assertRaises(Refused, apply_patch, SMALL, patch)
                    continue
                after = apply_patch(SMALL, patch)
                for path, value in case.get("changes", {}).items():
                    self.assertEqual(at(after, path), value)
                for path, ids in case.get("ids", {}).items():
                    self.assertEqual([item["id"] for item in at(after, path)], ids)
