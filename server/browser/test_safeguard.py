"""Protection in the page: material against losses, copies, odds and what they come from, worth, boxes that fail."""

from __future__ import annotations

from playwright.sync_api import Locator, expect

from browser.page import BrowserCase
from tests.workers import one_worker


class Safeguarding(BrowserCase):
    def open_tern(self) -> None:
        """The demo plan that has copies of everything."""
        self.house.plan("tern-and-tide")
        self.page.reload()
        self.open_plan(name="Tern & Tide", stage="Safeguard")

    def cell(self, what: str) -> Locator:
        """The cell of the grid whose words begin so."""
        return self.page.get_by_role("table", name="Material against losses").get_by_role("button", name=what)

    def test_the_grid_says_what_is_left_and_a_remedy_shows_in_it(self) -> None:
        self.open_tern()
        asked = self.page.get_by_role("region", name="Copies")
        expect(asked).to_contain_text("short: Cards on the bench and 3 more below the rule for copies.")
        expect(asked).to_contain_text("Redundancy is not a backup")
        expect(self.cell("Hot projects, fire or water: nothing is left")).to_be_visible()
        self.cell("Hot projects, the box: 1 copy is left").press("Enter")
        answer = self.page.get_by_role("table", name="Copies of Hot projects")
        expect(answer.get_by_role("row").filter(has_text="in use")).to_contain_text("gone")
        expect(answer.get_by_role("row").filter(has_text="Boathouse pool")).to_contain_text("left")
        asked.get_by_role("button", name="Look at it").click()
        self.page.get_by_role("button", name="Carry drives elsewhere every week").click()
        self.page.keyboard.press("Escape")
        expect(self.cell("Hot projects, fire or water: 1 copy is left")).to_be_visible()
        self.page.get_by_label("Together with").select_option("a drop")
        expect(self.cell("Hot projects, fire or water: nothing is left")).to_be_visible()

    def test_a_copy_is_added_changed_and_refused_beside_its_field(self) -> None:
        self.open_tern()
        asked = self.page.get_by_role("region", name="Copies")
        asked.get_by_label("Add a copy").select_option(label="Drives in the safe")
        entry = asked.locator("summary").filter(has_text="Copy 5")
        # What is added stands open.
        expect(entry).to_contain_text("every day")
        own = asked.locator("details").filter(has=self.page.locator("summary").filter(has_text="Copy 5"))
        own.get_by_role("checkbox", name="Archive").uncheck()
        for name in ("Hot projects", "Project files, catalogues", "System settings"):
            own.get_by_role("checkbox", name=name).uncheck()
        expect(own).to_contain_text("the id of at least one material to copy")
        own.get_by_role("checkbox", name="Hot projects").check()
        expect(own).not_to_contain_text("at least one material")
        expect(self.cell("Hot projects, theft: 1 copy is left")).to_be_visible()
        own.get_by_role("button", name="Remove Copy 5").click()
        expect(self.cell("Hot projects, theft: nothing is left")).to_be_visible()

    def test_a_pool_says_its_odds_and_what_they_come_from_and_follows_a_nudge(self) -> None:
        self.open_plan(stage="Safeguard")
        odds = self.page.get_by_role("table", name="Odds of losing data in a year")
        expect(odds).to_contain_text("1 in 50,000")
        self.page.get_by_role("tab", name="Redundancy").click()
        said = self.page.get_by_role("region", name="After a loss")
        expect(said).to_contain_text("Boathouse pool: a loss of data is about 1 in 50,000 a year")
        reckoned = self.page.get_by_role("table", name="Boathouse pool is reckoned from")
        expect(reckoned.get_by_role("row").filter(has_text="Survives")).to_contain_text("2 dead drives")
        expect(reckoned.get_by_role("row").filter(has_text="By data sheets")).to_contain_text("1 in 7,000")
        layouts = self.page.get_by_role("table", name="Odds by layout")
        expect(layouts.get_by_role("row").filter(has_text="as planned")).to_contain_text("Double parity")
        odds.get_by_role("button").click()
        expect(self.page.get_by_role("complementary")).to_contain_text(
            "the chain of dead drives after a year"
        )
        self.page.keyboard.press("Escape")
        self.page.get_by_role("link", name="House rules").click()
        rule = self.spin("Disks that die in a year, %", self.page)
        rule.fill("6")
        rule.press("Enter")
        self.page.get_by_role("link", name="Safeguard").click()
        expect(odds).not_to_contain_text("1 in 50,000")

    def test_worth_and_boxes_that_fail(self) -> None:
        self.open_tern()
        self.page.get_by_role("tab", name="What it is worth").click()
        worth = self.page.get_by_role("table", name="What each copy is worth")
        expect(worth.get_by_role("row").filter(has_text="to the service")).to_contain_text(
            "Without it Archive is lost for good about 1 in 300 a year"
        )
        self.page.get_by_role("tab", name="Boxes and wires").click()
        box = self.page.get_by_role("row").filter(has_text="Signal room box")
        expect(box.first).to_contain_text("Edit, Colour")

    def test_a_group_is_lived_through_by_a_worker(self) -> None:
        self.open_plan(stage="Safeguard")
        self.page.get_by_role("tab", name="Redundancy").click()
        self.page.get_by_role("button", name="Live through ten million years of a group").click()
        expect(self.page.get_by_role("progressbar", name="Years lived through")).to_be_visible()
        with one_worker():
            said = self.page.get_by_role("region", name="After a loss")
            expect(said).to_contain_text(
                "10,000,000 years of such a group were lived through", timeout=90_000
            )
