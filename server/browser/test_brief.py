"""The brief in full, typed with the keyboard alone, and read off the screen."""

from __future__ import annotations

from playwright.sync_api import expect

from browser.page import BrowserCase
from plans.models import Revision


class BriefInFull(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_plan(stage="Brief")

    def press(self, button: str) -> None:
        self.page.get_by_role("button", name=button, exact=True).focus()
        self.page.keyboard.press("Enter")

    def unfold(self, title: str) -> None:
        self.page.locator("summary").filter(has_text=title).first.focus()
        self.page.keyboard.press("Enter")

    def brief(self) -> dict:
        return Revision.objects.filter(plan=self.house.tern).latest("number").document["plan"]["brief"]

    def test_angles_and_renders_of_a_seat_raise_the_load(self) -> None:
        expect(self.scale("speed")).to_contain_text("388 for 621 MB/s")
        self.unfold("More of Edit")
        self.spin("Camera angles at once").first.focus()
        self.page.keyboard.press("ArrowUp")
        expect(self.scale("speed")).not_to_contain_text("for 621 MB/s")
        self.press("Add renders, previews or proxies to Edit")
        expect(self.page.get_by_label("Name of Renders")).to_be_visible()
        self.until_saved(3)
        edit = self.brief()["seats"][0]
        self.assertEqual((edit["angles"], edit["activities"][0]["direction"]), (2, "write"))

    def test_four_angles_that_the_machine_cannot_decode_are_mended_by_proxies(self) -> None:
        self.unfold("More of Edit")
        self.spin("Camera angles at once").first.fill("6")
        self.page.keyboard.press("Enter")
        self.page.get_by_role("heading", name="Asked at once").click()
        self.page.keyboard.press("f")
        self.press("Cut on H.264 proxy, 8 Mb/s")
        expect(self.page.get_by_text("cannot decode what it plays")).to_have_count(0)

    def test_a_production_with_impossible_dates_keeps_them_with_the_sentence(self) -> None:
        self.press("Add a production")
        expect(self.page.get_by_label("What it shoots: find a format")).to_be_focused()
        formats = self.page.get_by_role("listbox", name="Formats")
        expect(formats.get_by_role("option").first).to_be_visible()
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_label("Name of New production")).to_be_focused()
        self.unfold("More of New production")
        archived = self.page.locator('[data-path="plan/brief/productions/production/archived_on"]')
        archived.fill("2026-12-01")
        archived.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("or later, when it is delivered")
        expect(archived).to_have_value("2026-12-01")
        self.until_saved(2)
        self.assertEqual(len(self.brief()["productions"]), 3)

    def test_a_night_of_backups_is_a_part_of_the_day(self) -> None:
        answer = self.page.get_by_role("region", name="Load and growth")
        expect(answer.get_by_role("row").filter(has_text="Day 9 h")).to_contain_text("busiest")
        self.unfold("Parts of the day and services")
        self.spin("Workstation backups: writes a day, GB").fill("4000")
        self.page.keyboard.press("Enter")
        expect(answer.get_by_role("row").filter(has_text="Night 8 h")).to_contain_text("busiest")
        self.page.get_by_label("Workstation backups: runs in").select_option("")
        expect(answer.get_by_role("row").filter(has_text="Day 9 h")).to_contain_text("busiest")

    def test_odds_above_one_are_refused_beside_the_field(self) -> None:
        self.spin("Edit: part of the day at peak, %").fill("140")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("At peak cannot be")
        expect(self.spin("Edit: part of the day at peak, %")).to_have_value("140")

    def test_where_projects_live_is_a_finding_either_way(self) -> None:
        self.page.get_by_label("Project files and catalogues live").select_option("on the share")
        self.page.get_by_role("heading", name="Asked at once").click()
        self.page.keyboard.press("f")
        self.press("Keep them on each workstation, copied every night")
        expect(self.page.get_by_text("catalogues are opened on the share")).to_have_count(0)
        self.page.keyboard.press("Escape")
        self.page.get_by_role("link", name="Safeguard").click()
        self.page.locator("summary").filter(has_text="Project files to the desk disk").click()
        self.page.get_by_role("button", name="Remove Project files to the desk disk").click()
        expect(self.page.get_by_role("link", name="Brief")).to_contain_text("1 open findings")

    def test_what_moves_the_load_most_is_told_on_asking(self) -> None:
        self.unfold("What would change the load most")
        movers = self.page.get_by_role("row").filter(has_text="Ingest station: Card readers at once")
        expect(movers).to_be_visible()

    def test_published_classes_sound_and_stills_join_the_library(self) -> None:
        self.page.get_by_label("Add a published class").select_option(
            label="VC-3 class 120, 1080p25 (SMPTE ST 2019-1)"
        )
        self.joins("VC-3 class 120", "15 MB/s")
        self.press("Add sound")
        self.joins("Sound", "0.3 MB/s")
        self.press("Add stills in a row")
        self.joins("Time-lapse", "2.0 MB/s")

    def joins(self, name: str, rate: str) -> None:
        """What was just added stands open, with the focus in it."""
        entry = self.page.locator("summary").filter(has_text=name)
        expect(entry).to_contain_text(rate)
        expect(entry.locator("..").get_by_label("Name", exact=True)).to_be_focused()

    def test_a_seat_far_away_is_told_when_it_can_start(self) -> None:
        answer = self.page.get_by_role("region", name="Load and growth")
        expect(answer.get_by_role("row").filter(has_text="Assistant far away")).to_contain_text(
            "2 h for a day’s 11 GB"
        )
        self.unfold("Line, room, tolerances, people")
        self.spin("Line up").fill("0")
        self.page.keyboard.press("Enter")
        expect(answer.get_by_role("row").filter(has_text="Assistant far away")).to_contain_text(
            "never: no line"
        )
