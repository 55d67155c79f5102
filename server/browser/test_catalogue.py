"""Classes and prices, and the studio's own values, through the real interface and without a mouse."""

from __future__ import annotations

from playwright.sync_api import expect

from browser.page import ONE_BOX, BrowserCase

PRICES = b"class,price,currency,date\ndisk-16-array,300,EUR,2026-11-02\n"


class Catalogue(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_plan(stage="Catalogue")

    def press(self, name: str) -> None:
        self.page.get_by_role("button", name=name, exact=True).focus()
        self.page.keyboard.press("Enter")

    def bring(self, raw: bytes) -> None:
        chooser = self.page.locator("input[type=file]")
        chooser.set_input_files({"name": "list.csv", "mimeType": "text/csv", "buffer": raw})

    def test_a_price_list_is_shown_before_it_is_taken_and_prices_a_pool(self) -> None:
        self.press("Add the generic classes")
        expect(self.page.get_by_role("table", name="Drives")).to_contain_text("24 TB disk")
        self.bring(PRICES)
        expect(self.page.get_by_text("1 new line, 0 lines replaced, among the prices")).to_be_visible()
        self.press("Take them in")
        row = self.page.get_by_role("row").filter(has_text="16 TB disk, 7200 rpm, CMR, array class")
        expect(row).to_contain_text("€300")
        self.page.get_by_role("link", name="Tiers").click()
        self.page.get_by_label("Class of drive").select_option("disk-16-array")
        expect(self.page.get_by_text("€300 each by the list of 2 Nov 2026")).to_be_visible()
        expect(self.spin("Size each")).to_have_value("16")
        self.page.reload()
        expect(self.spin("Size each")).to_have_value("16")
        expect(self.page.get_by_label("Class of drive")).to_have_value("disk-16-array")

    def test_a_cache_takes_a_class_of_flash_and_keeps_its_figures_when_the_class_goes(self) -> None:
        self.press("Add the generic classes")
        self.page.get_by_role("link", name="Tiers").click()
        self.press("Add a flash cache or staging drive")
        self.page.get_by_label("Class of flash").select_option("flash-8-server")
        size = self.page.locator("[data-path='plan/caches/cache/drive_bytes']")
        expect(size).to_have_value("7.68")
        self.page.get_by_role("link", name="Catalogue").click()
        self.press("Remove 7.68 TB flash, NVMe, power-loss protection")
        self.page.get_by_role("link", name="Tiers").click()
        expect(self.page.get_by_label("Class of flash")).to_have_value("")
        expect(size).to_have_value("7.68")

    def test_a_pool_says_what_it_keeps_where_its_class_has_another_figure_and_takes_it_by_one_press(
        self,
    ) -> None:
        self.press("Add the generic classes")
        self.page.get_by_role("link", name="Tiers").click()
        self.page.get_by_label("Class of drive").select_option("disk-16-array")
        expect(self.spin("Size each")).to_have_value("16")
        kept = self.page.get_by_role("list", name="Figures of its own")
        expect(kept).to_have_count(0)
        self.page.get_by_role("link", name="Catalogue").click()
        self.press("16 TB disk, 7200 rpm, CMR, array class")
        self.spin("Size").fill("20")
        self.spin("Size").press("Enter")
        expect(kept).to_contain_text("keeps its own size each: 16 TB (class: 20 TB)")
        self.page.get_by_role("link", name="Tiers").click()
        expect(kept).to_contain_text("Keeps its own size each: 16 TB (class: 20 TB)")
        kept.get_by_role("button").focus()
        self.page.keyboard.press("Enter")
        expect(self.spin("Size each")).to_have_value("20")
        expect(kept).to_have_count(0)

    def test_a_faulty_list_changes_nothing_and_names_line_and_column(self) -> None:
        self.press("Add the generic classes")
        self.bring(PRICES.replace(b"300", b"cheap") + b"disk-9-attic,1,EUR,2026-11-02\n")
        expect(self.page.get_by_role("alert")).to_contain_text("line 2, price cannot be")
        self.bring(PRICES.replace(b"EUR", b"GBP"))
        self.press("Take them in")
        expect(self.page.get_by_role("alert")).to_contain_text("EUR, the plan's currency")

    def test_a_class_of_box_is_made_changed_and_built(self) -> None:
        self.page.get_by_role("tab", name="Boxes (0)").click()
        self.press("Add a class of box")
        self.press("New class of box")
        self.spin("Bays").fill("5")
        self.page.keyboard.press("Enter")
        self.press("Add a card slot to New class of box")
        expect(self.page.get_by_label("New class of box, Slot 1: holds")).to_be_visible()
        self.page.get_by_role("link", name="Tiers").click()
        self.page.get_by_label("Add a box of a class").select_option(label="New class of box")
        fronts = self.page.get_by_role("region", name="Box fronts")
        expect(fronts.get_by_role("button", name="Bay 5 of Box 2: free")).to_be_visible()

    def test_a_rule_is_made_the_studios_and_taken_by_another_plan(self) -> None:
        self.page.get_by_role("link", name="House rules").click()
        expect(self.page.get_by_role("status").filter(has_text="as they came")).to_be_visible()
        self.page.get_by_role("spinbutton", name="Enough from").fill("1.3")
        self.page.keyboard.press("Enter")
        self.press("Make these the studio’s")
        expect(self.page.get_by_text("set by technician on")).to_be_visible()
        self.until_saved(2)
        self.page.get_by_role("link", name="Plans").click()
        self.open_plan(name="Halyard Street", stage="House rules")
        self.press("Take 1.3 of Enough from")
        expect(self.page.get_by_role("spinbutton", name="Enough from")).to_have_value("1.3")
        self.press("Take the studio’s")
        expect(self.page.get_by_role("alert")).to_contain_text("has the studio’s already")
        self.page.get_by_role("link", name="Plans").click()
        expect(self.page.get_by_role("link", name=ONE_BOX, exact=True)).to_be_visible()
