"""What ./bench reports: ratios taken in one run, the median of several, and what the other side is.

``./bench`` prints each row as soon as it is measured, ``./bench NAME …`` some of them, ``./bench --list``
their names. Nothing here asserts a time; these machines are shared and noisy.
"""

from __future__ import annotations

import csv
import io
import json
import sys
import time
from collections.abc import Callable, Iterator
from dataclasses import asdict

import numpy as np

from bench_page import page_rows
from bench_rows import Row, inventory_of, milliseconds, row
from bench_worst import worst
from cluster import ROOT

sys.path.insert(0, str(ROOT / "core"))

from bench_advisor import FRONT_OF, LOOKED_AT, cheapest, crossed, first_advice
from bench_core import (
    CANDIDATES,
    all_parts_each_time,
    cold_sweeps,
    forecasts,
    kept,
    many_pools,
    redundancy,
    rehearsals,
)
from bench_wires import milliseconds_of_wires
from larder.asks.compare import compare_layouts
from larder.base.memo import forget_all
from larder.base.patch import Operation, apply_patch
from larder.judge.evaluation import evaluate
from larder.laws.demand import Rush, SeatClass, joint_load
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from, read_bundle
from larder.readers.stock_csv import read_stock_csv

DEMO = ROOT / "demo" / "tern-and-tide.json"
LARGE = ROOT / "demo" / "long-shore.json"
APART = "an object for each, sorted and scanned (of a few, times their number)"


def plan_of(path: object) -> Bundle:
    """A demo plan."""
    return read_bundle((DEMO if path == DEMO else LARGE).read_bytes())


def cold(bundle: Bundle) -> list[float]:
    """Milliseconds of judging a plan with nothing remembered."""
    return milliseconds(lambda: (forget_all(), evaluate(bundle)))


def loads() -> Iterator[Row]:
    """The sum of many seats."""
    seats = tuple(SeatClass(f"class {n}", 10, (10 + 7 * n) * 1e6, 0.3) for n in range(20))
    yield row(
        "load of 200 seats of 20 classes",
        milliseconds(lambda: (forget_all(), joint_load(seats, Rush(0.02, 0.9)))),
        "twenty transforms of the same grid",
        milliseconds(lambda: [np.fft.rfft(np.ones(1 << 14)) for _ in range(20)]),
        "≤ 30 ms",
    )


def rehearsal() -> Iterator[Row]:
    """A day."""
    day, walked = rehearsals(plan_of(DEMO))
    against = "the same day shared out second by second"
    yield row("rehearsal, one day of the demo plan", day, against, [walked], "≤ 10 ms")


def forecast() -> Iterator[Row]:
    """When every tier of a large plan is full."""
    ours, by_week = forecasts(plan_of(LARGE))
    against = "the same courses drawn week by week"
    yield row("when Long Shore is full, 2,000 courses of each tier", ours, against, by_week, "≤ 200 ms")


def odds() -> Iterator[Row]:
    """The chain, and lifetimes drawn."""
    found = redundancy()
    yield row("odds of a loss, one group", found["chain"], "a general matrix exponential", found["general"])
    what, against = "200,000 groups of 12 lived through for a year", "drawing their first deaths one by one"
    yield row(what, found["bulk"], against, found["one by one"], "≥ 10 M lifetimes/s")


def front() -> Iterator[Row]:
    """The exact front of many designs."""
    ours, one_by_one = crossed(FRONT_OF, 5)
    yield row("exact front of 8.4 M designs", ours, APART, [one_by_one], "≤ 1 s")
    many, each_apart = crossed(LOOKED_AT, 3)
    yield row("100 M designs looked at, with their front", many, APART, [each_apart], "≥ 30 M/s")


def least() -> Iterator[Row]:
    """The cheapest design, with a solver beside it."""
    ours, by_solver = cheapest()
    against = "a mixed-integer solver, same optimum"
    yield row("cheapest that does, 100 briefs", ours, against, by_solver, "≤ 10 ms")


def advice() -> Iterator[Row]:
    """The first advice that somebody waits for."""
    first, whole = first_advice(plan_of(DEMO))
    yield row("first advice, demo plan, cold", first, "with why the others lose", [whole], "≤ 2 s")


def nudge() -> Iterator[Row]:
    """A nudge in the core, memoised, against the same without any memo."""
    sizes = iter(range(16 * 10**12, 17 * 10**12, 10**9))
    base, large = plan_of(DEMO).document(), plan_of(LARGE)

    def nudged(document: object, pool: str) -> Bundle:
        path = f"plan/pools/{pool}/drive_bytes"
        return bundle_from(apply_patch(document, (Operation(op="set", path=path, value=next(sizes)),)))

    warm = milliseconds(lambda: evaluate(nudged(base, "main")))
    cold_nudge = milliseconds(lambda: (forget_all(), evaluate(nudged(base, "main"))))
    yield row("evaluate after a nudge, core", warm, "itself without the memo", cold_nudge)
    large_cold = cold(large)
    yield row("large plan judged, cold", large_cold, "the demo plan, cold", cold(plan_of(DEMO)), "≤ 40 ms")
    ready: list[Bundle] = []
    document = large.document()
    reading = milliseconds(lambda: ready.append(nudged(document, "archive-cold")))
    judging = milliseconds(lambda: evaluate(ready.pop()), len(ready))
    yield row("large plan, a pool nudged", judging, "itself cold", large_cold, "≤ 5 ms")
    yield row("large plan, patch read", reading, "judging it cold", large_cold)
    layouts = milliseconds(lambda: compare_layouts(large, "archive-cold"))
    yield row("17 layouts compared, large plan", layouts, "judging it cold", large_cold, "≤ 20 ms")


def wires() -> Iterator[Row]:
    """Sixty classes of seats: a state, and what would help."""
    found, against = milliseconds_of_wires(), "judging that plan, warm"
    what = "60 classes of seats, 8 switches: a state shared out"
    yield row(what, found["share"], against, found["evaluate"], "≤ 10 ms")
    yield row("the cheapest change for one of them", found["change"], against, found["evaluate"], "≤ 300 ms")


def movers() -> Iterator[Row]:
    """What would change every figure most."""
    against = "every part judged for every number"
    demo, large = plan_of(DEMO), plan_of(LARGE)
    yield row(
        "what moves every figure, demo plan",
        cold_sweeps(demo),
        against,
        [all_parts_each_time(demo)],
        "≤ 400 ms",
    )
    sweeps = cold_sweeps(large)
    yield row("what moves every figure, large plan", sweeps, against, [all_parts_each_time(large)], "≤ 1.5 s")
    yield row("the same once it is kept, large plan", kept(large), "the sweep", sweeps)


def pools() -> Iterator[Row]:
    """Many pools at once."""
    many, one_by_one = many_pools(plan_of(DEMO).plan.pools[0])
    what = f"figures of {CANDIDATES:,} candidate pools"
    yield row(what, many, "the same through the stage", [one_by_one], "≤ 0.02×")


def inventory() -> Iterator[Row]:
    """A large file."""
    file = inventory_of(5_000)
    yield row(
        "inventory of 5,000 drives, read",
        milliseconds(lambda: read_stock_csv(file), 5),
        "splitting the same bytes into cells",
        milliseconds(lambda: list(csv.reader(io.StringIO(file.decode()))), 5),
        "≤ 2 s",
    )


def dearest() -> Iterator[Row]:
    """The dearest plan that is accepted, of some drawn ones."""
    found = worst()
    what = (
        f"dearest of {found['tries']} drawn plans: seed {found['seed']}, {found['seat_classes']} classes of "
        f"seats, {found['day_parts']} parts, {found['pools']} pools, {found['megabytes']:.0f} MB"
    )
    yield row(what, [found["seconds"] * 1000], goal="≤ 500 ms, ≤ 200 MB")


MEASURES: dict[str, Callable[[], Iterator[Row]]] = {
    each.__name__: each
    for each in (
        loads, rehearsal, forecast, odds, nudge, wires, inventory, pools, front, least, advice, movers,
        dearest,
    )
} | {"page": page_rows}  # fmt: skip


def main(names: list[str]) -> int:
    """Measure what is named, or all of it; print each row as it comes, and write all as JSON."""
    if names == ["--list"]:
        print("\n".join(MEASURES))
        return 0
    unknown = [name for name in names if name not in MEASURES]
    if unknown:
        print(f"{unknown[0]} is no row of the bench. Rows are: {' '.join(MEASURES)}.", file=sys.stderr)
        return 2
    began, found = time.monotonic(), []
    print(f"{'what':52} {'median':>12} {'p95':>12} {'ratio':>10}", flush=True)
    for name in names or MEASURES:
        for each in MEASURES[name]():
            print(each, flush=True)
            found.append(each)
    target = ROOT / ".state" / "bench.json"
    target.parent.mkdir(exist_ok=True)
    target.write_text(json.dumps([asdict(each) for each in found], indent=1) + "\n")
    print(f"{time.monotonic() - began:.0f} s; as JSON: {target.relative_to(ROOT)}")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
