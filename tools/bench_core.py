"""Rows of the bench that need the core alone: what moves every figure, and many candidate pools at once."""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import replace
from random import Random

import numpy as np
from scipy.linalg import expm

from larder.asks.movers import _both_ways, movers_of, numbers_of, sweep, with_number
from larder.asks.rehearsal.rehearse import gone_by, rehearsed
from larder.asks.workings import values_in
from larder.base.errors import LarderError
from larder.base.memo import forget_all
from larder.base.units import SECONDS_A_DAY
from larder.judge.evaluation import figures_alone
from larder.laws.device import MECHANICS
from larder.laws.drive_set import DriveSet
from larder.laws.fluid_day import shares
from larder.laws.forecast import DRAWS, band
from larder.laws.layout import LAYOUTS, parse_layout
from larder.laws.lifetimes import House, live_through
from larder.laws.loss_odds import HOURS_A_YEAR, Group, loss_odds, rates
from larder.laws.pool import Candidates, Drive, Keeping, figures_of_many
from larder.plan.bundle import Bundle
from larder.plan.pools import Pool
from larder.stages.courses import COURSES, courses_of
from larder.stages.pool import pool_stage
from larder.stages.pool_setting import PoolSetting
from larder.stages.registry import PARTS
from larder.stages.stage import judge

CANDIDATES = 100_000
THROUGH_THE_STAGE = 400
"""As many of them as are judged one by one to compare with."""
SWEEPS = 5
NUMBERS_TRIED = 40
COURSES_APART, FORECAST_WEEKS = 20, 261
SECONDS_APART = 60
"""One second of so many is walked, and the time taken for all of them."""


def seconds(action: Callable[[], object]) -> float:
    """How long ``action`` took."""
    began = time.perf_counter()
    action()
    return time.perf_counter() - began


def rehearsals(bundle: Bundle) -> tuple[list[float], float]:
    """(milliseconds of a rehearsed day of a judged plan, those of the day shared out second by second)."""
    judged = judge(bundle, PARTS)
    times = [seconds(lambda: rehearsed(judged)) * 1000 for _ in range(SWEEPS)]
    stage = gone_by(judged).stage
    flows, capacities = stage.flows, stage.resources.capacities

    def walk() -> None:
        for at in range(0, SECONDS_A_DAY, SECONDS_APART):
            now = [flow for flow in flows if flow.starts_s <= at < flow.stops_s]
            caps, weights = [f.cap_bytes_per_s for f in now], [f.weight for f in now]
            shares(caps, weights, [f.level for f in now], [f.costs for f in now], capacities)

    return times, seconds(walk) * 1000 * SECONDS_APART


def redundancy() -> dict[str, list[float]]:
    """Milliseconds: odds by the chain and by a general exponential, lifetimes in bulk and one by one."""
    group = Group(12, 2, 2e-6, 0.01, 0.02, 3.0)
    house = House(12, 2, 5e5, 100.0, 0.02, 3.0)
    generator = rates(group)
    generator[np.diag_indices_from(generator)] = -generator.sum(axis=1)
    random, slow = np.random.default_rng(1), Random(1)

    def one_by_one() -> None:
        for _ in range(2_000):
            min(slow.expovariate(1 / 5e5) for _ in range(12))

    return {
        "chain": [seconds(lambda: loss_odds.__wrapped__(group, HOURS_A_YEAR)) * 1000 for _ in range(50)],
        "general": [seconds(lambda: expm(generator * HOURS_A_YEAR)) * 1000 for _ in range(50)],
        "bulk": [
            seconds(lambda: live_through(house, HOURS_A_YEAR, 200_000, random)) * 1000 for _ in range(SWEEPS)
        ],
        "one by one": [seconds(one_by_one) * 1000 * 100 for _ in range(SWEEPS)],
    }


def forecasts(bundle: Bundle) -> tuple[list[float], list[float]]:
    """(2,000 courses of every tier with their band, the same drawn week by week), milliseconds."""
    judged, slow = judge(bundle, PARTS), Random(1)
    tiers = len(judged.of(COURSES))

    def drawn() -> None:
        forget_all()
        for course in courses_of(judged):
            band(course.paths)

    def week_by_week() -> None:
        for _ in range(DRAWS // COURSES_APART * tiers):
            level, lies = slow.gauss(1, 0.2), 0.0
            for _ in range(FORECAST_WEEKS):
                lies += 3e11 * (level + 0.5 * slow.gauss(0, 1))

    times = [seconds(drawn) * 1000 for _ in range(SWEEPS)]
    return times, [seconds(week_by_week) * 1000 * COURSES_APART for _ in range(SWEEPS)]


def cold_sweeps(bundle: Bundle) -> list[float]:
    """Sweeps of all figures with nothing remembered, milliseconds."""

    def sweep_cold() -> None:
        forget_all()
        sweep(bundle)

    return [seconds(sweep_cold) * 1000 for _ in range(SWEEPS)]


def all_parts_each_time(bundle: Bundle) -> float:
    """The same with every part judged for every number, milliseconds: some numbers, taken for all of them."""
    numbers = tuple(numbers_of(bundle))
    some = numbers[:: max(len(numbers) // NUMBERS_TRIED, 1)]

    def judged() -> None:
        for path, value in some:
            for other in _both_ways(value):
                try:
                    values_in(figures_alone(with_number(bundle, path, other)))
                except (LarderError, ValueError):
                    continue

    forget_all()
    return seconds(judged) * 1000 * len(numbers) / len(some)


def kept(bundle: Bundle) -> list[float]:
    """The movers of a figure once the sweep is kept, milliseconds."""
    movers_of(bundle)
    return [seconds(lambda: movers_of(bundle)) * 1000 for _ in range(SWEEPS)]


def candidates(count: int) -> Candidates:
    """Pools drawn at random over every layout, three classes of drive, 2 to 60 drives."""
    chance = np.random.default_rng(11)
    layouts = tuple(parse_layout(name) for name in (*LAYOUTS, "raid50:2", "raid60:2"))
    classes = (
        Drive(250e6, 240e6, MECHANICS["hdd"], 1e-15),
        Drive(280e6, 270e6, MECHANICS["hdd"], 1e-15),
        Drive(3e9, 1.5e9, MECHANICS["ssd"], 1e-16),
    )
    layout_at = chance.integers(0, len(layouts), count)
    fewest = np.array([layout.fewest_members for layout in layouts])[layout_at]
    unit = np.array([layout.unit for layout in layouts])[layout_at]
    members = fewest + unit * chance.integers(0, 40, count) // unit * unit
    members += -members % unit
    spares = chance.integers(0, 3, count)
    return Candidates(
        layouts, classes, layout_at, chance.integers(0, len(classes), count),
        DriveSet((chance.integers(1, 30, count) * 10**12,), (members + spares,)),
        spares, chance.integers(1, 40, count),
    )  # fmt: skip


def through_the_stage(many: Candidates, pool: Pool, count: int) -> float:
    """Seconds a pool when each is a pool of a plan, judged by the stage."""
    built = []
    for n in range(count):
        drive = many.classes[many.drive_at[n]]
        fields = pool.model_dump() | {
            "layout": many.layouts[many.layout_at[n]].name,
            "drive_count": int(many.drives.counts[0][n]),
            "drive_bytes": int(many.drives.sizes_bytes[0][n]),
            "spares": int(many.spares[n]),
            "drive_kind": "ssd" if drive.mechanics is MECHANICS["ssd"] else "hdd",
            "bays": "",
            "mixed_sizes": "",
            "spare_bytes": None,
            "parity_bytes": None,
        }
        built.append((Pool.model_validate(fields), int(many.streams[n])))
    forget_all()
    setting = replace(PoolSetting(), unit_price=None)
    return seconds(lambda: [pool_stage(each, streams, setting) for each, streams in built]) / count


def many_pools(pool: Pool) -> tuple[list[float], float]:
    """(milliseconds of 100,000 in one call, those of the same through the stage)."""
    many = candidates(CANDIDATES)
    times = [seconds(lambda: figures_of_many(many, Keeping())) * 1000 for _ in range(SWEEPS)]
    return times, through_the_stage(many, pool, THROUGH_THE_STAGE) * CANDIDATES * 1000
