"""What can be computed about the look: accessibility of every view, and the state inks of both themes."""

from __future__ import annotations

import itertools
import re
import sys
from pathlib import Path

from django.conf import settings
from django.test import SimpleTestCase

from accounts.models import Role
from browser.page import AXE, ONE_BOX, BrowserCase
from larder.stages.registry import STAGES

sys.path.insert(0, str(Path(settings.ROOT, "tools")))
from colour import DEFICIENCIES, contrast, difference, linear_rgb, seen_with

STATES = ("success", "warning", "error")


class Accessibility(BrowserCase):
    def scan(self, page, where: str) -> None:
        page.evaluate(AXE.read_text())
        rules = {"runOnly": ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]}
        found = page.evaluate("rules => axe.run(document, rules)", rules)["violations"]
        told = [f"{v['id']}: {n['html'][:120]}" for v in found for n in v["nodes"][:3]]
        self.assertEqual(told, [], where)

    def tour(self, scheme: str, width: int) -> None:
        page = self.fresh_page(scheme=scheme, width=width)
        page.goto("/")
        page.get_by_role("button", name="Sign in").wait_for()
        self.scan(page, f"sign in, {scheme}")
        page = self.somebody(Role.OWNER, scheme=scheme, width=width)
        page.get_by_role("link", name=ONE_BOX, exact=True).wait_for()
        self.scan(page, f"plans, {scheme}")
        page.get_by_role("link", name="Stock").click()
        page.get_by_label("Type what lies there").fill("6x 8TB hdd smr 2019 loft 40%")
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_role("button", name="8 TB disk 1").click()
        page.get_by_role("complementary", name="8 TB disk 1").wait_for()
        self.scan(page, f"stock, {scheme}")
        page.get_by_role("link", name="Plans").click()
        self.open_plan(page)
        for view in (*(s.title for s in STAGES if not s.is_of_studio), "House rules", "Catalogue", "Tiers"):
            page.get_by_role("link", name=view).click()
            page.get_by_role("main").get_by_role("heading").first.wait_for()
            self.scan(page, f"{view}, {scheme}")
        self.spin("Drives", page).fill("3")
        page.get_by_role("alert").wait_for()
        self.scan(page, f"a refused entry, {scheme}")
        for panel in ("Findings", "History", "Help"):
            page.get_by_role("button", name=panel).click()
            page.get_by_role("complementary", name=panel).wait_for()
            self.scan(page, f"{panel}, {scheme}")
        page.get_by_test_id("scale-speed").click()
        page.get_by_text("What would change it most").wait_for()
        self.scan(page, f"a working, {scheme}")

    def test_daylight(self) -> None:
        self.tour("light", 1280)

    def test_machine_room(self) -> None:
        self.tour("dark", 1280)

    def test_a_narrow_window_neither_breaks_nor_scrolls_sideways(self) -> None:
        page = self.open_plan(self.somebody(Role.TECHNICIAN, width=360))
        self.scan(page, "a narrow window")
        overflow = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
        self.assertLessEqual(overflow, 0)


class Inks(SimpleTestCase):
    def themes(self):
        text = Path(settings.ROOT, "frontend", "src", "theme.css").read_text()
        for block in re.findall(r'@plugin "daisyui/theme" \{(.*?)\n\}', text, re.DOTALL):
            name = re.search(r'name: "(\w+)"', block)[1]
            inks = {
                key: linear_rgb(float(light) / 100, float(chroma), float(hue))
                for key, light, chroma, hue in re.findall(
                    r"--color-([\w-]+): oklch\(([\d.]+)% ([\d.]+) ([\d.]+)\)", block
                )
            }
            yield name, inks

    def test_both_themes_are_there(self) -> None:
        self.assertEqual([name for name, _ in self.themes()], ["daylight", "machineroom"])

    def test_state_inks_reach_contrast_as_text(self) -> None:
        for name, inks in self.themes():
            for state, ground in itertools.product(STATES, ("base-100", "base-200")):
                self.assertGreaterEqual(contrast(inks[state], inks[ground]), 4.5, (name, state, ground))

    def test_state_inks_are_told_apart_by_every_eye(self) -> None:
        for name, inks in self.themes():
            for one, other in itertools.combinations(STATES, 2):
                pairs = {"common vision": (inks[one], inks[other])} | {
                    d: (seen_with(d, inks[one]), seen_with(d, inks[other])) for d in DEFICIENCIES
                }
                for vision, pair in pairs.items():
                    self.assertGreaterEqual(difference(*pair), 20, (name, one, other, vision))
