"""Take the pictures in docs/screenshots/ anew from the demo data; look at them before committing them."""

from __future__ import annotations

import sys
from base64 import b64encode
from itertools import combinations

import numpy as np
from playwright.sync_api import Browser, Page, sync_playwright

from cluster import ROOT
from serve import throwaway_demo

sys.path.insert(0, str(ROOT / "core"))
from larder.stages.registry import STAGES

TARGET = ROOT / "docs" / "screenshots"
PASSWORD = "pictures-only"  # noqa: S105  (of a database that lives as long as this run)
CHROMIUM = ["--no-sandbox", "--disable-gpu", "--disable-background-networking"]


def page_of(browser: Browser, address: str, scheme: str) -> Page:
    """A fresh window on the sign-in page."""
    context = browser.new_context(viewport={"width": 1280, "height": 800}, color_scheme=scheme)
    page = context.new_page()
    page.goto(address)
    page.get_by_role("button", name="Sign in").wait_for()
    return page


def enter(page: Page) -> None:
    """Sign in as the technician."""
    page.get_by_label("Name").fill("technician")
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("link", name="Tern & Tide", exact=True).wait_for()


def shoot(page: Page, name: str) -> None:
    """One picture, once the fonts are there."""
    page.evaluate("document.fonts.ready")
    page.screenshot(path=str(TARGET / f"{name}.png"))


def outside_a_plan(page: Page) -> None:
    """Sign-in, the plans and the stock; ends at the list of plans."""
    shoot(page, "sign-in")
    enter(page)
    shoot(page, "plans")
    page.keyboard.press("n")
    page.get_by_label("The brief in one line").fill(LINE)
    page.get_by_text("is no word of a brief").wait_for()
    page.get_by_role("button", name="35 assumed").wait_for()
    shoot(page, "begin")
    page.get_by_role("link", name="Stock").click()
    page.get_by_role("heading", name="Rescue first").wait_for()
    shoot(page, "stock")
    page.get_by_role("link", name="Plans").click()


LINE = (
    "4 edit seats play 2 streams 220 Mb/s, 1 colour 4K 10-bit 444, 2 photo 60MB raw, 20 h a week, "
    "8 TB today, 3 years, 9000 EUR, quiet, closet, gold"
)


def compare(page: Page) -> None:
    """Two of the studio's other plans beside the one that is open."""
    for name in ("Tern & Tide, one box", "Halyard Street"):
        page.get_by_label("Another plan").select_option(label=name)
        page.get_by_role("columnheader", name=name).wait_for()


def stages(page: Page) -> None:
    """The stages of the demo plan, each at its strong drawing."""
    page.get_by_role("link", name="Tern & Tide", exact=True).click()
    for stage in STAGES:
        if not stage.is_of_studio and stage.id != "rehearsal":
            page.get_by_role("link", name=stage.title).click()
            page.locator('[aria-current="page"]').filter(has_text=stage.title).wait_for()
            page.get_by_role("main").get_by_role("heading").first.wait_for()
            if stage.id == "school":
                page.get_by_role("table", name="Designs").wait_for()
                page.get_by_text("Asking the others what would have to give").wait_for(state="detached")
            if stage.id == "compare":
                compare(page)
            if stage.id == "wiring":
                page.get_by_text("single changes tried").wait_for()
            if stage.id == "growth":
                page.locator("svg.drawing").get_by_text("order by 6 Feb 2028").wait_for()
            if stage.id == "safeguard":
                page.get_by_role("table", name="Material against losses").wait_for()
            shoot(page, stage.id)
    page.get_by_role("link", name="Tiers").click()
    page.get_by_role("tab", name="Signal pool").click()
    page.locator("summary").filter(has_text="Volumes").scroll_into_view_if_needed()
    page.get_by_role("button", name="Findings").click()
    page.get_by_role("complementary", name="Findings").get_by_role("list").wait_for()
    page.get_by_role("button", name="Keep them for 14 days").wait_for()  # its remedy has been tried
    shoot(page, "findings")
    page.get_by_role("link", name="Brief").click()
    page.keyboard.press("Escape")
    page.get_by_role("heading", name="Asked at once").scroll_into_view_if_needed()
    page.keyboard.press("Control+k")
    page.keyboard.type("colour")
    page.get_by_role("listbox", name="Found").get_by_role("option").nth(3).wait_for()
    shoot(page, "find")
    page.keyboard.press("Escape")


def beside_the_stages(page: Page) -> None:
    """What stands beside the stages of an open plan."""
    page.get_by_role("link", name="House rules").click()
    page.get_by_role("heading", name="House rules").wait_for()
    page.get_by_role("button", name="Take the studio’s").wait_for()
    shoot(page, "house-rules")
    page.get_by_role("link", name="Catalogue").click()
    page.get_by_role("tab", name="Boxes (").click()
    page.get_by_role("button", name="Twelve-bay desktop box, two flash slots, 10GbE", exact=True).click()
    page.get_by_role("button", name="Add a card slot").scroll_into_view_if_needed()
    shoot(page, "catalogue")


THUMBNAIL = """encoded => new Promise(done => {
  const image = new Image();
  image.onload = () => {
    const canvas = new OffscreenCanvas(64, 40);
    const context = canvas.getContext('2d');
    context.drawImage(image, 0, 0, 64, 40);
    done([...context.getImageData(0, 0, 64, 40).data]);
  };
  image.src = `data:image/png;base64,${encoded}`;
})"""
LEAST_DIFFERENCE = 1.5
"""Mean difference of two thumbnails, of 255, below which they show the same."""


def alike(browser: Browser) -> list[str]:
    """Pairs of pictures that are nearly the same: one of them shows another view than its name says."""
    page = browser.new_page()
    small = {
        path.stem: np.array(page.evaluate(THUMBNAIL, b64encode(path.read_bytes()).decode()), dtype=float)
        for path in sorted(TARGET.glob("*.png"))
    }
    return [
        f"{one} and {other}"
        for one, other in combinations(small, 2)
        if float(np.abs(small[one] - small[other]).mean()) < LEAST_DIFFERENCE
    ]


def main() -> int:
    """Every main view once."""
    TARGET.mkdir(parents=True, exist_ok=True)
    with throwaway_demo(PASSWORD) as address, sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        page = page_of(browser, address, "light")
        outside_a_plan(page)
        stages(page)
        beside_the_stages(page)
        dark = page_of(browser, address, "dark")
        enter(dark)
        dark.get_by_role("link", name="Tern & Tide", exact=True).click()
        dark.get_by_test_id("scale-space").click()
        dark.get_by_role("table").filter(has_text="A tenth (or one)").scroll_into_view_if_needed()
        shoot(dark, "working")
        page.goto(address)
        page.get_by_role("link", name="Tern & Tide, one box", exact=True).click()
        page.get_by_role("link", name="Rehearsal").click()
        page.get_by_label("What breaks").select_option(label="a disk of Boathouse pool")
        page.get_by_text("A disk of Boathouse pool dies at 11:00.").wait_for()
        page.get_by_role("button", name="Take it").first.wait_for()
        shoot(page, "rehearsal")
        page.get_by_role("tab", name="It is slow today").click()
        page.get_by_label("Seat", exact=True).select_option(label="Colour")
        for label, value in (("A file copied from the storage", "104"), ("iperf3 to the box", "116")):
            page.get_by_label(label, exact=True).fill(value)
            page.get_by_label(label, exact=True).press("Enter")
        page.get_by_text("Or else").wait_for()
        shoot(page, "slow")
        page.goto(address)
        page.get_by_role("link", name="Long Shore").click()
        page.get_by_role("link", name="Wiring").click()
        page.get_by_text("single changes tried").wait_for()
        shoot(page, "wiring-large")
        same = alike(browser)
        browser.close()
    for pair in same:
        print(f"nearly the same: {pair}", file=sys.stderr)
    return 1 if same else 0


if __name__ == "__main__":
    sys.exit(main())
