"""What redundancy carries, in the page: the sentence, what it is reckoned from, and other layouts."""

from __future__ import annotations

from playwright.sync_api import expect

from browser.page import BrowserCase
from tests.workers import worker


class Safeguarding(BrowserCase):
    def test_a_pool_says_its_odds_and_what_they_come_from_and_follows_a_nudge(self) -> None:
        self.open_plan(stage="Safeguard")
        said = self.page.get_by_role("region", name="Redundancy")
        expect(said).to_contain_text("Boathouse pool: a loss of data is about 1 in 50,000 a year")
        expect(said).to_contain_text("Redundancy is not a backup.")
        reckoned = self.page.get_by_role("table", name="Boathouse pool is reckoned from")
        expect(reckoned.get_by_role("row").filter(has_text="Survives")).to_contain_text("2 dead drives")
        expect(reckoned.get_by_role("row").filter(has_text="By data sheets")).to_contain_text("1 in 7,000")
        layouts = self.page.get_by_role("table", name="Odds by layout")
        expect(layouts.get_by_role("row").filter(has_text="as planned")).to_contain_text("Double parity")
        self.page.get_by_role("link", name="House rules").click()
        rule = self.spin("Disks that die in a year, %", self.page)
        rule.fill("6")
        rule.press("Enter")
        self.page.get_by_role("link", name="Safeguard").click()
        expect(reckoned.get_by_role("row").filter(has_text="die in a year")).to_contain_text("6 %")
        expect(said).not_to_contain_text("1 in 50,000")

    def test_a_group_is_lived_through_by_a_worker(self) -> None:
        self.open_plan(stage="Safeguard")
        self.page.get_by_role("button", name="Live through ten million years of a group").click()
        expect(self.page.get_by_role("progressbar", name="Years lived through")).to_be_visible()
        works = worker()
        try:
            said = self.page.get_by_role("region", name="Redundancy")
            expect(said).to_contain_text(
                "10,000,000 years of such a group were lived through", timeout=90_000
            )
        finally:
            works.terminate()
            works.wait()
