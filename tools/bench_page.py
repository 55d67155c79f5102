"""Rows of the bench that are measured in the page: from the key to the verdict on the screen."""

from __future__ import annotations

from collections.abc import Iterator

from playwright.sync_api import Page, sync_playwright

from bench_rows import REPEATS, Row, inventory_of, row
from serve import throwaway_demo

NUDGES = 60
WARM_UP = 12
"""Nudges not counted: each of the server's threads opens its database connection at first use."""
CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]
PASSWORD = "bench-only-password"  # noqa: S105  (of a database that lives as long as this run)


def page_rows() -> Iterator[Row]:
    """What a person waits for, on a demo of its own."""
    with throwaway_demo(PASSWORD) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield from _walked(browser.new_page(viewport={"width": 1280, "height": 800}), address)
        browser.close()


def _walked(page: Page, address: str) -> Iterator[Row]:
    """One row after the other, signed in as the technician."""
    page.goto(address)
    page.get_by_label("Name").fill("technician")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name="Long Shore", exact=True).click()
    page.get_by_role("link", name="Tiers").click()
    page.get_by_role("spinbutton", name="Free-space headroom").wait_for()
    nudges = [nudge_in(page, up=i % 2 == 0) for i in range(WARM_UP + NUDGES)][WARM_UP:]
    light = [fetch_in(page, "/head") for _ in range(REPEATS)]
    other = "an authenticated read of one row, same page and server"
    yield row("nudge to verdict, large plan", nudges, other, light, "≤ 60 ms median, ≤ 100 ms p95")
    yield row("read of a whole plan", [fetch_in(page, "") for _ in range(REPEATS)], other, light, "≤ 3×")
    page.get_by_role("link", name="Stock").click()
    page.get_by_role("table", name="Devices").wait_for()
    few = [search_in(page, "bag" if i % 2 else "west") for i in range(REPEATS)]
    page.get_by_label("Which drive is it on?").fill("")
    file = {"name": "stock.csv", "mimeType": "text/csv", "buffer": inventory_of(5_000)}
    page.get_by_label("Drop an inventory here").set_input_files(file)
    page.get_by_role("button", name="Add these 5000").click(timeout=120_000)
    page.get_by_text("page 1 of 101").wait_for(timeout=120_000)
    many = [search_in(page, f"drive {i % 7 + 1}") for i in range(REPEATS)]
    yield row("search among 5,000 devices", many, "the same among the demo's 26", few, "≤ 100 ms")
    labels = [label_in(page, f"Drive again {i}") for i in range(REPEATS)]
    yield row("a label changed among 5,000 devices", labels, other, light, "≤ 150 ms")


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
