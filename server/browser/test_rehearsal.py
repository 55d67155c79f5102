"""A day rehearsed in the page: its account, its moments by key, what breaks, and what would have helped."""

from __future__ import annotations

from playwright.sync_api import expect

from browser.page import BrowserCase
from tests.workers import one_worker


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
        self.page.get_by_label("What breaks").select_option(label="a disk of Boathouse pool")
        day = self.page.get_by_role("region", name="The day", exact=True)
        expect(day).to_contain_text("A disk of Boathouse pool dies at 11:00.")
        at = self.page.get_by_label("When", exact=True)
        at.fill("half past")
        expect(self.page.get_by_role("alert")).to_contain_text("“half past” is no time of day")
        expect(day).to_contain_text("dies at 11:00.")
        at.fill("12:10")
        expect(day).to_contain_text("dies at 12:10.")
        self.page.get_by_role("button", name="And something else").click()
        self.page.get_by_label("What breaks 2").select_option(label="Cutting room switch")
        expect(day).to_contain_text("Cutting room switch dies at 11:00.")
        self.page.get_by_role("tab", name="The bays then").click()
        line = self.page.get_by_role("slider", name="Moment of the day")
        line.focus()
        for _ in range(12):
            self.page.keyboard.press("PageDown")
        expect(self.page.get_by_text("Boathouse pool runs without a disk.")).to_be_visible()

    def test_hours_are_set_moved_by_key_and_left_to_the_odds_again(self) -> None:
        self.open_plan(stage="Rehearsal")
        self.page.get_by_role("heading", name="Timetable").click()
        self.page.get_by_role("button", name="Set the hours of Colour").click()
        bar = self.page.get_by_role("button", name="Colour works from 11:15 to 15:45")
        bar.focus()
        self.page.keyboard.press("ArrowRight")
        self.page.keyboard.press("Shift+ArrowRight")
        moved = self.page.get_by_role("button", name="Colour works from 11:30 to 16:15")
        expect(moved).to_be_focused()
        begins = self.spin("Colour 1: from", self.page)
        expect(begins).to_have_value("11:30")
        begins.fill("quarter past")
        begins.press("Enter")
        expect(self.page.get_by_role("alert").first).to_contain_text("a time of day such as 11:30")
        begins.fill("12:00")
        begins.press("Enter")
        expect(self.page.get_by_role("button", name="Colour works from 12:00 to 16:15")).to_be_visible()
        self.page.get_by_role("button", name="By its odds again of Colour").click()
        expect(self.page.get_by_role("button", name="Colour works from")).to_have_count(0)

    def test_a_job_of_the_timetable_is_done_and_what_is_too_large_is_named(self) -> None:
        self.open_plan(stage="Rehearsal")
        self.page.get_by_role("heading", name="Timetable").click()
        self.page.get_by_role("button", name="a render").click()
        size = self.spin("Render: reads, GB", self.page)
        size.fill("300")
        size.press("Enter")
        self.page.get_by_text("The day as a table").click()
        row = self.page.get_by_role("table", name="Jobs").get_by_role("row").filter(has_text="Render")
        expect(row).to_contain_text("300 GB")
        written = self.spin("Render: writes, GB", self.page)
        written.fill("900TB")
        written.press("Enter")
        expect(self.page.get_by_role("alert").first).to_contain_text("what Boathouse pool holds")

    def test_many_days_are_drawn_by_a_worker_and_the_page_says_how_far_they_are(self) -> None:
        self.open_plan(stage="Rehearsal")
        self.page.get_by_role("button", name="Draw them").click()
        expect(self.page.get_by_role("progressbar", name="Days drawn")).to_be_visible()
        expect(self.page.get_by_text("0 of 200 days")).to_be_visible()
        self.page.get_by_role("button", name="Cancel").click()
        expect(self.page.get_by_text("Cancelled after 0 of 200 days.")).to_be_visible()
        self.page.get_by_role("button", name="Go on with the last").click()
        with one_worker():
            table = self.page.get_by_role("table", name="Unwatchable on many days")
            expect(table.get_by_role("row").filter(has_text="Colour")).to_contain_text("min (")
        self.page.reload()
        expect(self.page.get_by_text("200 drawn days of the plan")).to_be_visible()

    def test_what_would_have_helped_is_taken(self) -> None:
        self.open_plan(name="Halyard Street", stage="Rehearsal")
        row = self.page.get_by_role("row").filter(has_text="Desk switch to Two-bay desktop box at 2.5GbE")
        expect(row).to_contain_text("0 min")
        row.get_by_role("button", name="Take it").click()
        expect(self.page.get_by_text("Nobody sees a frame drop, and every job is in time.")).to_be_visible()
        self.until_saved(2)

    def test_what_was_measured_names_a_culprit_and_what_would_tell_it_from_the_next(self) -> None:
        self.open_plan(stage="Rehearsal")
        self.page.get_by_role("tab", name="It is slow today").click()
        self.page.get_by_label("Seat", exact=True).select_option(label="Colour")

        def measured(label: str, value: str) -> None:
            field = self.page.get_by_label(label, exact=True)
            field.fill(value)
            field.press("Enter")

        measured("A file copied from the storage", "104")
        measured("iperf3 to the box", "116 MB/s")
        culprits = self.page.get_by_role("region", name="Culprits")
        expect(culprits.get_by_role("heading", level=2)).to_have_text("The seat's own link came up at 1GbE")
        expect(culprits).to_contain_text("Measure the same copy from the storage at another seat: about")
        measured("The same copy at another seat", "106")
        expect(culprits.get_by_role("heading", level=2)).to_have_text("A link that all share came up at 1GbE")
        measured("Played from the storage", "fast")
        field = self.page.get_by_label("Played from the storage", exact=True)
        expect(field).to_have_attribute("aria-invalid", "true")
        expect(self.page.get_by_role("alert")).to_contain_text("Played from the storage cannot be")
        expect(field).to_have_value("fast")
