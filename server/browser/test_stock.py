"""Taking stock with the keyboard alone, and files that are refused."""

from __future__ import annotations

from playwright.sync_api import Locator, expect

from accounts.models import Role
from browser.page import ONE_BOX, BrowserCase
from stock.models import Device

CSV = b"label,size,used,place,bought,materials\nBag 1,4TB,3TB,Loft,2017-01-01,Gannets=3TB\nBag 2,4TB,3TB,Loft,2025-01-01,Terns=1TB\n"
BOXES = (
    b"label,kind,size,used,ports,place,box,holder,handed,materials\n"
    b"West array,box,,,usb10G,Desk,,,,\n"
    b"West 1,drive,8TB,4TB,,Desk,West array,,,Kittiwake year=4TB main 2026-05-01\n"
    b"West 2,drive,8TB,1TB,,Desk,West array,,,Puffins=1TB\n"
    b"Bag 1,drive,8TB,4TB,,Loft,,boat unit,2026-09-20,Kittiwake year=4TB backup\n"
)


class TakingStock(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.page.get_by_role("link", name="Stock").click()
        self.page.get_by_label("Type what lies there").wait_for()

    def bring(self, raw: bytes) -> None:
        file = {"name": "stock.csv", "mimeType": "text/csv", "buffer": raw}
        self.page.get_by_label("Drop an inventory here").set_input_files(file)

    def devices(self) -> Locator:
        return self.page.get_by_role("table", name="Devices")

    def test_typed_found_opened_and_changed_by_keyboard_alone(self) -> None:
        keyboard = self.page.keyboard
        self.page.get_by_label("Type what lies there").focus()
        keyboard.type("2x 8TB hdd cmr 2018 loft 50%")
        keyboard.press("Enter")
        expect(self.devices().get_by_role("row").filter(has_text="8 TB disk")).to_have_count(2)
        self.page.get_by_role("button", name="8 TB disk 2").focus()
        keyboard.press("Enter")
        panel = self.page.get_by_role("complementary", name="8 TB disk 2")
        panel.get_by_label("Material", exact=True).focus()
        keyboard.type("Puffin burrow")
        keyboard.press("Tab")
        keyboard.type("3.5TB")
        keyboard.press("Enter")
        expect(panel.get_by_text("only here")).to_be_visible()
        panel.get_by_label("To whom").focus()
        keyboard.type("second unit")
        keyboard.press("Enter")
        expect(panel.get_by_text("With second unit since")).to_be_visible()
        expect(panel.get_by_text("8 TB disk 2 to second unit, not encrypted")).to_be_visible()
        keyboard.press("Escape")
        expect(panel).to_have_count(0)
        self.page.get_by_label("Which drive is it on?").focus()
        keyboard.type("puffin unit")
        expect(self.devices().get_by_role("row").filter(has_text="8 TB disk")).to_have_count(1)
        expect(self.devices().get_by_role("row").filter(has_text="8 TB disk 2")).to_be_visible()

    def test_which_drive_is_it_on(self) -> None:
        self.bring(BOXES)
        self.page.get_by_role("button", name="Add these 4").click()
        self.page.get_by_label("Which drive is it on?").fill("kittiwake")
        where = self.page.get_by_role("region", name="Where it is")
        expect(where).to_contain_text("4.0 TB in 2 places, told by the same name")
        row = where.get_by_role("row").filter(has_text="West 1")
        expect(row).to_contain_text("West array, Desk")
        expect(row).to_contain_text("main")
        expect(row).to_contain_text("1 May 2026")
        expect(where.get_by_role("row").filter(has_text="Bag 1")).to_contain_text(
            "with boat unit since 20 Sept 2026"
        )
        where.get_by_role("button", name="Bag 1").click()
        panel = self.page.get_by_role("complementary", name="Bag 1")
        panel.get_by_role("button", name="It is back").click()
        expect(panel.get_by_label("To whom")).to_be_visible()

    def test_checksums_show_that_two_names_are_one_shoot(self) -> None:
        self.bring(CSV)
        self.page.get_by_role("button", name="Add these 2").click()
        for name in ("Bag 1", "Bag 2"):
            self.devices().get_by_role("row").filter(has_text=name).get_by_role("button").click()
            panel = self.page.get_by_role("complementary", name=name)
            manifest = {"name": "sums.txt", "mimeType": "text/plain", "buffer": b"0" * 64 + b"  a.mov\n"}
            panel.get_by_label("Drop what sha256sum").set_input_files(manifest)
            expect(panel.get_by_text("Taken over: read back today.")).to_be_visible()
            panel.get_by_role("button", name="Close").click()
        self.page.get_by_label("Which drive is it on?").fill("terns")
        expect(self.page.get_by_role("region", name="Where it is")).to_contain_text("told by checksums")

    def test_the_move_is_reckoned_over_the_ports_typed(self) -> None:
        self.bring(BOXES)
        self.page.get_by_role("button", name="Add these 4").click()
        ports = self.page.get_by_label("Over the ports")
        expect(ports).to_have_value("usb10G")
        ports.fill("1GbE")
        ports.press("Enter")
        expect(self.page.get_by_text("the 1GbE port it arrives by").first).to_be_visible()
        ports.fill("string")
        ports.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text('"string"')
        expect(ports).to_have_value("string")

    def test_a_plan_takes_the_stocks_figures_over(self) -> None:
        self.bring(BOXES)
        self.page.get_by_role("button", name="Add these 4").click()
        expect(self.page.get_by_role("heading", name="Rescue first")).to_be_visible()
        self.page.get_by_role("link", name="Plans").click()
        self.page.get_by_role("link", name=ONE_BOX, exact=True).click()
        self.page.get_by_role("link", name="Brief").click()
        self.page.get_by_role("button", name="Take the stock’s figures").click()
        expect(self.page.get_by_label("Kept today")).to_have_value("5")
        expect(
            self.page.get_by_text("4 devices, 9.0 TB on them, 5.0 TB of it unique, 1.0 TB only once")
        ).to_contain_text("may serve")
        expect(self.page.get_by_role("link", name="Stock")).to_contain_text("1 open findings")

    def test_a_line_that_is_not_understood_stays(self) -> None:
        self.page.get_by_label("Type what lies there").fill("some old ssd")
        self.page.get_by_label("Type what lies there").press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("it needs a size")
        expect(self.page.get_by_label("Type what lies there")).to_have_value("some old ssd")

    def test_a_csv_is_shown_before_it_is_taken_in(self) -> None:
        self.bring(CSV)
        expect(self.page.get_by_text("2 devices, 8.0 TB in all: Bag 1, Bag 2")).to_be_visible()
        self.assertEqual(Device.objects.count(), 0)
        self.page.get_by_role("button", name="Add these 2").click()
        expect(self.page.get_by_text("1. Bag 1")).to_be_visible()

    def test_a_csv_with_faults_names_them_by_line_and_changes_nothing(self) -> None:
        self.bring(CSV + b"Bag 3,4Tb,,,,\n")
        expect(self.page.get_by_role("alert")).to_contain_text('Line 4: size cannot be "4Tb"')
        expect(self.page.get_by_role("button", name="Add these")).to_have_count(0)
        self.assertEqual(Device.objects.count(), 0)

    def test_a_refused_size_stays_with_its_sentence(self) -> None:
        self.page.get_by_label("Type what lies there").fill("4TB loft")
        self.page.get_by_label("Type what lies there").press("Enter")
        self.page.get_by_role("button", name="4 TB disk").click()
        panel = self.page.get_by_role("complementary")
        panel.get_by_label("Used").fill("9 TB")
        panel.get_by_label("Used").press("Enter")
        expect(panel.get_by_role("alert")).to_contain_text("at most the size")
        expect(panel.get_by_label("Used")).to_have_value("9 TB")

    def test_a_health_report_moves_the_state(self) -> None:
        self.page.get_by_label("Type what lies there").fill("4TB 2025 loft")
        self.page.get_by_label("Type what lies there").press("Enter")
        self.page.get_by_role("button", name="4 TB disk").click()
        report = (
            b'{"smartctl": {"version": [7, 3]}, "power_on_time": {"hours": 900}, "scsi_grown_defect_list": 4}'
        )
        file = {"name": "smart.json", "mimeType": "application/json", "buffer": report}
        self.page.get_by_label("Drop what smartctl").set_input_files(file)
        expect(self.page.get_by_role("complementary")).to_contain_text("failing, 4 sectors reallocated")

    def test_today_becomes_a_plan_with_its_own_verdict(self) -> None:
        self.page.get_by_label("Type what lies there").fill("4TB hdd hall")
        self.page.get_by_label("Type what lies there").press("Enter")
        expect(self.page.get_by_role("button", name="4 TB disk")).to_be_visible()
        self.page.get_by_label("Type what lies there").fill("2x 8TB hdd hall")
        self.page.get_by_label("Type what lies there").press("Enter")
        expect(self.page.get_by_role("button", name="8 TB disk 2")).to_be_visible()
        # What is told above the form comes by an answer of its own, and moves the form down.
        expect(self.page.get_by_role("cell", name="3 × 20.0 TB")).to_be_visible()
        self.page.get_by_label("Layout there").select_option("raid6")
        self.page.get_by_role("button", name="Make it a plan").click()
        expect(self.page.get_by_role("alert")).to_contain_text("4 drives or more")
        self.page.get_by_label("Layout there").select_option("raid5")
        self.page.get_by_role("button", name="Make it a plan").click()
        expect(self.page.get_by_role("heading", name="Today")).to_be_visible()
        expect(self.scale("space")).to_contain_text("6.3 TB for")
        self.page.get_by_label("Mixed sizes instead").fill("4TB+2x8TB+14TB")
        self.page.get_by_label("Mixed sizes instead").press("Enter")
        expect(self.scale("space")).to_contain_text("9.5 TB for")

    def test_a_viewer_can_look_and_search_only(self) -> None:
        page = self.somebody(Role.VIEWER)
        page.get_by_role("link", name="Stock").click()
        page.get_by_label("Which drive is it on?").wait_for()
        expect(page.get_by_label("Type what lies there")).to_have_count(0)
