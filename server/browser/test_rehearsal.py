"""A day rehearsed in the page: its account, its moments by key, what breaks, and what would have helped."""

from __future__ import annotations

from playwright.sync_api import expect

from browser.page import BrowserCase


class Rehearsing(BrowserCase):
    def test_the_day_is_told_walked_by_key_and_read_as_a_table(self) -> None:
        self.open_plan(stage="Rehearsal")
        day = self.page.get_by_role("region", name="The day", exact=True)
        expect(day).to_contain_text("Colour is unwatchable for 44 minutes, from 12:00 to 12:44")
        moment = self.page.get_by_role("status", name="At this moment")
        expect(moment).to_contain_text("Colour 1 gets")
        line = self.page.get_by_role("slider", name="Moment of the day")
        line.focus()
        before = line.get_attribute("aria-valuetext")
        for _ in range(4):
            self.page.keyboard.press("ArrowRight")
        expect(line).not_to_have_attribute("aria-valuetext", before or "")
        expect(moment).to_contain_text("Everybody gets what is asked.")
        self.page.get_by_text("The day as a table").click()
        row = self.page.get_by_role("table", name="Seats").get_by_role("row").filter(has_text="Colour 1")
        expect(row).to_contain_text("44 min")
        expect(row).to_contain_text("Boathouse pool")

    def test_a_disk_dies_and_a_time_that_is_none_is_named(self) -> None:
        self.open_plan(stage="Rehearsal")
        self.page.get_by_label("A disk dies in").select_option(label="Boathouse pool")
        day = self.page.get_by_role("region", name="The day", exact=True)
        expect(day).to_contain_text("A disk of Boathouse pool dies at 11:00.")
        at = self.page.get_by_label("At", exact=True)
        at.fill("half past")
        expect(self.page.get_by_role("alert")).to_contain_text("“half past” is no time of day")
        expect(day).to_contain_text("dies at 11:00.")
        at.fill("12:10")
        expect(day).to_contain_text("dies at 12:10.")

    def test_what_would_have_helped_is_taken(self) -> None:
        self.open_plan(name="Halyard Street", stage="Rehearsal")
        row = self.page.get_by_role("row").filter(has_text="Desk switch to the storage at 2.5GbE")
        expect(row).to_contain_text("0 min")
        row.get_by_role("button", name="Take it").click()
        expect(self.page.get_by_text("Nobody sees a frame drop.")).to_be_visible()
        self.until_saved(2)
