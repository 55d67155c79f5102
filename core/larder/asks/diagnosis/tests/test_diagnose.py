"""It is slow: planted culprits are found, what the plan gives is cleared, and what to measure next tells apart."""

import math
import unittest
from typing import Any

import numpy as np

from larder.asks.diagnosis.culprits import culprits_of
from larder.asks.diagnosis.diagnose import MEASURED_SPREAD, Diagnosis, diagnose
from larder.asks.diagnosis.house import house_at
from larder.asks.diagnosis.readings import READINGS, House, Reading, Seen
from larder.asks.rehearsal.tests.test_rehearse import plan
from larder.base.errors import Refused
from larder.base.units import MB
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.drawn import few
from larder.tests.plans import demo

LINE = "3 edit seats play 2 streams 400 Mb/s, 1 colour plays 800 Mb/s"
FLASH = {"drive_kind": "ssd", "drive_read_bytes_per_s": 2e9, "drive_write_bytes_per_s": 1e9}
DISKS = {"drive_kind": "hdd", "drive_read_bytes_per_s": 240e6, "drive_write_bytes_per_s": 235e6}
USUAL: tuple[Reading, ...] = ("copy_from", "copy_to", "copy_to_at_first", "wire", "at_another_seat")
SEEDS = few(40)


def with_another_way(bundle: Bundle, speed: str = "1GbE") -> Bundle:
    """A second link from the colour seat straight to the storage."""
    document = bundle.document()
    far = next(w["far"] for w in document["plan"]["wiring"]["links"] if not w["far"].startswith("switch"))
    document["plan"]["wiring"]["links"].append(
        {"id": "office", "near": "seat:colour", "far": far, "speed": speed, "category": "unsaid"}
    )
    return bundle_from(document)


def suspects(bundle: Bundle, **seen: float) -> list[str]:
    return [suspect.id for suspect in diagnose(bundle, "colour", Seen.model_validate(seen)).suspects]


class Planted(unittest.TestCase):
    def found(self, bundle: Bundle, wanted: str, taken: tuple[Reading, ...]) -> float:
        """How often of all seeds the planted culprit is among the first two."""
        place = house_at(judge(bundle, PARTS), "colour")
        planted = next(each for each in culprits_of(place.house, place.context) if each.id == wanted)
        right = planted.house.readings()
        hits = 0
        for seed in range(SEEDS):
            random = np.random.default_rng([seed, len(wanted)])
            seen = {name: right[name] * math.exp(random.normal(0, MEASURED_SPREAD)) for name in taken}
            hits += wanted in [
                suspect.id for suspect in diagnose(bundle, "colour", Seen(**seen)).suspects[:2]
            ]
        return hits / SEEDS

    def test_each_culprit_that_costs_something_is_among_the_first_two_in_four_of_five_cases(self) -> None:
        houses = (with_another_way(plan(LINE, **FLASH)), plan(LINE, **DISKS))
        tried = set()
        for bundle in houses:
            place = house_at(judge(bundle, PARTS), "colour")
            planned = place.house.readings()
            for culprit in culprits_of(place.house, place.context):
                costs = max(abs(math.log(culprit.house.readings()[r] / planned[r])) for r in READINGS)
                if culprit.id == "as-planned" or costs > 0.5:
                    with self.subTest(culprit.id, disks=culprit.id == "shingled"):
                        self.assertGreaterEqual(self.found(bundle, culprit.id, READINGS), 0.8)
                    tried.add(culprit.id)
        self.assertEqual(
            tried,
            {
                "as-planned", "negotiated-own-link", "negotiated-shared-link", "mtu-mismatch", "wrong-address",
                "lanes", "signing", "single-stream", "write-cache-off", "pool-type", "disk-full", "busy-drives",
                "shingled", "decode-bound",
            },
        )  # fmt: skip

    def test_five_readings_do_for_what_they_touch(self) -> None:
        flash, disks = with_another_way(plan(LINE, **FLASH)), plan(LINE, **DISKS)
        for bundle, culprits in (
            (
                flash,
                ("as-planned", "negotiated-own-link", "negotiated-shared-link", "wrong-address", "signing"),
            ),
            (disks, ("write-cache-off", "shingled")),
        ):
            for culprit in culprits:
                self.assertGreaterEqual(self.found(bundle, culprit, USUAL), 0.8, culprit)


class Known(unittest.TestCase):
    def test_a_bad_cable_gives_a_gigabit_at_one_seat_only(self) -> None:
        house = plan(LINE, **FLASH)
        diagnosis = diagnose(
            house,
            "colour",
            Seen(copy_from=104 * MB, wire=116 * MB, at_another_seat=930 * MB, copy_to=106 * MB),
        )
        self.assertEqual(diagnosis.suspects[0].id, "negotiated-own-link")
        self.assertGreater(diagnosis.suspects[0].odds, 0.9)
        self.assertIn("came up at 1GbE", diagnosis.suspects[0].name)
        shared = suspects(house, copy_from=104e6, wire=116e6, at_another_seat=105e6)
        self.assertEqual(shared[0], "negotiated-shared-link")
        # A clean wire and the slower address: bytes go the other way.
        other = suspects(
            with_another_way(house), copy_from=104e6, copy_to=104e6, wire=1.1e9, at_another_seat=930e6
        )
        self.assertEqual(other[0], "wrong-address")

    def test_another_way_that_is_as_fast_is_no_culprit(self) -> None:
        for speed, is_one in (("1GbE", True), ("10GbE", False)):
            place = house_at(judge(with_another_way(plan(LINE, **FLASH), speed), PARTS), "colour")
            found = [each.id for each in culprits_of(place.house, place.context)]
            self.assertEqual("wrong-address" in found, is_one)

    def test_equal_frames_from_local_flash_clear_the_storage(self) -> None:
        house = plan(LINE, **FLASH)
        self.assertEqual(
            suspects(house, frames=14, frames_from_local=14.3, copy_from=930e6)[0], "decode-bound"
        )
        self.assertNotEqual(suspects(house, frames=14, frames_from_local=25)[0], "decode-bound")

    def test_what_starts_fast_and_then_slows_is_writing(self) -> None:
        house = plan(LINE, **DISKS)
        first = suspects(house, copy_to=35e6, copy_to_at_first=900e6, copy_from=600e6)
        self.assertLessEqual(set(first[:2]), {"shingled", "pool-type"})
        slow = suspects(house, copy_to=60e6, copy_to_at_first=60e6, copy_from=900e6)
        self.assertEqual(slow[0], "write-cache-off")

    def test_what_the_plan_gives_is_no_fault_and_says_where_its_limit_is(self) -> None:
        house = plan(LINE, **FLASH)
        right = house_at(judge(house, PARTS), "colour").house.readings()
        diagnosis = diagnose(house, "colour", Seen(copy_from=right["copy_from"], wire=right["wire"]))
        self.assertEqual(diagnosis.suspects[0].id, "as-planned")
        self.assertEqual(diagnosis.limits[0].name, "Main pool")
        narrowest = min(diagnosis.limits, key=lambda each: each.bytes_per_s)
        self.assertAlmostEqual(right["copy_from"], narrowest.bytes_per_s)

    def test_what_to_measure_next_is_not_measured_yet_and_tells_the_first_two_apart(self) -> None:
        house = plan(LINE, **FLASH)
        diagnosis = diagnose(house, "colour", Seen(copy_from=104 * MB))
        assert diagnosis.next_reading is not None
        self.assertNotEqual(diagnosis.next_reading, "copy_from")
        self.assertRegex(
            diagnosis.next_words, r"^Measure .*: about .* speaks for the first, about .* for the second\.$"
        )
        place = house_at(judge(house, PARTS), "colour")
        by_id = {each.id: each.house.readings() for each in culprits_of(place.house, place.context)}
        one, two = (by_id[suspect.id][diagnosis.next_reading] for suspect in diagnosis.suspects[:2])
        self.assertGreater(abs(math.log(one / two)), 0.25)

    def test_odds_are_of_all_and_the_readings_stand_beside_what_explains_them(self) -> None:
        diagnosis: Diagnosis = diagnose(plan(LINE, **FLASH), "colour", Seen(copy_from=300 * MB, wire=1.1e9))
        self.assertLessEqual(sum(suspect.odds for suspect in diagnosis.suspects), 1 + 1e-9)
        self.assertEqual(
            [e.odds for e in diagnosis.suspects], sorted((e.odds for e in diagnosis.suspects), reverse=True)
        )
        rows = {row.reading: row for row in diagnosis.suspects[0].readings}
        self.assertEqual((rows["copy_from"].seen, rows["wire"].seen), (300 * MB, 1.1e9))
        self.assertLess(rows["copy_from"].explained, rows["copy_from"].planned)

    def test_every_demo_seat_has_a_house_or_says_why_not(self) -> None:
        for name in ("one-box", "tern-and-tide", "long-shore", "halyard-street"):
            bundle = demo(name)
            for seat in bundle.plan.brief.seats:
                try:
                    diagnosis = diagnose(bundle, seat.id, Seen(copy_from=90 * MB, copy_to=40 * MB))
                except Refused as refused:
                    self.assertIn("has a way to the storage", str(refused))
                    continue
                self.assertTrue(all(0 <= suspect.odds <= 1 for suspect in diagnosis.suspects))

    def test_bad_input_is_named(self) -> None:
        house: Any = plan(LINE, **FLASH)
        self.assertRaisesRegex(Refused, "at least one reading", diagnose, house, "colour", Seen())
        self.assertRaisesRegex(
            Refused, r"the id of a seat \(edit, colour\)", diagnose, house, "x", Seen(wire=1e9)
        )
        photo = demo("halyard-street")
        seat = photo.plan.brief.seats[0].id
        self.assertRaisesRegex(Refused, "plays no footage", diagnose, photo, seat, Seen(frames=20))


class TheHouse(unittest.TestCase):
    def test_more_of_anything_never_slows_a_reading(self) -> None:
        random = np.random.default_rng(4)
        for _ in range(300):
            rates = {name: float(10 ** random.uniform(7, 10)) for name in
                     ("own_wire", "shared_wire", "others_wire", "connection", "others_connection", "read_one", "read_all", "write", "first_write", "need")}  # fmt: skip
            house = House(**rates, protocol=0.9, fps=25.0, decoded_fps=float(random.uniform(5, 40)))
            before = house.readings()
            field = str(random.choice([name for name in rates if name != "need"]))
            after = House(
                **{**rates, field: rates[field] * 1.5}, protocol=0.9, fps=25.0, decoded_fps=house.decoded_fps
            )
            for name, value in after.readings().items():
                self.assertGreaterEqual(value, before[name] * (1 - 1e-12), (field, name))
