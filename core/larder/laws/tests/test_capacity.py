"""The waterfall against closed forms, brute force and the laws that every layout obeys."""

import itertools
import unittest
from collections.abc import Callable
from decimal import Decimal

from hypothesis import assume, given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.units import GIB, TB
from larder.laws.capacity import (
    Capacity,
    copy_on_write_bytes,
    data_bytes,
    matched_bytes,
    pool_capacity,
)
from larder.laws.drive_set import alike, drive_set
from larder.laws.layout import LAYOUTS, parse_layout
from larder.tests.drawn import drawn

DATA_A_STRIPE: dict[str, Callable[[int], int]] = {
    "stripe": lambda n: n,
    "mirror": lambda _: 1,
    "raid10": lambda n: n // 2,
    "mirror3": lambda n: n // 3,
    "raid5": lambda n: n - 1,
    "raid6": lambda n: n - 2,
    "triple": lambda n: n - 3,
    "raid50:2": lambda n: n - 2,
    "raid50:3": lambda n: n - 3,
    "raid60:2": lambda n: n - 4,
}
"""Units of data when every one of n members gives one unit."""
NAMES = [*LAYOUTS, "raid50:2", "raid50:3", "raid60:2"]
layouts = st.sampled_from(NAMES).map(parse_layout)
sizes = st.integers(10**9, 30 * 10**12)


def bare(name: str, drives: tuple[int, ...], spares: int = 0) -> Capacity:
    return pool_capacity(
        parse_layout(name), drive_set(drives), spares=spares, filesystem="none", headroom_percent=Decimal(0)
    )


class ClosedForms(unittest.TestCase):
    def test_every_layout_of_twelve_equal_drives(self) -> None:
        data_drives = {
            "span": 12, "stripe": 12, "mirror": 1, "mirror3": 4, "raid10": 6, "raid5": 11,
            "raid6": 10, "triple": 9, "raid50:2": 10, "raid60:2": 8, "layered1": 11, "layered2": 10,
            "filewise1": 11, "filewise2": 10,
        }  # fmt: skip
        for name, count in data_drives.items():
            self.assertEqual(bare(name, (TB,) * 12).layout_bytes, count * TB, name)

    def test_failures_survived_for_certain_and_at_the_luckiest(self) -> None:
        expected = {
            "span": (0, 0), "stripe": (0, 0), "mirror": (11, 11), "mirror3": (2, 8), "raid10": (1, 6),
            "raid5": (1, 1), "raid6": (2, 2), "triple": (3, 3), "raid50:2": (1, 2), "raid60:2": (2, 4),
            "cow1": (1, 1), "cow2": (2, 2), "cow3": (3, 3), "layered1": (1, 1), "layered2": (2, 2),
            "filewise1": (1, 1), "filewise2": (2, 2),
        }  # fmt: skip
        for name, failures in expected.items():
            capacity = bare(name, (TB,) * 12)
            self.assertEqual((capacity.guaranteed_failures, capacity.max_failures), failures, name)

    def test_copy_on_write_padding_by_hand(self) -> None:
        # 256 sectors on 6 members with 2 parity: 256 + 2·64 = 384, already a multiple of 3.
        self.assertEqual(copy_on_write_bytes(6 * TB, 6, 2, 2**20, 2**12), 4 * TB)
        # On 5 members: 256 + 2·86 = 428, rounded up to 429.
        self.assertEqual(copy_on_write_bytes(5 * TB, 5, 2, 2**20, 2**12), 5 * TB * 256 // 429)

    def test_the_pool_reserve_is_a_thirty_second_up_to_128_gib(self) -> None:
        def reserve(drive: int) -> int:
            steps = {s.step: s.bytes for s in bare("cow1", (drive,) * 3).waterfall}
            return -steps["pool_reserve"]

        self.assertEqual(reserve(10 * TB), 128 * GIB)
        padded = copy_on_write_bytes(3 * 10**11, 3, 1, 2**20, 2**12)
        self.assertEqual(reserve(10**11), padded // 32)

    def test_percentages_are_taken_in_turn(self) -> None:
        capacity = pool_capacity(
            parse_layout("raid6"), alike(18 * TB, 7), spares=1, snapshot_reserve_percent=Decimal(10)
        )
        self.assertEqual(capacity.usable_bytes, 72 * TB * 99 // 100 * 9 // 10)
        self.assertEqual(capacity.plannable_bytes, capacity.usable_bytes * 8 // 10)

    def test_nothing_is_reserved_for_snapshots_unless_it_is_said(self) -> None:
        capacity = pool_capacity(parse_layout("raid6"), alike(10 * TB, 6))
        self.assertEqual(
            (capacity.usable_bytes, capacity.plannable_bytes), (39_600_000_000_000, 31_680_000_000_000)
        )

    def test_binary_terabytes_are_those_of_a_screen(self) -> None:
        capacity = pool_capacity(parse_layout("raid6"), alike(18 * TB, 6))
        for tib, size in (
            (capacity.layout_tib, capacity.layout_bytes),
            (capacity.usable_tib, capacity.usable_bytes),
            (capacity.plannable_tib, capacity.plannable_bytes),
        ):
            self.assertAlmostEqual(tib, size / 2**40)

    def test_spares_are_the_largest_drives(self) -> None:
        self.assertEqual(bare("span", (8 * TB, 20 * TB, 4 * TB), spares=1).layout_bytes, 12 * TB)

    def test_a_step_that_only_parity_shares_takes_no_part(self) -> None:
        # Two of 10 and one of 4: the lowest step is shared by three, the one above it by two.
        sizes = drive_set((10, 10, 4))
        self.assertEqual(matched_bytes(parse_layout("layered1"), sizes), 3 * 4 + 2 * 6)
        self.assertEqual(matched_bytes(parse_layout("layered2"), sizes), 3 * 4)


class BruteForce(unittest.TestCase):
    @given(st.lists(st.integers(1, 30), min_size=3, max_size=9), st.sampled_from((1, 2)))
    def test_layered_sets_equal_a_count_unit_by_unit(self, units: list[int], parity: int) -> None:
        size = 10**9
        data = sum(
            reach - parity for level in range(max(units)) if (reach := sum(u > level for u in units)) > parity
        )
        capacity = bare(f"layered{parity}", tuple(u * size for u in units))
        self.assertEqual(capacity.layout_bytes, data * size)

    @given(st.lists(sizes, min_size=1, max_size=9))
    def test_layers_stack_up_to_every_drive(self, drives: list[int]) -> None:
        self.assertEqual(sum(h * m for h, m in drive_set(drives).steps()), sum(drives))


class StripeByStripe(unittest.TestCase):
    """Pools filled one stripe, file or record at a time, by a model that knows no formula."""

    @drawn(400)
    @given(st.sampled_from(sorted(DATA_A_STRIPE)), st.lists(st.integers(1, 12), min_size=2, max_size=12))
    def test_layouts_of_equal_members_filled_stripe_by_stripe(self, name: str, sizes: list[int]) -> None:
        layout = parse_layout(name)
        if not layout.takes(len(sizes)):
            return
        left, data = list(sizes), 0
        while all(left):
            left = [units - 1 for units in left]
            data += DATA_A_STRIPE[name](len(sizes))
        self.assertEqual(data_bytes(layout, drive_set(sizes)), data)
        self.assertEqual(matched_bytes(layout, drive_set(sizes)), sum(sizes) - sum(left))

    @drawn(400)
    @given(st.integers(1, 64), st.integers(1, 3), st.integers(1, 9), st.integers(1, 50))
    def test_copy_on_write_records_placed_sector_by_sector(
        self, data: int, parity: int, more: int, records: int
    ) -> None:
        members, sector = parity + more, 4096
        taken, left = 0, data
        while left:
            row = min(left, members - parity)
            taken, left = taken + row + parity, left - row
        while taken % (parity + 1):
            taken += 1
        pool = records * taken * sector
        whole = copy_on_write_bytes(pool, members, parity, data * sector, sector)
        self.assertEqual(whole, records * data * sector)
        # A pool too small for one record more holds less than that record more.
        short = copy_on_write_bytes(pool + (taken - 1) * sector, members, parity, data * sector, sector)
        self.assertLess(short, (records + 1) * data * sector)

    @drawn(400)
    @given(st.sampled_from((1, 2)), st.lists(st.integers(1, 30), min_size=3, max_size=9))
    def test_whole_file_parity_takes_the_choice_that_holds_most(self, parity: int, sizes: list[int]) -> None:
        choices = []
        for chosen in itertools.combinations(range(len(sizes)), parity):
            data = [size for n, size in enumerate(sizes) if n not in chosen]
            if min(sizes[n] for n in chosen) >= max(data):
                choices.append(sum(data))
        self.assertEqual(data_bytes(parse_layout(f"filewise{parity}"), drive_set(sizes)), max(choices))


class Laws(unittest.TestCase):
    @given(layouts, st.lists(sizes, min_size=1, max_size=24), st.integers(0, 3), st.integers(0, 60))
    def test_the_waterfall_sums_exactly_and_never_exceeds_raw(self, layout, drives, spares, headroom):  # type: ignore[no-untyped-def]
        assume(spares < len(drives) and layout.takes(len(drives) - spares))
        capacity = pool_capacity(layout, drive_set(drives), spares=spares, headroom_percent=Decimal(headroom))
        self.assertEqual(sum(s.bytes for s in capacity.waterfall), capacity.plannable_bytes)
        self.assertEqual(capacity.waterfall[0].bytes, sum(drives))
        self.assertTrue(all(s.bytes <= 0 for s in capacity.waterfall[1:]))
        self.assertTrue(
            0
            <= capacity.plannable_bytes
            <= capacity.usable_bytes
            <= capacity.layout_bytes
            <= capacity.raw_bytes
        )
        self.assertLessEqual(capacity.guaranteed_failures, capacity.max_failures)

    @given(layouts, sizes, st.integers(1, 20))
    def test_more_equal_drives_never_lower_it(self, layout, size, count):  # type: ignore[no-untyped-def]
        bigger = next(n for n in range(count + 1, 60) if layout.takes(n))
        assume(layout.takes(count))
        small, large = (pool_capacity(layout, alike(size, n)) for n in (count, bigger))
        self.assertLessEqual(small.plannable_bytes, large.plannable_bytes)

    @given(st.sampled_from(("span", "layered1", "layered2")), st.lists(sizes, min_size=3, max_size=12), sizes)
    def test_any_drive_added_to_a_mixed_set_never_lowers_it(self, name, drives, more):  # type: ignore[no-untyped-def]
        before, after = bare(name, tuple(drives)), bare(name, (*drives, more))
        self.assertLessEqual(before.layout_bytes, after.layout_bytes)


class Refusals(unittest.TestCase):
    def test_sets_that_a_layout_cannot_take(self) -> None:
        for name, count, word in (
            ("raid5", 2, "3 drives or more"),
            ("raid6", 3, "4 drives or more"),
            ("cow3", 4, "5 drives or more"),
            ("raid10", 5, "4 or 6"),
            ("mirror3", 4, "3 or 6"),
            ("raid50:3", 10, "9 or 12"),
            ("filewise2", 2, "3 drives or more"),
        ):
            with self.assertRaises(Refused) as caught:
                bare(name, (TB,) * count)
            self.assertIn(word, caught.exception.sentence)

    def test_spares_percentages_and_records(self) -> None:
        four = alike(TB, 4)
        for options in (
            {"spares": 4},
            {"spares": -1},
            {"headroom_percent": Decimal(100)},
            {"headroom_percent": Decimal("nan")},
            {"record_bytes": 5000},
            {"sector_bytes": 0},
            {"filesystem": "other"},
        ):
            with self.assertRaises(Refused, msg=str(options)):
                pool_capacity(parse_layout("raid5"), four, **options)  # type: ignore[arg-type]

    def test_unknown_layouts_name_the_known_ones(self) -> None:
        for name in ("raid7", "raid50", "raid50:1", "raid50:x", ""):
            with self.assertRaises(Refused) as caught:
                parse_layout(name)
            self.assertIn("raid60:G", caught.exception.sentence)
