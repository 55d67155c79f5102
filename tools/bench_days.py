"""Eleven days rehearsed and as chunks in a general discrete-event library: how far apart, how much faster.

``./bench --days`` prints a row a day and fails where the two are further apart than the fluid limit allows:
completions 1 % of their duration, frozen seconds 5 % or 100 s, a cache's curve 0.5 % of what it holds. Then
days of 12, 50 and 200 seats, and 2,000 drawn days.
"""

from __future__ import annotations

import statistics
import sys
import time
from collections.abc import Iterator

import numpy as np

from cluster import ROOT

sys.path.insert(0, str(ROOT / "core"))

from larder.asks.rehearsal.failures import Failure
from larder.asks.rehearsal.many_days import rehearse_days
from larder.asks.rehearsal.rehearse import gone_by, rehearsed
from larder.asks.rehearsal.tests.test_rehearse import plan
from larder.asks.rehearsal.tests.test_timetable import DISKS, with_day
from larder.base.units import GB, SECONDS_A_DAY
from larder.laws.tests.agreement import Scene, apart
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.plans import demo

HOUR = 3600.0
CACHE = {
    "mode": "write-back",
    "drive_count": 2,
    "drive_bytes": 200 * GB,
    "read_bytes_per_s": 2e9,
    "write_bytes_per_s": 1e9,
}
SMALL = {"drive_count": 9, "spares": 1, "drive_bytes": 300 * GB}
CARDS = (
    "3 edit seats play 2 streams 220 Mb/s at peak 20%, "
    "1 ingest with 2 readers 240 MB/s, 40 h a week of 200 Mb/s"
)
MANY = 2_000
REPEATS = 7


def days() -> Iterator[tuple[str, Bundle, list[Failure], int | None]]:
    """(what, plan, what breaks, the seed of a drawn day)."""
    one_box, tern = demo("one-box"), demo("tern-and-tide")
    yield "one box, the ordinary day", one_box, [], None
    for seed in (1, 2, 3):
        yield f"one box, drawn by {seed}", one_box, [], seed
    yield "one box, a disk dies", one_box, [Failure("disk", "main", 11 * HOUR)], None
    yield "two boxes, the ordinary day", tern, [], None
    yield "two boxes, drawn by 4", tern, [], 4
    yield "cards into a write cache", plan(CARDS, CACHE, **DISKS), [], None
    yield "the same, a disk dies", plan(CARDS, CACHE, **DISKS), [Failure("disk", "main", 10 * HOUR)], None
    rebuilt = plan("6 edit seats play 2 streams 220 Mb/s at peak 20%", None, **DISKS, **SMALL)
    yield "a disk dies and is rebuilt", rebuilt, [Failure("disk", "main", 10 * HOUR)], None
    render = {
        "kind": "render",
        "seat_id": "edit",
        "bytes": "600GB",
        "written_bytes": "200GB",
        "from_minute": "10:00",
    }
    yield "a render beside everybody", with_day(rebuilt, render), [], None


def seats(many: int) -> Bundle:
    """A house of so many seats of four kinds, on 24 flash drives."""
    quarter = many // 4
    line = (
        f"{quarter} edit seats play 2 streams 220 Mb/s at peak 50%, "
        f"{quarter} assist plays 100 Mb/s at peak 50%, "
        f"{quarter} colour 400 Mb/s at peak 40%, {many - 3 * quarter} photo 60MB raw at peak 40%"
    )
    bundle = plan(line if many <= 100 else line.replace(f"{quarter}", "25"), drive_count=24)
    if many <= 100:
        return bundle
    brief = bundle.plan.brief
    more = tuple(seat.model_copy(update={"count": quarter}) for seat in brief.seats)
    wiring = bundle.plan.wiring
    switches = tuple(switch.model_copy(update={"ports": ""}) for switch in wiring.switches)
    changed = {
        "brief": brief.model_copy(update={"seats": more}),
        "wiring": wiring.model_copy(update={"switches": switches}),
    }
    return bundle.model_copy(update={"plan": bundle.plan.model_copy(update=changed)})


def median_ms(bundle: Bundle, seed: int | None) -> float:
    """Milliseconds of a day of a plan that is judged already."""
    judged = judge(bundle, PARTS)
    times = []
    for n in range(REPEATS):
        random = None if seed is None else np.random.default_rng([seed, n])
        began = time.perf_counter()
        rehearsed(judged, (), random)
        times.append((time.perf_counter() - began) * 1000)
    return statistics.median(times)


def main() -> int:
    """Print every row; 1 where the models disagree."""
    disagree = 0
    print(f"{'day':30} {'fluid':>9} {'chunks':>9} {'ratio':>9}  completions  frozen  cache")
    for what, bundle, failures, seed in days():
        judged = judge(bundle, PARTS)
        began = time.perf_counter()
        gone = gone_by(judged, failures, None if seed is None else np.random.default_rng(seed))
        fluid = time.perf_counter() - began
        stage, day = gone
        scene = Scene(stage.flows, stage.buffers, stage.resources.capacities, SECONDS_A_DAY)
        began = time.perf_counter()
        chunks = scene.as_chunks(day.changes)
        walked = time.perf_counter() - began
        off = apart(scene, day, chunks)
        is_far = off.completions > 0.01 or off.frozen > 1 or off.caches > 0.005
        disagree += is_far
        print(
            f"{what:30} {fluid * 1e3:6.1f} ms {walked:7.1f} s {walked / fluid:8.0f}×  {off.completions:10.3%}"
            f"  {off.frozen:5.0%}   {off.caches:.3%}{'  FURTHER APART THAN ALLOWED' if is_far else ''}",
            flush=True,
        )
    print("\nfrozen is of what is allowed: 5 % or 100 s, whichever is more\n")
    for many in (12, 50, 200):
        house = seats(many)
        ordinary, drawn = median_ms(house, None), median_ms(house, 1)
        print(
            f"{many:4} seats: the ordinary day {ordinary:7.1f} ms, a drawn one {drawn:7.1f} ms, interpreted"
        )
    began = time.perf_counter()
    rehearse_days(demo("tern-and-tide"), MANY, 1)
    print(
        f"{MANY:,} drawn days of the demo plan: {time.perf_counter() - began:.1f} s (goal ≤ 30 s interpreted)"
    )
    return 1 if disagree else 0


if __name__ == "__main__":
    sys.exit(main())
