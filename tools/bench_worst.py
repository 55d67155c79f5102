"""The dearest plan that is accepted, out of seeded tries, with its cost in time and memory.

``python tools/bench_worst.py [SEED]``: without a seed the search; with one a line of JSON about that plan
alone, from a process that has judged nothing else.
"""

from __future__ import annotations

import json
import subprocess
import sys
import time
import tracemalloc
from typing import Any

from cluster import ROOT

sys.path.insert(0, str(ROOT / "core"))

from larder.base.memo import forget_all
from larder.judge.evaluation import evaluate
from larder.judge.tests.worst_plans import WorstPlans
from larder.plan.bundle import Bundle

TRIES = 200
AGAIN = 4
"""The dearest of the first look are judged again, since one try on a busy machine tells little."""
REPEATS = 5


def seconds_of(bundle: Bundle, repeats: int = 1) -> float:
    """Processor seconds of judging ``bundle`` with nothing remembered, the quickest of some tries."""
    found = []
    for _ in range(repeats):
        forget_all()
        began = time.process_time()
        evaluate(bundle)
        found.append(time.process_time() - began)
    return min(found)


def cost_of(seed: int) -> dict[str, Any]:
    """What one seed's plan costs, and how large it is."""
    bundle = WorstPlans(seed).bundle()
    if bundle is None:
        return {"seed": seed}
    seconds = seconds_of(bundle, REPEATS)
    forget_all()
    tracemalloc.start()
    evaluate(bundle)
    _, peak_bytes = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    plan = bundle.plan
    return {
        "seed": seed,
        "seconds": round(seconds, 3),
        "megabytes": round(peak_bytes / 1e6, 1),
        "seat_classes": len(plan.brief.seats),
        "day_parts": len(plan.brief.day_parts),
        "pools": len(plan.pools),
        "bytes_of_json": len(bundle.model_dump_json()),
    }


def worst(tries: int = TRIES) -> dict[str, Any]:
    """The dearest plan of ``tries`` seeds; ``accepted`` of them came to a plan."""
    found = []
    for seed in range(tries):
        bundle = WorstPlans(seed).bundle()
        if bundle is not None:
            found.append((seconds_of(bundle), seed))
    dearest = sorted(found, reverse=True)[:AGAIN]
    costs = [
        json.loads(
            subprocess.run([sys.executable, __file__, str(seed)], check=True, capture_output=True).stdout
        )
        for _, seed in dearest
    ]
    most = max(costs, key=lambda cost: cost["seconds"])
    return most | {
        "accepted": len(found),
        "tries": tries,
        "megabytes": max(cost["megabytes"] for cost in costs),
    }


if __name__ == "__main__":
    print(json.dumps(cost_of(int(sys.argv[1])) if len(sys.argv) > 1 else worst()))
