"""Bays: the written form, who lies where, what is refused, and the findings with what clears them."""

import unittest
from datetime import date
from typing import Any, ClassVar

from hypothesis import given
from hypothesis import strategies as st

from larder.asks.begin import begun
from larder.asks.standards import Standards
from larder.base.errors import Refused, RefusedMany
from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.plan.bays import Bay, bays_text, parse_bays
from larder.plan.bundle import Bundle
from larder.readers.brief_line import brief_of, understand
from larder.readers.plan_file import bundle_from
from larder.tests.plans import cleared, demo, mended, raised

some_bays = st.lists(
    st.builds(
        Bay,
        st.sampled_from(("east", "west")),
        st.sampled_from(("bay", "flash slot")),
        st.integers(1, 60),
    ),
    unique=True,
)


def placed(pool: str = "east:1-9", **fields: Any) -> Bundle:
    """The demo with its pool in the bays of one of two boxes."""
    document = demo("one-box").document()
    east = {"id": "east", "name": "East box", "bays": 12, "flash_slots": 2} | fields
    document["plan"]["boxes"] = [east, {"id": "west", "name": "West box", "bays": 6}]
    document["plan"]["pools"][0]["bays"] = pool
    return bundle_from(document)


class Written(unittest.TestCase):
    @given(some_bays)
    def test_what_is_written_reads_back_in_its_order(self, bays: list[Bay]) -> None:
        self.assertEqual(list(parse_bays(bays_text(bays))), bays)

    def test_runs_are_joined_and_other_grammar_is_refused(self) -> None:
        self.assertEqual(
            bays_text(parse_bays("west:2 east:1,2,3,5,4 east:f1")), "west:2 east:1-3,5,4 east:f1"
        )
        for text in ("east", "east:", "east:0", "east:5-2", "East:1", "east:1 east:1", "east:1-999"):
            self.assertRaises(Refused, parse_bays, text)


class Front(unittest.TestCase):
    def test_members_spares_growth_and_free_bays(self) -> None:
        document = placed("east:1-10").document()
        document["plan"]["pools"][0]["spares"] = 1
        answer = evaluate(bundle_from(document)).bays
        east = [bay.lies for bay in answer.boxes[0].bays]
        self.assertEqual(east, ["member"] * 8 + ["spare", "kept for growth"] + ["free"] * 4)
        self.assertEqual((answer.boxes[0].free_bays, answer.unplaced), (4, {"main": 0}))

    def test_drives_take_the_bays_in_the_order_written(self) -> None:
        document = placed("east:9,1-8").document()
        document["plan"]["pools"][0] |= {"spares": 1, "drive_bytes": 8 * TB, "spare_bytes": 10 * TB}
        east = evaluate(bundle_from(document)).bays.boxes[0].bays
        self.assertEqual((east[7].lies, east[7].drive_bytes, east[7].order), ("spare", 10 * TB, 8))
        self.assertEqual((east[8].lies, east[8].drive_bytes, east[8].order), ("member", 8 * TB, 0))

    @given(st.integers(0, 12), st.integers(4, 20))
    def test_every_drive_is_in_one_bay_or_unplaced(self, bays: int, drives: int) -> None:
        document = placed(f"east:1-{bays}" if bays else "").document()
        document["plan"]["pools"][0]["drive_count"] = drives
        if bays and drives > 18:
            self.assertRaises(RefusedMany, bundle_from, document)
            return
        answer = evaluate(bundle_from(document)).bays
        lying = [bay for box in answer.boxes for bay in box.bays if bay.lies in ("member", "spare")]
        self.assertEqual(len(lying) + answer.unplaced["main"], drives)
        self.assertEqual(sum(bay.drive_bytes for bay in lying), len(lying) * 14 * TB)

    def test_without_boxes_nothing_is_said_to_be_unplaced(self) -> None:
        day = date(2026, 11, 23)
        plan = begun("Bare", brief_of(understand("2 edit seats play 220 Mb/s", day)), day, Standards())
        document = plan.document()
        document["plan"]["pools"] = [demo("halyard-street").document()["plan"]["pools"][0] | {"bays": ""}]
        self.assertEqual(evaluate(bundle_from(document)).bays.unplaced, {})

    def test_bays_that_cannot_be_are_refused_with_what_would_be_right(self) -> None:
        for text, word in (
            ("attic:1-9", "(east, west)"),
            ("east:1-13", "bays 1 to 12"),
            ("west:f1", "flash slots up to 0"),
        ):
            with self.assertRaises(RefusedMany) as caught:
                placed(text)
            self.assertIn(word, str(caught.exception.problems[0]), text)
        document = placed().document()
        second = document["plan"]["pools"][0] | {"id": "second", "bays": "east:9-12"}
        document["plan"]["pools"].append(second)
        with self.assertRaises(RefusedMany) as caught:
            bundle_from(document)
        self.assertIn("a bay that Boathouse pool does not have", str(caught.exception.problems[0]))

    def test_more_drives_than_there_are_bays_for_are_refused(self) -> None:
        document = placed("east:1-9").document()
        document["plan"]["pools"][0]["drive_count"] = 18
        bundle_from(document)
        document["plan"]["pools"][0]["drive_count"] = 19
        with self.assertRaises(RefusedMany) as caught:
            bundle_from(document)
        self.assertIn("at most 18: it has 9 bays and 9 more are free", str(caught.exception.problems[0]))
        # Flash slots and bays on lanes are no room for disks, and what others have is not free.
        document["plan"]["boxes"][1] |= {"bay_bus": "pcie4x4"}
        document["plan"]["pools"][0]["drive_count"] = 13
        self.assertRaises(RefusedMany, bundle_from, document)
        document["plan"]["pools"][0]["bays"] = ""
        bundle_from(document)

    def test_a_remedy_of_more_drives_brings_the_bays_for_them(self) -> None:
        document = placed("east:1-9", bays=9).document()
        document["plan"]["boxes"].pop()
        document["plan"]["brief"]["kept_today_bytes"] += 60 * TB
        bundle = bundle_from(document)
        finding = raised(self, bundle, "pool-past-its-fill-limit")
        self.assertIn("in an expansion unit with 8 bays", finding.remedy.words)
        answer = mended(self, bundle, finding)
        self.assertNotIn("pool-past-its-fill-limit", {f.id for f in answer.findings})
        self.assertEqual(len(answer.bays.boxes), 2)

    def test_parity_is_drawn_where_it_lies(self) -> None:
        def shares(**fields: Any) -> list[float]:
            document = placed().document()
            document["plan"]["pools"][0] |= fields
            bays = evaluate(bundle_from(document)).bays.boxes[0].bays
            return [round(bay.redundancy_share, 6) for bay in bays[:9]]

        self.assertEqual(shares(layout="raid6"), [round(2 / 9, 6)] * 9)
        self.assertEqual(shares(layout="raid6", spares=1), [0.25] * 8 + [0])
        whole = {"layout": "filewise2", "spares": 1, "drive_bytes": 8 * TB, "parity_bytes": 10 * TB}
        self.assertEqual(shares(**whole), [0] * 6 + [1, 1, 0])
        document = placed().document()
        document["plan"]["pools"][0] |= whole
        self.assertEqual(evaluate(bundle_from(document)).bays.boxes[0].bays[8].drive_bytes, 10 * TB)


class BayFindings(unittest.TestCase):
    LIST: ClassVar[dict[str, Any]] = {
        "id": "disks", "slot": "bay", "role": "pool", "kind": "hdd", "largest_bytes": 12 * TB,
    }  # fmt: skip

    def known(self, bundle: Bundle, finding_id: str) -> dict[str, float]:
        """The evidence of a finding whose remedy is to go on knowingly: it stays as a note."""
        finding = raised(self, bundle, finding_id)
        left = [f.severity for f in mended(self, bundle, finding).findings if f.key == finding.key]
        self.assertEqual(left, ["note"])
        return {e.label: e.value for e in finding.evidence}

    def test_vendor_list_excludes_the_drive(self) -> None:
        evidence = self.known(placed(allows=(self.LIST,)), "vendor-list-excludes-the-drive")
        self.assertEqual(evidence, {"Drives outside its list": 9, "The largest of them": 14 * TB})
        larger = self.LIST | {"largest_bytes": 14 * TB}
        self.assertEqual([f.id for f in evaluate(placed(allows=(larger,))).findings if "list" in f.id], [])

    def test_flash_refused_in_that_role_by_the_boxs_list(self) -> None:
        document = placed(allows=(self.LIST | {"largest_bytes": 20 * TB},)).document()
        document["plan"]["caches"] = [
            {
                "id": "flash", "name": "Flash", "pool_id": "main", "drive_count": 2, "drive_bytes": 2 * TB,
                "read_bytes_per_s": 3e9, "write_bytes_per_s": 1e9, "bays": "east:f1-2",
            }
        ]  # fmt: skip
        bundle = bundle_from(document)
        self.known(bundle, "flash-refused-in-that-role-by-the-boxs-list")
        document["plan"]["boxes"][0]["allows"] += [
            {"id": "cache", "slot": "flash slot", "role": "cache", "kind": "ssd", "largest_bytes": 4 * TB}
        ]
        self.assertNotIn("flash-refused", str([f.id for f in evaluate(bundle_from(document)).findings]))

    def test_pool_joined_by_one_cable(self) -> None:
        evidence = cleared(self, placed("east:1-5 west:1-4"), "pool-joined-by-one-cable")
        self.assertEqual(evidence, {"Drives in the lesser box": 4, "It survives": 2})
        safe = [f.id for f in evaluate(placed("east:1-7 west:1-2")).findings]
        self.assertNotIn("pool-joined-by-one-cable", safe)
