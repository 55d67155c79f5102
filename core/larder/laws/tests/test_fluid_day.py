"""A day as a fluid, against closed forms, the dense sharing, and a day walked in small steps."""

import unittest

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from larder.base.units import GB, MB
from larder.laws.burst import write_burst
from larder.laws.fluid_day import Buffer, Flow, FluidDay, ShareChange, fluid_day, shares
from larder.laws.max_min import max_min
from larder.tests.drawn import drawn

DAY = 86_400.0
LINK, DRIVES = 0, 1


def ended(day: FluidDay, n: int) -> float:
    done = day.flows[n].done_s
    assert done is not None
    return done


class Sharing(unittest.TestCase):
    @given(st.integers(0, 10_000))
    def test_it_is_the_dense_sharing(self, seed: int) -> None:
        random = np.random.default_rng(seed)
        kinds, hops = int(random.integers(1, 9)), int(random.integers(1, 6))
        caps, weights = random.uniform(0.1, 9, kinds), random.choice([1.0, 2.0, 8.0], kinds)
        costs = np.where(random.random((hops, kinds)) < 0.5, random.uniform(0.1, 2, (hops, kinds)), 0.0)
        capacities, levels = random.uniform(0.5, 12, hops), random.integers(0, 2, kinds)
        dense = max_min(caps, np.ones(kinds), weights, costs, capacities, levels)
        sparse = [[(h, float(costs[h, k])) for h in range(hops) if costs[h, k]] for k in range(kinds)]
        rates, stopped = shares(list(caps), list(weights), list(levels), sparse, list(capacities))
        np.testing.assert_allclose(rates, dense.rates, rtol=1e-6, atol=1e-9)
        self.assertEqual([at < 0 for at in stopped], [limit < 0 for limit in dense.limits])


class Known(unittest.TestCase):
    def test_jobs_share_and_who_is_left_has_all(self) -> None:
        jobs = [Flow([(LINK, 1.0)], 1e12, size_bytes=size) for size in (100 * GB, 300 * GB)]
        day = fluid_day(jobs, (), [1 * GB], DAY)
        self.assertAlmostEqual(ended(day, 0), 200)
        self.assertAlmostEqual(ended(day, 1), 400)

    def test_a_copy_weighs_as_it_asks_and_who_goes_first_has_all_it_needs(self) -> None:
        player = Flow([(LINK, 1.0)], 60 * MB, stops_s=100, weight=2)
        copy = Flow([(LINK, 1.0)], 1e12, weight=8, stops_s=100)
        beside = fluid_day([player, copy], (), [100 * MB], 100)
        self.assertAlmostEqual(beside.flows[0].moved_bytes, 20 * MB * 100)
        first = fluid_day(
            [player, Flow([(LINK, 1.0)], 1e12, weight=8, stops_s=100, level=1)], (), [100 * MB], 100
        )
        self.assertAlmostEqual(first.flows[0].moved_bytes, 60 * MB * 100)

    def test_half_of_what_is_needed_empties_the_player_and_stands_until_it_is_filled(self) -> None:
        player = Flow([(LINK, 1.0)], 100 * MB, stops_s=400, player_s=2.0)
        changes = [ShareChange(100, {LINK: 0.5}), ShareChange(200, {LINK: 2})]
        answer = fluid_day([player], (), [100 * MB], 400, changes).flows[0]
        # Two seconds at half the rate last four; then it stands until two seconds after all comes again.
        self.assertAlmostEqual(answer.unwatchable_s, 100 - 4 + 2)
        self.assertAlmostEqual(answer.frozen_s, 96 / 2)
        self.assertEqual([tuple(round(at) for at in spell) for spell in answer.spells], [(104, 202)])
        self.assertAlmostEqual(answer.blamed[LINK], 96)
        whole = fluid_day([player], (), [100 * MB], 400).flows[0]
        self.assertEqual((whole.unwatchable_s, whole.frozen_s, whole.spells), (0, 0, ()))
        short = fluid_day(
            [player], (), [100 * MB], 400, [ShareChange(100, {LINK: 0.5}), ShareChange(103, {LINK: 2})]
        )
        self.assertEqual(short.flows[0].unwatchable_s, 0)

    def test_a_burst_into_a_buffer_is_the_closed_form(self) -> None:
        for size, cache in ((1_000 * GB, 400 * GB), (300 * GB, 400 * GB), (5_000 * GB, 0.5 * GB)):
            known = write_burst(size, 1 * GB, 0.2 * GB, cache)
            copy = Flow([(LINK, 1.0)], 1e12, size_bytes=size, through=0)
            day = fluid_day([copy], [Buffer(cache, [(DRIVES, 1.0)])], [1 * GB, 0.2 * GB], DAY)
            self.assertAlmostEqual(ended(day, 0), known.seconds_total, delta=1e-3)
            self.assertAlmostEqual(day.dirty_bytes_max[0], known.peak_dirty_bytes, delta=1e3)
            self.assertEqual(day.moments[-1].dirty_bytes[0] < 1e3, known.seconds_to_drained < DAY)
            self.assertLess(day.conservation_error_bytes, 1e3)

    def test_a_drain_that_may_take_less_than_the_drives_could(self) -> None:
        known = write_burst(300 * GB, 0.15 * GB, 0.1 * GB, 10 * GB)
        copy = Flow([(LINK, 1.0)], 0.15 * GB, size_bytes=300 * GB, through=0)
        slow = Buffer(10 * GB, [(DRIVES, 1.0)], cap_bytes_per_s=0.1 * GB)
        day = fluid_day([copy], [slow], [1 * GB, 0.2 * GB], DAY)
        self.assertAlmostEqual(ended(day, 0), known.seconds_total, delta=1e-3)
        self.assertAlmostEqual(day.dirty_bytes_max[0], 10 * GB, delta=1e3)

    def test_a_full_buffer_is_no_other_sharing_than_none(self) -> None:
        reader = Flow([(DRIVES, 1.0)], 1e12, stops_s=100, weight=2)
        writer = Flow([(LINK, 1.0)], 1e12, stops_s=100, weight=2, through=0)
        tiny = Buffer(1e6, [(DRIVES, 1.0)], weight=8)
        through = fluid_day([reader, writer], [tiny], [10 * GB, 1 * GB], 100)
        straight = fluid_day(
            [reader, Flow([(LINK, 1.0), (DRIVES, 1.0)], 1e12, stops_s=100, weight=2)],
            (),
            [10 * GB, 1 * GB],
            100,
        )
        for one, other in zip(through.flows, straight.flows, strict=True):
            self.assertAlmostEqual(one.moved_bytes / other.moved_bytes, 1, places=3)
        self.assertAlmostEqual(straight.flows[0].moved_bytes, 50 * GB)

    def test_a_run_empties_a_buffer_once_and_what_comes_later_waits_for_the_next(self) -> None:
        early = Flow([(LINK, 1.0)], 1 * GB, size_bytes=50 * GB, through=0)
        late = Flow([(LINK, 1.0)], 1 * GB, starts_s=400, size_bytes=30 * GB, through=0)
        day = fluid_day(
            [early, late], [Buffer(200 * GB, [(DRIVES, 1.0)], runs=(100.0,))], [1 * GB, 1 * GB], 1_000
        )
        held = {round(m.at_s): m.dirty_bytes[0] / GB for m in day.moments}
        self.assertAlmostEqual(held[100], 50)
        self.assertAlmostEqual(held[150], 0)
        self.assertAlmostEqual(held[430], 30)
        self.assertAlmostEqual(day.moments[-1].dirty_bytes[0] / GB, 30)
        again = fluid_day(
            [early, late], [Buffer(200 * GB, [(DRIVES, 1.0)], runs=(100.0, 500.0))], [GB, GB], 1_000
        )
        self.assertAlmostEqual(again.moments[-1].dirty_bytes[0], 0)

    def test_a_change_that_follows_a_flow_comes_when_that_is_done(self) -> None:
        first = Flow([(LINK, 1.0)], 1e12, size_bytes=100 * GB)
        second = Flow([(DRIVES, 1.0)], 1e12, size_bytes=1_000 * GB)
        day = fluid_day([first, second], (), [1 * GB, 1 * GB], DAY, [ShareChange(0, {DRIVES: 0.5}, after=0)])
        self.assertAlmostEqual(ended(day, 1), 100 + 900 / 0.5)
        self.assertEqual([round(change.at_s) for change in day.changes], [100])

    def test_a_failure_slows_from_its_minute_on(self) -> None:
        job = Flow([(DRIVES, 1.0)], 1e12, size_bytes=100 * GB)
        day = fluid_day([job], (), [1e12, 1 * GB], DAY, [ShareChange(50, {DRIVES: 0.25})])
        self.assertAlmostEqual(ended(day, 0), 50 + 50 / 0.25)


def scene(seed: int) -> tuple[list[Flow], list[Buffer], list[float]]:
    """Players, jobs and a buffer over three resources."""
    random = np.random.default_rng(seed)
    capacities = [float(c) for c in random.uniform(0.3e9, 1.2e9, 3)]

    def crossed() -> list[tuple[int, float]]:
        return [(h, float(random.uniform(0.5, 2))) for h in range(3) if random.random() < 0.6] or [(0, 1.0)]

    flows = []
    for _ in range(int(random.integers(1, 5))):
        start = float(random.uniform(0, 1_500))
        flows.append(
            Flow(
                crossed(), float(random.uniform(0.05e9, 0.5e9)), start, start + 1_200, player_s=2.0, weight=2
            )
        )
    for _ in range(int(random.integers(1, 4))):
        size, start = float(random.uniform(20e9, 400e9)), float(random.uniform(0, 1_500))
        through = int(random.integers(-1, 1))
        costs = [(0, 1.0)] if through == 0 else crossed()
        flows.append(
            Flow(costs, float(random.uniform(0.1e9, 2e9)), start, size_bytes=size, weight=8, through=through)
        )
    return flows, [Buffer(float(random.uniform(5e9, 200e9)), [(2, 1.0)], weight=8)], capacities


def walked(
    flows: list[Flow], buffers: list[Buffer], capacities: list[float], ends: float, step: float
) -> list[float]:
    """Bytes moved, in small steps, into a buffer that takes what fits: no states, no events."""
    moved, dirty = [0.0] * len(flows), [b.dirty_bytes for b in buffers]
    now = 0.0
    while now < ends:
        active = [n for n, f in enumerate(flows) if f.starts_s <= now < f.stops_s and moved[n] < f.size_bytes]
        intake = [[(3 + flows[n].through, 1.0)] if flows[n].through >= 0 else [] for n in active]
        costs = [[*flows[n].costs, *own] for n, own in zip(active, intake, strict=True)]
        caps = [min(flows[n].cap_bytes_per_s, (flows[n].size_bytes - moved[n]) / step) for n in active]
        caps += [d / step for d in dirty]
        writers = [sum(flows[n].weight for n in active if flows[n].through == b) for b in range(len(buffers))]
        weights = [flows[n].weight for n in active]
        weights += [own or b.weight for own, b in zip(writers, buffers, strict=True)]
        costs += [list(b.costs) for b in buffers]
        room = [1e15] * len(buffers)
        for _ in range(3):
            rates, _ = shares(caps, weights, [0] * len(weights), costs, [*capacities, *room])
            drains = rates[len(active) :]
            room = [
                (b.capacity_bytes - d) / step + out for b, d, out in zip(buffers, dirty, drains, strict=True)
            ]
        for at, n in enumerate(active):
            moved[n] += rates[at] * step
            if flows[n].through >= 0:
                dirty[flows[n].through] += rates[at] * step
        dirty = [max(d - out * step, 0.0) for d, out in zip(dirty, drains, strict=True)]
        now += step
    return moved


class AnyDay(unittest.TestCase):
    @drawn(60)
    @given(st.integers(0, 100_000))
    def test_bytes_are_kept_and_the_clock_moves(self, seed: int) -> None:
        flows, buffers, capacities = scene(seed)
        day = fluid_day(flows, buffers, capacities, 6_000)
        # To one byte in a GB: what came into the buffers, and what the rates of all moments come to.
        moved = sum(answer.moved_bytes for answer in day.flows)
        self.assertLess(day.conservation_error_bytes, max(moved / GB, 1))
        ends = [*(moment.at_s for moment in day.moments[1:]), 6_000]
        for n, answer in enumerate(day.flows):
            came = sum((to - m.at_s) * m.rates[n] for m, to in zip(day.moments, ends, strict=True))
            self.assertAlmostEqual(came, answer.moved_bytes, delta=max(answer.moved_bytes / GB, 1))
        self.assertLess(len(day.moments), 20 * (len(flows) + 2))
        for moment in day.moments:
            for used, capacity in zip(moment.used, capacities, strict=True):
                self.assertLessEqual(used, capacity * (1 + 1e-6))
            self.assertLessEqual(moment.dirty_bytes[0], buffers[0].capacity_bytes * (1 + 1e-9))
        for answer, flow in zip(day.flows, flows, strict=True):
            self.assertLessEqual(answer.frozen_s, answer.unwatchable_s + 1e-6)
            self.assertLessEqual(answer.moved_bytes, flow.size_bytes)
            self.assertAlmostEqual(sum(answer.blamed.values()), answer.unwatchable_s, delta=1e-6)

    @drawn(12)
    @given(st.integers(0, 100_000))
    def test_it_is_the_day_walked_in_small_steps(self, seed: int) -> None:
        flows, buffers, capacities = scene(seed)
        day = fluid_day(flows, buffers, capacities, 4_000)
        moved = walked(flows, buffers, capacities, 4_000, 2.0)
        for answer, seen, flow in zip(day.flows, moved, flows, strict=True):
            self.assertAlmostEqual(
                answer.moved_bytes,
                seen,
                delta=0.02 * max(seen, answer.moved_bytes) + 8 * flow.cap_bytes_per_s,
            )
