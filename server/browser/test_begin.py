"""The first five minutes: a plan begun, its seats, what is found and explained, by keyboard."""

from __future__ import annotations

from django.conf import settings
from playwright.sync_api import Locator, Page, expect

from accounts.models import Role
from browser.page import BrowserCase
from plans.models import Plan, Revision
from stock.actions import add_quick
from tests.house import PASSWORD

LINE = (
    "4 edit seats play 2 streams 220 Mb/s, 1 colour 4K 10-bit 444, 2 photo 60MB raw, 20 h a week, 8 TB today"
)
MOST_KEYSTROKES = 60


class Typist:
    """Somebody without a mouse: keys that are no text are counted."""

    def __init__(self, page: Page) -> None:
        self.page, self.keystrokes = page, 0

    def press(self, *keys: str) -> None:
        for key in keys:
            self.keystrokes += 1
            self.page.keyboard.press(key)

    def type(self, text: str) -> None:
        self.page.keyboard.type(text)


class FirstFiveMinutes(BrowserCase):
    def test_from_the_door_to_a_judged_plan_and_a_finding_mended_without_a_mouse(self) -> None:
        page = self.fresh_page()
        page.goto("/")
        somebody = Typist(page)
        expect(page.get_by_label("Name")).to_be_focused()
        somebody.type(Role.TECHNICIAN.value)
        somebody.press("Tab")
        somebody.type(PASSWORD)
        somebody.press("Enter")
        page.get_by_role("heading", name="Plans").wait_for()
        somebody.press("n")
        expect(page.get_by_label("The brief in one line")).to_be_focused()
        somebody.type(f"{LINE}, 3 years, 9000 EUR, quiet, closet")
        somebody.press("Enter")
        still_open = page.get_by_role("navigation", name="Still open")
        expect(still_open).to_contain_text("a first pool of drives")
        somebody.press("o")
        expect(page.get_by_role("button", name="Add a first pool")).to_be_focused()
        somebody.press("Enter")
        expect(page.get_by_label("Pool", exact=True)).to_be_focused()
        for name in ("speed", "space"):
            expect(self.scale(name, page)).not_to_contain_text("open")
        expect(self.scale("safety", page)).to_contain_text("nobody has said where copies go")
        somebody.press("Control+k")
        somebody.type("will not hold")
        somebody.press("Enter")
        finding = page.get_by_role("listitem").filter(has_text="Main pool will not hold what is kept")
        expect(finding).to_be_focused()
        remedy = finding.get_by_role("button", name="Use ")
        expect(remedy).to_be_visible()
        somebody.press("Tab", "Enter")
        expect(finding).to_have_count(0)
        expect(self.scale("space", page)).not_to_contain_text("short")
        self.assertLessEqual(somebody.keystrokes, MOST_KEYSTROKES)
        somebody.press("Escape")
        self.until_saved(2, page)
        brief = Revision.objects.latest("pk").document["plan"]["brief"]
        self.assertEqual([seat["name"] for seat in brief["seats"]], ["Edit", "Colour", "Photo"])
        # What is left open is the price and the copies; it is led to the price, and then to the copies.
        somebody.press("o")
        expect(page.get_by_label("Price each").first).to_be_focused()
        somebody.type("300")
        somebody.press("Enter")
        still_open.get_by_text("where copies go").press("Enter")
        expect(page.get_by_role("heading", name="What is left after a loss")).to_be_visible()
        expect(page.get_by_label("Add a copy")).to_be_focused()


class Beginning(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.page.get_by_role("button", name="Begin a plan").click()
        self.line = self.page.get_by_label("The brief in one line")

    def test_what_is_understood_is_shown_and_an_unknown_word_named(self) -> None:
        self.line.fill(f"{LINE}, gold")
        unknown = self.page.get_by_label("What is not understood")
        expect(unknown).to_contain_text("“gold” is no word of a brief")
        expect(self.line).to_have_attribute("aria-invalid", "true")
        row = self.page.get_by_role("row").filter(has_text="2 photo 60MB raw")
        expect(row).to_contain_text("1.5 pictures a second of 60 MB: 90 MB/s each")
        self.page.get_by_role("button", name="Begin with this").click()
        expect(self.page.get_by_role("alert")).to_contain_text("“gold”")
        expect(self.line).to_have_value(f"{LINE}, gold")

    def test_what_was_assumed_is_typed_over(self) -> None:
        self.line.fill("1 colour 4K 10-bit 444, quiet")
        self.page.get_by_role("button", name="8:1 assumed").click()
        self.page.keyboard.type("4")
        expect(self.line).to_have_value("1 colour 4K 10-bit 444 4:1, quiet")
        expect(self.page.get_by_role("row").filter(has_text="4:1")).to_contain_text("194 MB/s each")
        expect(self.page.get_by_role("button", name="8:1 assumed")).to_have_count(0)

    def test_a_starting_point_a_copy_the_stock_and_nothing(self) -> None:
        add_quick(self.house.scope(Role.TECHNICIAN), "6x 8TB hdd loft")
        self.page.reload()
        self.page.get_by_role("button", name="A film team of six").click()
        for name in ("speed", "space"):
            expect(self.scale(name)).to_contain_text("enough")
        self.again()
        self.page.get_by_label("A copy of another plan").select_option(label="Halyard Street")
        expect(self.page.get_by_role("heading", name="Halyard Street, copy")).to_be_visible()
        self.again()
        self.line.fill("2 photo 60MB raw")
        self.page.get_by_text("The stock as it stands").click()
        self.page.get_by_role("button", name="Make it a plan").click()
        expect(self.page.get_by_role("heading", name="Today", exact=True)).to_be_visible()
        today = Plan.objects.get(name="Today").revisions.get().document["plan"]
        self.assertEqual([seat["kind"] for seat in today["brief"]["seats"]], ["photo"])
        self.again()
        self.page.get_by_role("button", name="Begin empty").click()
        expect(self.page.get_by_role("navigation", name="Still open")).to_contain_text("who works")

    def again(self) -> None:
        self.page.goto("/")
        self.page.get_by_role("button", name="Begin a plan").click()


class Seats(BrowserCase):
    def formats(self) -> Locator:
        return self.page.get_by_role("listbox", name="Formats").get_by_role("option")

    def test_a_seat_is_added_with_its_format_in_one_place(self) -> None:
        self.open_plan(stage="Brief")
        self.page.get_by_role("button", name="Add a footage seat").click()
        expect(self.page.get_by_label("What it plays: find a format")).to_be_focused()
        self.page.keyboard.type("gold")
        expect(self.page.get_by_text("“gold” is no word of a format")).to_be_visible()
        self.page.keyboard.press("Control+a")
        self.page.keyboard.type("4k 10 bit 422 400")
        expect(self.formats().first).to_contain_text("50 MB/s")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_label("Name of New seat")).to_be_focused()
        chosen = self.page.get_by_label("New seat: format", exact=True)
        expect(chosen.locator("option:checked")).to_have_text("3840×2160, 10-bit 4:2:2, 400 Mb/s")
        self.until_saved(2)

    def test_a_clip_of_ones_own_is_the_format_of_a_new_seat(self) -> None:
        self.open_plan(stage="Brief")
        self.page.get_by_role("button", name="Add a footage seat").click()
        self.page.get_by_text("From a clip of your own").click()
        example = settings.ROOT / "docs" / "examples" / "gannet-ledge.ffprobe.json"
        self.page.get_by_label("Drop what ffprobe printed").first.set_input_files(example)
        expect(self.page.get_by_label("Name of New seat")).to_be_focused()
        chosen = self.page.get_by_label("New seat: format", exact=True)
        expect(chosen.locator("option:checked")).to_contain_text("gannet")

    def test_one_is_said_as_one(self) -> None:
        self.open_plan(stage="Brief")
        colour = self.page.get_by_role("group").filter(has=self.page.get_by_label("Name of Colour")).first
        expect(colour).to_contain_text("seat that")
        expect(colour).to_contain_text("stream of")
        expect(colour).not_to_contain_text("streams of")

    def test_a_seat_takes_another_format_that_the_plan_did_not_have(self) -> None:
        self.open_plan(stage="Brief")
        self.page.get_by_role("button", name="other format for Edit …").click()
        self.page.keyboard.type("vc-3 class 185")
        expect(self.formats().first).to_contain_text("VC-3 class 185")
        self.page.keyboard.press("Enter")
        chosen = self.page.get_by_label("Edit: format", exact=True)
        expect(chosen.locator("option:checked")).to_contain_text("VC-3 class 185")
        self.page.get_by_role("button", name="other format for Edit …").click()
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_label("Edit: find a format")).to_have_count(0)

    def test_figures_are_read_whole_and_odds_are_per_cent(self) -> None:
        self.open_plan(stage="Brief")
        budget = self.spin("Budget")
        budget.fill("140000")
        budget.press("Enter")
        expect(budget).to_have_value("140,000")
        self.assertTrue(budget.evaluate("e => e.scrollWidth <= e.clientWidth"))
        peak = self.spin("Edit: part of the day at peak, %")
        peak.fill("65 %")
        peak.press("Enter")
        expect(peak).to_have_value("65")
        peak.fill("165")
        peak.press("Enter")
        refusal = 'At peak cannot be "165 %": accepted is a number up to 100 %'
        expect(self.page.get_by_text(refusal)).to_be_visible()
        peak.fill("65")
        peak.press("Enter")
        self.until_saved(2)
        seat = Revision.objects.latest("pk").document["plan"]["brief"]["seats"][0]
        self.assertEqual(seat["probability"], 0.65)
        offered = self.page.get_by_label("Add a published class").bounding_box()
        column = self.page.get_by_role("region", name="Brief").bounding_box()
        assert offered and column
        self.assertLessEqual(offered["x"] + offered["width"], column["x"] + column["width"])
        self.page.get_by_role("button", name="Add by frame size").click()
        expect(self.page.get_by_label("Name", exact=True).last).to_be_focused()


class Finding(BrowserCase):
    def find(self, text: str, kind: str, downs: int = 0) -> None:
        self.page.keyboard.press("Control+k")
        self.page.keyboard.type(text)
        found = self.page.get_by_role("listbox", name="Found").get_by_role("option")
        expect(found.filter(has_text=kind).first).to_be_visible()
        for _ in range(downs):
            self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("Enter")

    def test_whatever_is_found_opens_with_the_focus_on_it(self) -> None:
        [drive] = add_quick(self.house.scope(Role.TECHNICIAN), "4TB hdd loft")
        self.open_plan(name="Halyard Street")
        self.find("retouching", "seat")
        expect(self.page.get_by_label("Name of Retouching desk")).to_be_focused()
        self.find("portrait pool", "pool")
        expect(self.page.get_by_label("Pool", exact=True)).to_be_focused()
        self.find("rush at peak", "rule")
        expect(self.spin("In a rush at peak, at least, %")).to_be_focused()
        self.find("hangs by one drive", "finding")
        finding = self.page.get_by_role("listitem").filter(has_text="hangs by one drive")
        expect(finding).to_be_focused()
        # No step mends it: it says where one begins, and leads there.
        finding.get_by_role("button", name="Go to Portrait pool: Layout").press("Enter")
        expect(self.page.get_by_label("Layout", exact=True)).to_be_focused()
        self.find("retouching", "figure", downs=1)
        self.find(f"device {drive.label}", "device")
        expect(self.page.get_by_role("complementary", name=drive.label)).to_be_visible()

    def test_a_bay_is_found_in_its_box(self) -> None:
        self.open_plan(stage="Brief")
        self.find("boathouse box, bay 3", "bay")
        expect(self.page.locator('[data-path="plan/boxes/boathouse/bays/bay-3"]')).to_be_focused()

    def test_another_plan_is_found_and_opened(self) -> None:
        self.open_plan(name="Halyard Street")
        self.find("one box", "plan")
        expect(self.page.get_by_role("heading", name="Tern & Tide, one box")).to_be_visible()


class Explaining(BrowserCase):
    def test_terms_open_by_key_and_by_pointer(self) -> None:
        self.open_plan()
        card = self.page.get_by_test_id("term")
        self.spin("Hot spares").focus()
        self.page.keyboard.press("F1")
        expect(card).to_contain_text("An empty drive in the box that takes a dead one's place at once.")
        self.page.keyboard.press("Escape")
        expect(card).to_be_empty()
        expect(self.spin("Hot spares")).to_be_focused()
        self.page.locator("label").get_by_text("headroom").click()
        expect(card).to_contain_text("headroom")
        self.page.get_by_role("button", name="Findings").focus()
        expect(card).to_be_empty()
        self.page.get_by_role("link", name="Wiring").click()
        head = self.page.get_by_role("columnheader", name="Box").get_by_role("button", name="Box")
        head.focus()
        self.page.keyboard.press("Enter")
        expect(card).to_contain_text("box")


class OnAPhone(BrowserCase):
    def test_the_head_is_whole_and_nothing_scrolls_sideways(self) -> None:
        page = self.somebody(Role.TECHNICIAN, width=360)
        self.fits(page)
        page.get_by_role("button", name="Begin a plan").click()
        page.get_by_label("The brief in one line").fill(LINE)
        page.get_by_role("row").filter(has_text="2 photo").wait_for()
        self.fits(page)
        page.keyboard.press("Enter")
        head = page.get_by_role("banner").bounding_box()
        undo = page.get_by_role("button", name="Undo").bounding_box()
        assert head and undo
        self.assertGreater(undo["y"], head["y"] + 2)
        self.assertLess(undo["y"] + undo["height"], head["y"] + head["height"] - 2)
        self.fits(page)

    def test_every_stage_of_a_plan_with_findings_fits(self) -> None:
        page = self.open_plan(self.somebody(Role.TECHNICIAN, width=360), name="Halyard Street")
        for stage in ("Brief", "Tiers", "Wiring", "Rehearsal"):
            page.get_by_role("link", name=stage).click()
            page.get_by_role("main").get_by_role("heading").first.wait_for()
            self.fits(page)

    def fits(self, page: Page) -> None:
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth - window.innerWidth"), 0)
