"""What can be computed about the look: accessibility of every view, and the state inks of both themes."""

from __future__ import annotations

import itertools
import re
import subprocess
from pathlib import Path

from coloraide import Color
from django.conf import settings
from django.test import SimpleTestCase
from playwright.sync_api import Page, expect

from accounts.models import Role
from browser.page import AXE, ONE_BOX, BrowserCase
from larder.stages.registry import STAGES

FRONTEND = Path(settings.ROOT, "frontend")
DEFICIENCIES = ("protan", "deutan", "tritan")
STATES = ("success", "warning", "error")
EVERYTHING = ("wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice")
COLOURS = ("color-contrast", "link-in-text-block")
"""All in which one theme may differ from the other: the rest is scanned in one of them."""


class Scanned(BrowserCase):
    """What can be scanned for accessibility."""

    def scan(self, page: Page, where: str, rules: tuple[str, ...] = EVERYTHING) -> None:
        if not page.evaluate("'axe' in window"):
            page.evaluate(AXE.read_text())
        options = {"runOnly": list(rules), "resultTypes": ["violations"]}
        found = page.evaluate("options => axe.run(document, options)", options)["violations"]
        answer = [f"{v['id']}: {n['html'][:120]}" for v in found for n in v["nodes"][:3]]
        self.assertEqual(answer, [], where)


class Accessibility(Scanned):
    def tour(self, scheme: str, rules: tuple[str, ...] = EVERYTHING) -> None:
        page = self.fresh_page(scheme=scheme)
        page.goto("/")
        page.get_by_role("button", name="Sign in").wait_for()
        self.scan(page, f"sign in, {scheme}", rules)
        page = self.somebody(Role.OWNER, scheme=scheme)
        page.get_by_role("link", name=ONE_BOX, exact=True).wait_for()
        self.scan(page, f"plans, {scheme}", rules)
        page.get_by_role("button", name="Begin a plan").click()
        page.get_by_label("The brief in one line").fill("2 edit seats play 220 Mb/s, quiet, gold")
        page.get_by_text("“gold” is no word").wait_for()
        self.scan(page, f"a plan begun, {scheme}", rules)
        page.get_by_role("link", name="Stock").click()
        page.get_by_label("Type what lies there").fill("6x 8TB hdd smr 2019 loft 40%")
        page.get_by_role("button", name="Add", exact=True).click()
        page.get_by_role("button", name="8 TB disk 1").click()
        page.get_by_role("complementary", name="8 TB disk 1").wait_for()
        self.scan(page, f"stock, {scheme}", rules)
        page.get_by_role("link", name="Plans").click()
        self.open_plan(page)
        for view in (*(s.title for s in STAGES if not s.is_of_studio), "House rules", "Catalogue", "Tiers"):
            page.get_by_role("link", name=view).click()
            page.get_by_role("main").get_by_role("heading").first.wait_for()
            self.scan(page, f"{view}, {scheme}", rules)
        self.spin("Hot spares", page).press("F1")
        page.get_by_text("An empty drive in the box").wait_for()
        self.scan(page, f"a term, {scheme}", rules)
        page.get_by_role("button", name="Find /").click()
        page.keyboard.type("boathouse")
        page.get_by_role("listbox", name="Found").get_by_role("option").nth(2).wait_for()
        self.scan(page, f"what was found, {scheme}", rules)
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Brief").click()
        page.get_by_role("button", name="Add a footage seat").click()
        page.get_by_role("listbox", name="Formats").get_by_role("option").nth(2).wait_for()
        self.scan(page, f"a format looked for, {scheme}", rules)
        page.get_by_role("link", name="Tiers").click()
        self.spin("Drives", page).fill("3")
        page.get_by_role("alert").wait_for()
        self.scan(page, f"a refused entry, {scheme}", rules)
        for panel in ("Findings", "History", "Help"):
            page.get_by_role("button", name=panel).click()
            page.get_by_role("complementary", name=panel).wait_for()
            self.scan(page, f"{panel}, {scheme}", rules)
        page.get_by_test_id("scale-speed").click()
        page.get_by_text("What would change it most").wait_for()
        self.scan(page, f"a working, {scheme}", rules)

    def test_daylight(self) -> None:
        self.tour("light")

    def test_machine_room(self) -> None:
        self.tour("dark", COLOURS)

    def test_a_narrow_window_neither_breaks_nor_scrolls_sideways(self) -> None:
        page = self.open_plan(self.somebody(Role.TECHNICIAN, width=360))
        self.scan(page, "a narrow window")
        overflow = page.evaluate("document.documentElement.scrollWidth - window.innerWidth")
        self.assertLessEqual(overflow, 0)


class Kit(Scanned):
    """The page of all controls, which only this test and `npm run kit` build."""

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        subprocess.run(["npm", "run", "--silent", "kit"], cwd=FRONTEND, check=True, capture_output=True)

    def kit(self, scheme: str) -> Page:
        page = self.new_page(scheme, 1280)
        page.faults = self.faults
        self.addCleanup(page.context.close)
        page.route(
            re.compile("/(static/|kit.html)"),
            lambda route, request: route.fulfill(
                path=FRONTEND / "dist-kit" / request.url.split("/", 3)[3].removeprefix("static/")
            ),
        )
        page.goto("/kit.html")
        page.get_by_role("heading", name="The kit").wait_for()
        return page

    def test_every_state_of_every_control_can_be_read_by_everybody(self) -> None:
        for scheme in ("light", "dark"):
            page = self.kit(scheme)
            self.scan(page, f"the kit, {scheme}")
            page.get_by_role("button", name="Open the side panel").click()
            self.scan(page, f"the side panel, {scheme}")
            page.keyboard.press("Escape")
            page.get_by_role("button", name="Open the palette").click()
            self.scan(page, f"the palette, {scheme}")

    def test_tabs_are_walked_by_arrow_keys_and_only_the_chosen_one_is_on_the_way(self) -> None:
        page = self.kit("light")
        page.get_by_role("tab", name="Boathouse pool").focus()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("tab", name="Signal pool")).to_be_focused()
        expect(page.get_by_role("tab", selected=True)).to_have_text("Signal pool")
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("tab", selected=True)).to_have_text("Boathouse pool")
        page.keyboard.press("Tab")
        expect(page.get_by_role("tab", name="Signal pool")).not_to_be_focused()

    def test_the_page_shows_every_control_and_is_no_part_of_the_product(self) -> None:
        gallery = (FRONTEND / "src" / "kit" / "gallery.tsx").read_text()
        shown = set(re.findall(r'from "\./(\w+)"', gallery))
        drawn = {each.stem for each in (FRONTEND / "src" / "kit").glob("[A-Z]*.tsx")}
        self.assertEqual(drawn - shown, {"Mark"})
        scripts = [each.read_text() for each in (FRONTEND / "dist").glob("assets/*.js")]
        self.assertTrue(scripts)
        self.assertFalse([script for script in scripts if "Open the side panel" in script])


class Inks(SimpleTestCase):
    def themes(self):
        text = (FRONTEND / "src" / "theme.css").read_text()
        for block in re.findall(r'@plugin "daisyui/theme" \{(.*?)\n\}', text, re.DOTALL):
            name = re.search(r'name: "(\w+)"', block)[1]
            inks = re.findall(r"--color-([\w-]+): (oklch\([^)]*\))", block)
            # What a screen shows: outside sRGB it clips.
            yield name, {key: Color(ink).convert("srgb").clip() for key, ink in inks}

    def test_both_themes_are_there(self) -> None:
        self.assertEqual([name for name, _ in self.themes()], ["daylight", "machineroom"])

    def test_state_inks_reach_contrast_as_text(self) -> None:
        for name, inks in self.themes():
            for state, ground in itertools.product(STATES, ("base-100", "base-200")):
                self.assertGreaterEqual(inks[state].contrast(inks[ground]), 4.5, (name, state, ground))

    def test_state_inks_are_told_apart_by_every_eye(self) -> None:
        for name, inks in self.themes():
            for one, other in itertools.combinations(STATES, 2):
                for eye in (None, *DEFICIENCIES):
                    pair = [inks[ink].filter(eye) if eye else inks[ink] for ink in (one, other)]
                    self.assertGreaterEqual(
                        pair[0].delta_e(pair[1], method="2000"), 20, (name, one, other, eye)
                    )
