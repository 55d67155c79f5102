"""Many pools in one call give to each what it gets alone; the few operations that arrays spell differently."""

import unittest
from decimal import Decimal
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.units import TB
from larder.laws.device import MECHANICS, disk_mechanics
from larder.laws.drive_set import DriveSet, alike, drive_set
from larder.laws.elementwise import least, most, pick, scaled
from larder.laws.layout import LAYOUTS, Layout, parse_layout
from larder.laws.pool import (
    REAL_COLUMNS,
    WHOLE_COLUMNS,
    Candidates,
    Drive,
    Keeping,
    figures_of_many,
    pool_figures,
)

EVERY = tuple(parse_layout(name) for name in (*LAYOUTS, "raid50:2", "raid50:3", "raid60:2"))
CLASSES = (
    Drive(250e6, 240e6, MECHANICS["hdd"], 1e-15),
    Drive(180e6, 170e6, disk_mechanics(0.6, 0.012, 0.011), 1e-14, (0.85,) * 3),
    Drive(3e9, 1.5e9, MECHANICS["ssd"], 1e-16),
)
PERCENTS = st.sampled_from([Decimal(text) for text in ("0", "1", "12.5", "20", "33.333", "99.9999999")])
keepings = st.builds(
    Keeping,
    filesystem=st.sampled_from(("journal", "cow", "none")),
    filesystem_percent=st.none() | PERCENTS,
    headroom_percent=PERCENTS,
    snapshot_reserve_percent=PERCENTS,
    slot_bytes_per_s=st.sampled_from((float("inf"), 100e6)),
    rebuild_share=st.floats(0.01, 1),
)


@st.composite
def asked(draw: st.DrawFn) -> tuple[int, int, tuple[int, int], tuple[int, int], int, int]:
    """(layout, class, smaller size and count, larger size and count, spares, streams) that can be built."""
    at = draw(st.integers(0, len(EVERY) - 1))
    layout: Layout = EVERY[at]
    count = draw(st.integers(1, 60).filter(layout.takes))
    spares, larger = draw(st.integers(0, 4)), draw(st.integers(0, count))
    small, extra = draw(st.integers(10**9, 10**15)), draw(st.integers(0, 10**13))
    kind, streams = draw(st.integers(0, len(CLASSES) - 1)), draw(st.integers(1, 60))
    return at, kind, (small, count - larger), (small + extra, larger + spares), spares, streams


def column(cases: list[Any], read: Any) -> Any:
    return np.array([read(case) for case in cases], np.int64)


class ManyAndOne(unittest.TestCase):
    @given(st.lists(asked(), min_size=1, max_size=12), keepings)
    def test_the_answer_for_many_is_each_ones_own(self, cases: list[Any], keeping: Keeping) -> None:
        many = figures_of_many(
            Candidates(
                EVERY, CLASSES, column(cases, lambda c: c[0]), column(cases, lambda c: c[1]),
                DriveSet(tuple(column(cases, lambda c, n=n: c[n][0]) for n in (2, 3)),
                         tuple(column(cases, lambda c, n=n: c[n][1]) for n in (2, 3))),
                column(cases, lambda c: c[4]), column(cases, lambda c: c[5]),
            ),
            keeping,
        )  # fmt: skip
        for n, (at, kind, smaller, larger, spares, streams) in enumerate(cases):
            drives = drive_set((smaller[0],) * smaller[1] + (larger[0],) * larger[1])
            one = pool_figures(EVERY[at], drives, CLASSES[kind], keeping, spares=spares, streams=streams)
            for name, whole in WHOLE_COLUMNS.items():
                self.assertEqual(int(many[name][n]), whole(one), f"{EVERY[at].name}: {name}")
            for name, read in REAL_COLUMNS.items():
                value = read(one)
                if value is None:
                    self.assertTrue(np.isnan(many[name][n]), name)
                else:
                    np.testing.assert_allclose(many[name][n], value, rtol=1e-12, err_msg=name)

    def test_one_that_cannot_be_is_refused_by_its_own_count(self) -> None:
        def of(counts: list[int], spares: list[int]) -> Candidates:
            zeros = np.zeros(len(counts), np.int64)
            drives = DriveSet((zeros + TB,), (np.array(counts),))
            return Candidates(
                (parse_layout("raid10"),), CLASSES, zeros, zeros, drives, np.array(spares), zeros + 1
            )

        with self.assertRaises(Refused) as caught:
            figures_of_many(of([4, 7, 8], [0, 0, 0]), Keeping())
        self.assertIn("6 or 8", caught.exception.sentence)
        self.assertRaises(Refused, figures_of_many, of([4, 4], [0, 4]), Keeping())
        fine = Keeping(headroom_percent=Decimal("33.33333333333"))
        self.assertRaises(Refused, figures_of_many, of([4, 4], [0, 0]), fine)
        self.assertEqual(len(figures_of_many(of([], []), Keeping())["raw_bytes"]), 0)


class ByHand(unittest.TestCase):
    def test_disks_at_their_fill_limit_behind_a_slot(self) -> None:
        keeping = Keeping(headroom_percent=Decimal(25), rebuild_share=0.5)
        share = (1 - 0.75 * (1 - 0.5**2)) ** 0.5
        figures = pool_figures(parse_layout("raid6"), alike(10 * TB, 8), CLASSES[0], keeping)
        self.assertAlmostEqual(figures.rate_share, share)
        self.assertAlmostEqual(figures.speed.read.middle, 250e6 * share * 6**0.9)
        self.assertAlmostEqual(figures.speed.write.middle, 240e6 * share * 6**0.9)
        self.assertAlmostEqual(figures.degraded_read.middle, figures.speed.read.middle * 7 / 8)
        # Random writes cost double parity six operations: the low end of what it takes in.
        piece = 2**20 / (2**20 / (240e6 * share) + 0.008 + 0.00833 / 2)
        self.assertAlmostEqual(figures.speed.write.low, piece * 8 / 6)
        self.assertAlmostEqual(figures.rebuild_seconds or 0, 10 * TB / (240e6 * 0.75 * 0.5))
        self.assertEqual(figures.rebuild_read_bytes, 7 * 10 * TB)
        slotted = pool_figures(
            parse_layout("raid6"),
            alike(10 * TB, 8),
            CLASSES[0],
            Keeping(slot_bytes_per_s=50e6, rebuild_share=0.5),
        )
        self.assertAlmostEqual(slotted.speed.read.middle, 50e6 * 6**0.9)
        self.assertAlmostEqual(slotted.rebuild_seconds or 0, 10 * TB / (50e6 * 0.75 * 0.5))

    def test_whole_files_are_written_at_half_a_drive_whatever_else_turns(self) -> None:
        mechanics = MECHANICS["hdd"]
        alone = pool_figures(
            parse_layout("filewise1"), alike(TB, 4), CLASSES[0], Keeping(headroom_percent=Decimal(0))
        )
        rate = 240e6 * alone.rate_share
        self.assertAlmostEqual(alone.speed.write.middle, rate / 2)
        self.assertEqual((alone.speed.write_pull.drives, alone.speed.write_pull.share), (1, 0.5))
        two = pool_figures(
            parse_layout("filewise1"),
            alike(TB, 4),
            CLASSES[0],
            Keeping(headroom_percent=Decimal(0)),
            streams=2,
        )
        moving = 8 * 2**20 / rate
        left = moving / (moving + mechanics.positioning_seconds - mechanics.seek_seconds / 2)
        self.assertAlmostEqual(two.speed.write.middle, rate / 2 * left)
        self.assertAlmostEqual(two.speed.write_pull.share, left / 2)

    def test_redundancy_is_judged_on_the_final_members(self) -> None:
        figures = pool_figures(
            parse_layout("raid5"), alike(TB, 4), CLASSES[0], Keeping(), spares=1, final=alike(TB, 9)
        )
        self.assertEqual((figures.capacity.members, figures.rebuild_read_bytes), (3, 8 * TB))

    def test_kinds_of_candidates_in_any_order(self) -> None:
        zeros = np.zeros(4, np.int64)
        layouts = (parse_layout("raid5"), parse_layout("raid10"), parse_layout("span"))
        answer = figures_of_many(
            Candidates(
                layouts,
                CLASSES,
                np.array([2, 0, 1, 0]),
                zeros,
                DriveSet((zeros + TB,), (zeros + 6,)),
                zeros,
                zeros + 1,
            ),
            Keeping(filesystem="none", headroom_percent=Decimal(0)),
        )
        self.assertEqual(answer["usable_bytes"].tolist(), [6 * TB, 5 * TB, 3 * TB, 5 * TB])
        self.assertEqual(np.isnan(answer["rebuild_seconds"]).tolist(), [True, False, False, False])


class Elements(unittest.TestCase):
    @given(st.integers(0, 2 * 10**18), st.integers(1, 2**31 - 1), st.integers(1, 2**31 - 1))
    def test_scaling_is_exact_in_both(self, amount: int, a: int, b: int) -> None:
        numerator, denominator = min(a, b), max(a, b)
        exact = amount * numerator // denominator
        self.assertEqual(scaled(amount, numerator, denominator), exact)
        self.assertEqual(int(scaled(np.array([amount]), numerator, denominator)[0]), exact)

    def test_entry_by_entry(self) -> None:
        a, b = np.array([1, 5]), np.array([3, 2])
        self.assertEqual((least(a, b).tolist(), most(a, b).tolist()), ([1, 2], [3, 5]))
        self.assertEqual((least(1, 3), most(1, 3), pick(False, "yes", "no")), (1, 3, "no"))
        self.assertEqual(pick(a > b, a, 0).tolist(), [0, 5])


class Sets(unittest.TestCase):
    @given(st.lists(st.integers(1, 9), min_size=1, max_size=12), st.integers(0, 11))
    def test_a_set_is_its_drives_counted(self, drives: list[int], away: int) -> None:
        whole, kept = drive_set(drives), sorted(drives)[: max(len(drives) - away, 0)]
        left = whole.without_largest(away)
        self.assertEqual((whole.count, whole.total_bytes), (len(drives), sum(drives)))
        self.assertEqual((left.count, left.total_bytes), (len(kept), sum(kept)))
        if kept:
            self.assertEqual((left.smallest_bytes, left.largest_bytes), (min(kept), max(kept)))
        for height, reach in whole.steps():
            self.assertGreater(height, 0)
            self.assertLessEqual(reach, len(drives))
        self.assertEqual(alike(TB, 3), drive_set([TB] * 3))
