"""Rows of the bench about wires, and ./bench --remedies: what is offered on 2,000 random plans does it."""

from __future__ import annotations

import sys
import time
from concurrent.futures import ProcessPoolExecutor

from cluster import ROOT

sys.path.insert(0, str(ROOT / "core"))

from larder.asks.cheapest_change import cheapest_change
from larder.asks.share_out import shared
from larder.asks.tests.test_remedies import faults_of
from larder.judge.evaluation import evaluate
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.random_plans import large_house

PLANS = 2_000
REPEATS = 9


def milliseconds_of_wires() -> dict[str, list[float]]:
    """Sharing out, the search for the cheapest change, and judging, of sixty classes of seats."""
    house = large_house()
    judged = judge(house, PARTS)
    cheapest_change(house, "s33")

    def timed(action: object) -> list[float]:
        times = []
        for _ in range(REPEATS):
            began = time.perf_counter()
            action()  # type: ignore[operator]
            times.append((time.perf_counter() - began) * 1000)
        return times

    return {
        "share": timed(lambda: shared(judged)),
        "change": timed(lambda: cheapest_change(house, "s33")),
        "evaluate": timed(lambda: judge(house, PARTS)),
    }


def main() -> int:
    """Try the remedies of every plan; fail where one does not do what it says."""
    began = time.monotonic()
    evaluate(large_house())
    with ProcessPoolExecutor(2) as pool:
        result = list(pool.map(faults_of, range(PLANS), chunksize=20))
    faults = [fault for _, faults in result for fault in faults]
    offered = sum(count for count, _ in result)
    print(f"{PLANS} random plans, {offered} remedies offered and tried, {time.monotonic() - began:.0f} s")
    for fault in faults[:40]:
        print(fault)
    print("held" if not faults else f"{len(faults)} did not hold")
    return 1 if faults else 0


if __name__ == "__main__":
    sys.exit(main())
