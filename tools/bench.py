"""What ./bench reports: ratios taken in one run, the median of several, and what the other side is.

Nothing here asserts a time; these machines are shared and noisy.
"""

from __future__ import annotations

import csv
import io
import json
import statistics
import sys
import time
from collections.abc import Callable
from dataclasses import asdict, dataclass

import numpy as np
from playwright.sync_api import Page, sync_playwright

from bench_worst import worst
from cluster import ROOT
from serve import throwaway_demo

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
NUDGES = 60
WARM_UP = 12
"""Nudges not counted: each of the server's threads opens its database connection at first use."""
REPEATS = 30
CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
PASSWORD = "bench-only-password"  # noqa: S105  (of a database that lives as long as this run)


@dataclass(frozen=True)
class Row:
    """One line of the table; times in milliseconds."""

    what: str
    median_ms: float
    p95_ms: float
    against: str
    ratio: float
    goal: str


def milliseconds(action: Callable[[], object], repeats: int = REPEATS) -> list[float]:
    """How long ``action`` took, each time."""
    times = []
    for _ in range(repeats):
        began = time.perf_counter()
        action()
        times.append((time.perf_counter() - began) * 1000)
    return times


def row(
    what: str, times: list[float], against: str = "", other: list[float] | None = None, goal: str = ""
) -> Row:
    """A table row; the ratio is this side's median over the other's."""
    median = statistics.median(times)
    p95 = sorted(times)[max(0, round(len(times) * 0.95) - 1)]
    ratio = median / statistics.median(other)
    return Row(what, round(median, 2), round(p95, 2), against, round(ratio, 2 if ratio >= 0.1 else 5), goal)


def inventory_of(drives: int) -> bytes:
    """A made-up stock: every shoot on two drives and a common one on many."""
    header = "label,size,used,serial,place,bought,materials\n"
    line = "Drive {n},8TB,5TB,S-{n},Shelf {m},2022-05-20,Shoot {m}=2TB; Shoot {n}=3TB\n"
    return (header + "".join(line.format(n=n, m=n % 90) for n in range(drives))).encode()


def advisor_rows(demo: Bundle) -> list[Row]:
    """What the advisor does, against an object for each candidate and against a mixed-integer solver."""
    front, one_by_one = crossed(FRONT_OF, 5)
    many, each_apart = crossed(LOOKED_AT, 3)
    least, by_solver = cheapest()
    first, whole = first_advice(demo)
    apart = "an object for each, sorted and scanned (of a few, times their number)"
    return [
        row("exact front of 8.4 M designs", front, apart, [one_by_one], "≤ 1 s"),
        row("100 M designs looked at, with their front", many, apart, [each_apart], "≥ 30 M/s"),
        row(
            "cheapest that does, 100 briefs",
            least,
            "a mixed-integer solver, same optimum",
            by_solver,
            "≤ 10 ms",
        ),
        row("first advice, demo plan, cold", first, "with why the others lose", [whole], "≤ 2 s"),
    ]


def core_rows() -> list[Row]:
    """A nudge in the core, memoised, against the same without any memo."""
    base = read_bundle(DEMO.read_bytes()).document()
    sizes = iter(range(16 * 10**12, 17 * 10**12, 10**9))

    def nudge(judge: Callable[..., object]) -> None:
        patch = (Operation(op="set", path="plan/pools/main/drive_bytes", value=next(sizes)),)
        judge(bundle_from(apply_patch(base, patch)))

    warm = milliseconds(lambda: nudge(evaluate))

    def cold() -> None:
        forget_all()
        nudge(evaluate)

    large = read_bundle(LARGE.read_bytes())
    large_document = large.document()
    nudged: list[Bundle] = []

    def judge_large_cold() -> None:
        forget_all()
        evaluate(large)

    def read_nudged() -> Bundle:
        path = "plan/pools/archive-cold/drive_bytes"
        patch = (Operation(op="set", path=path, value=next(sizes)),)
        return bundle_from(apply_patch(large_document, patch))

    reading = milliseconds(lambda: nudged.append(read_nudged()))

    large_cold = milliseconds(judge_large_cold)
    demo = read_bundle(DEMO.read_bytes())
    many, one_by_one = many_pools(demo.plan.pools[0])
    inventory = inventory_of(5_000)
    day, walked = rehearsals(demo)
    odds = redundancy()
    forecast, by_week = forecasts(large)
    wires, judging = milliseconds_of_wires(), "judging that plan, warm"
    seats = tuple(SeatClass(f"class {n}", 10, (10 + 7 * n) * 1e6, 0.3) for n in range(20))
    return [
        row(
            "load of 200 seats of 20 classes",
            milliseconds(lambda: (forget_all(), joint_load(seats, Rush(0.02, 0.9)))),
            "twenty transforms of the same grid",
            milliseconds(lambda: [np.fft.rfft(np.ones(1 << 14)) for _ in range(20)]),
            "≤ 30 ms",
        ),
        row(
            "rehearsal, one day of the demo plan",
            day,
            "the same day shared out second by second",
            [walked],
            "≤ 10 ms",
        ),
        row(
            "when Long Shore is full, 2,000 courses of each tier",
            forecast,
            "the same courses drawn week by week",
            by_week,
            "≤ 200 ms",
        ),
        row("odds of a loss, one group", odds["chain"], "a general matrix exponential", odds["general"]),
        row(
            "200,000 groups of 12 lived through for a year",
            odds["bulk"],
            "drawing their first deaths one by one",
            odds["one by one"],
            "≥ 10 M lifetimes/s",
        ),
        *advisor_rows(demo),
        row("evaluate after a nudge, core", warm, "itself without the memo", milliseconds(cold)),
        row("large plan judged, cold", large_cold, "the demo plan, cold", milliseconds(cold), "≤ 40 ms"),
        row(
            "large plan, a pool nudged",
            milliseconds(lambda: evaluate(nudged.pop())),
            "itself cold",
            large_cold,
            "≤ 5 ms",
        ),
        row("large plan, patch read", reading, "judging it cold", large_cold),
        row(
            "17 layouts compared, large plan",
            milliseconds(lambda: compare_layouts(large, "archive-cold")),
            "judging it cold",
            large_cold,
            "≤ 20 ms",
        ),
        row(
            "60 classes of seats, 8 switches: a state shared out",
            wires["share"],
            judging,
            wires["evaluate"],
            "≤ 10 ms",
        ),
        row("the cheapest change for one of them", wires["change"], judging, wires["evaluate"], "≤ 300 ms"),
        row(
            "what moves every figure, demo plan",
            cold_sweeps(demo),
            "every part judged for every number",
            [all_parts_each_time(demo)],
            "≤ 400 ms",
        ),
        row(
            "what moves every figure, large plan",
            cold_sweeps(large),
            "every part judged for every number",
            [all_parts_each_time(large)],
            "≤ 1.5 s",
        ),
        row("the same once it is kept, large plan", kept(large), "the sweep", cold_sweeps(large)),
        row(
            f"figures of {CANDIDATES:,} candidate pools",
            many,
            "the same through the stage",
            [one_by_one],
            "≤ 0.02×",
        ),
        row(
            "inventory of 5,000 drives, read",
            milliseconds(lambda: read_stock_csv(inventory), 5),
            "splitting the same bytes into cells",
            milliseconds(lambda: list(csv.reader(io.StringIO(inventory.decode()))), 5),
            "≤ 2 s",
        ),
    ]


def page_rows(address: str) -> list[Row]:
    """From the key to the verdict on the screen, measured in the page."""
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.goto(address)
        page.get_by_label("Name").fill("technician")
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("link", name="Long Shore", exact=True).click()
        page.get_by_role("link", name="Tiers").click()
        page.get_by_role("spinbutton", name="Free-space headroom").wait_for()
        nudges = [nudge_in(page, up=i % 2 == 0) for i in range(WARM_UP + NUDGES)][WARM_UP:]
        light = [fetch_in(page, "/head") for _ in range(REPEATS)]
        whole = [fetch_in(page, "") for _ in range(REPEATS)]
        page.get_by_role("link", name="Stock").click()
        page.get_by_role("table", name="Devices").wait_for()
        few = [search_in(page, "bag" if i % 2 else "west") for i in range(REPEATS)]
        page.get_by_label("Which drive is it on?").fill("")
        file = {"name": "stock.csv", "mimeType": "text/csv", "buffer": inventory_of(5_000)}
        page.get_by_label("Drop an inventory here").set_input_files(file)
        page.get_by_role("button", name="Add these 5000").click(timeout=120_000)
        page.get_by_text("page 1 of 101").wait_for(timeout=120_000)
        many = [search_in(page, f"drive {i % 7 + 1}") for i in range(REPEATS)]
        labels = [label_in(page, f"Drive again {i}") for i in range(REPEATS)]
        browser.close()
    other = "an authenticated read of one row, same page and server"
    return [
        row("nudge to verdict, large plan", nudges, other, light, "≤ 100 ms median, ≤ 200 ms p95"),
        row("read of a whole plan", whole, other, light, "≤ 3×"),
        row("search among 5,000 devices", many, "the same among the demo's 26", few, "≤ 100 ms"),
        row("a label changed among 5,000 devices", labels, other, light, "≤ 150 ms"),
    ]


NUDGE = """up => new Promise(done => {
  const input = document.querySelector('[data-path="plan/pools/work-north/headroom_percent"]');
  const scale = document.querySelector('[data-testid="scale-space"]');
  const before = scale.textContent;
  const watch = new MutationObserver(() => {
    if (scale.textContent === before) return;
    watch.disconnect();
    requestAnimationFrame(() => done(performance.now() - began));
  });
  watch.observe(scale, { subtree: true, childList: true, characterData: true });
  const began = performance.now();
  const key = up ? 'ArrowUp' : 'ArrowDown';
  input.dispatchEvent(new KeyboardEvent('keydown', { key, bubbles: true }));
})"""


SEARCH = """words => new Promise(done => {
  const input = document.querySelector('input[type=search]');
  const page = document.querySelector('[aria-label="The shelf"]');
  const watch = new MutationObserver(() => {
    if (!page.textContent.toLowerCase().includes(words)) return;
    watch.disconnect();
    requestAnimationFrame(() => done(performance.now() - began));
  });
  watch.observe(page, { subtree: true, childList: true, characterData: true });
  const began = performance.now();
  Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value').set.call(input, words);
  input.dispatchEvent(new InputEvent('input', { bubbles: true }));
})"""


def search_in(page: Page, words: str) -> float:
    """Milliseconds from the typed words to the filtered list, painted."""
    return float(page.evaluate(SEARCH, words))


LABEL = """async label => {
  const studio = location.pathname.split('/')[2];
  const { token } = await (await fetch('/api/session')).json();
  const root = `/api/studios/${studio}/stock`;
  window.oneDevice ??= (await (await fetch(root)).json()).devices[0].id;
  const began = performance.now();
  const headers = { 'X-CSRFToken': token, 'Content-Type': 'application/json' };
  const body = JSON.stringify({ changes: { label } });
  await (await fetch(`${root}/${window.oneDevice}`, { method: 'PATCH', headers, body })).text();
  return performance.now() - began;
}"""


def label_in(page: Page, label: str) -> float:
    """Milliseconds until a changed label is answered."""
    return float(page.evaluate(LABEL, label))


def nudge_in(page: Page, *, up: bool) -> float:
    """Milliseconds from the arrow key to the changed scale, painted."""
    return float(page.evaluate(NUDGE, up))


def fetch_in(page: Page, tail: str) -> float:
    """Milliseconds of one read of the open plan's address with ``tail``."""
    script = """async tail => {
      const [, , studio, , plan] = location.pathname.split('/');
      const began = performance.now();
      await (await fetch(`/api/studios/${studio}/plans/${plan}${tail}`)).text();
      return performance.now() - began;
    }"""
    return float(page.evaluate(script, tail))


def main() -> int:
    """Measure, print the table, write the JSON beside it."""
    with throwaway_demo(PASSWORD) as address:
        rows = [*core_rows(), *page_rows(address)]
    dearest = worst()
    print(f"{'what':34} {'median':>9} {'p95':>9} {'ratio':>7}  against")
    for each in rows:
        times = f"{each.median_ms:6.1f} ms {each.p95_ms:6.1f} ms {each.ratio:7.4g}×"
        goal = f"  (goal {each.goal})" if each.goal else ""
        print(f"{each.what:34} {times}  {each.against}{goal}")
    print(
        f"dearest plan of {dearest['tries']} seeded tries: {dearest['seconds']:.2f} s, at most "
        f"{dearest['megabytes']:.0f} MB (goal ≤ 0.5 s, ≤ 200 MB); seed {dearest['seed']}, "
        f"{dearest['seat_classes']} classes of seats, {dearest['day_parts']} parts, {dearest['pools']} pools"
    )
    target = ROOT / ".state" / "bench.json"
    target.parent.mkdir(exist_ok=True)
    told = [*(asdict(each) for each in rows), dearest]
    target.write_text(json.dumps(told, indent=1) + "\n")
    print(f"as JSON: {target.relative_to(ROOT)}")
    return 0


if __name__ == "__main__":
    sys.exit(main())
