"""Growing and paying in the page: when it is full, what is bought then, readings by CSV, the pick list, the room."""

from __future__ import annotations

from playwright.sync_api import Locator, expect

from browser.page import BrowserCase

READINGS = b"""date,pool,used,project
2026-09-28,main,19.0TB,
2026-10-26,main,21.0TB,
2026-11-23,main,23.0TB,
2026-09-28,main,2TB,Gannets
2026-11-23,main,6TB,Gannets
"""


class Growing(BrowserCase):
    def open_tern(self) -> None:
        """The demo plan of two tiers, with purchases for when its archive is full."""
        self.house.plan("tern-and-tide")
        self.page.reload()
        self.open_plan(name="Tern & Tide", stage="Growth")

    @property
    def asked(self) -> Locator:
        return self.page.get_by_role("region", name="Growth")

    @property
    def answer(self) -> Locator:
        return self.page.get_by_role("region", name="Over the years")

    def test_the_answer_in_a_sentence_a_drawing_and_a_table(self) -> None:
        self.open_tern()
        expect(self.asked).to_contain_text("Archive is full in August 2028; 8 times in 10 between")
        drawing = self.answer.get_by_role("img")
        expect(drawing).to_contain_text("order by 6 Feb 2028")
        expect(drawing).to_contain_text("3 × 16 TB into free bays")
        expect(drawing).to_contain_text("plannable 86.9 TB")
        self.answer.get_by_text("The same as a table").click()
        table = self.page.get_by_role("table", name="Archive over the years")
        expect(table.get_by_role("row").nth(1)).to_contain_text("23 Nov 2026")
        self.answer.get_by_role("button", name="Work", exact=True).click()
        expect(drawing).not_to_contain_text("order by 6 Feb 2028")

    def test_a_nudge_moves_the_day_and_a_figure_opens_its_working(self) -> None:
        self.open_tern()
        more = self.spin("Brings more every year, by", self.asked)
        more.fill("40")
        more.press("Enter")
        expect(self.asked).not_to_contain_text("Archive is full in August 2028")
        expect(self.asked).to_contain_text("Archive is full in")
        five = self.page.get_by_role("table", name="Five years")
        five.get_by_role("row").filter(has_text="In all").get_by_role("button").click()
        expect(self.page.get_by_role("complementary")).to_contain_text("A ledger month by month")

    def test_a_way_is_planned_changed_and_taken_back(self) -> None:
        self.open_plan(stage="Growth")
        expect(self.answer.get_by_role("img")).to_contain_text("nothing is planned yet")
        self.page.get_by_role("tab", name="Ways to grow").click()
        ways = self.page.get_by_role("region", name="Ways of Boathouse pool")
        expect(ways).to_contain_text("Every drive is read and written in full for")
        expect(ways).to_contain_text("the catalogue has no larger ones that go into its bays")
        expect(self.answer.get_by_role("list", name="Cautions")).to_contain_text("Label before you pull")
        ways.get_by_role("button", name="3 × 14 TB into free bays").click()
        planned = self.asked.locator("details").filter(has_text="Bought when it is full").first
        expect(planned).to_contain_text("adds 32.6 TB")
        self.page.get_by_role("tab", name="What fits, what it costs").click()
        expect(self.answer.get_by_role("img")).to_contain_text("3 × 14 TB into free bays")
        planned.locator("summary").filter(has_text="3 × 14 TB").click()
        self.spin("Drives", planned).fill("2")
        self.spin("Drives", planned).press("Enter")
        expect(planned).to_contain_text("adds 21.7 TB")
        planned.get_by_role("button", name="Remove 3 × 14 TB into free bays").click()
        expect(self.answer.get_by_role("img")).to_contain_text("nothing is planned yet")

    def test_readings_come_by_csv_and_what_cannot_be_read_is_told(self) -> None:
        self.open_plan(stage="Growth")
        fold = self.asked.locator("details").filter(has_text="Readings").first
        fold.locator("summary").first.click()
        choose = fold.locator("input[type=file]")
        choose.set_input_files(
            {"name": "r.csv", "mimeType": "text/csv", "buffer": b"date,pool,used\n2026-11-01,attic,1TB\n"}
        )
        expect(fold).to_contain_text("the id or name of a pool (main)")
        choose.set_input_files({"name": "r.csv", "mimeType": "text/csv", "buffer": READINGS})
        expect(fold.get_by_role("status")).to_contain_text("5 new readings")
        fold.get_by_role("button", name="Take them in").click()
        expect(self.asked).to_contain_text("3 readings since September 2026")
        self.page.get_by_role("tab", name="Ways to grow").click()
        expect(self.answer.get_by_role("row").filter(has_text="Gannets")).to_contain_text("4.0 TB")
        self.page.get_by_role("button", name="Undo").click()
        expect(self.asked).not_to_contain_text("3 readings since")

    def test_the_pick_list_says_what_is_lacking_and_a_remedy_closes_it(self) -> None:
        self.open_tern()
        self.page.get_by_role("link", name="Tiers").click()
        self.spin("Category 6A cable, 10 m: number", self.page).fill("8")
        self.spin("Category 6A cable, 10 m: number", self.page).press("Enter")
        self.page.get_by_role("link", name="Growth").click()
        self.page.get_by_role("tab", name="Pick list").click()
        lines = self.page.get_by_role("table", name="Pick list")
        expect(lines.get_by_role("row").filter(has_text="lacking")).to_contain_text("Network cables")
        self.page.get_by_role("button", name="Findings").click()
        self.page.get_by_role("button", name="Put them among the purchases").click()
        expect(lines.get_by_text("lacking")).to_have_count(0)

    def test_prices_and_the_room_with_its_cautions(self) -> None:
        self.open_tern()
        self.page.get_by_role("tab", name="What a TB costs").click()
        costs = self.page.get_by_role("table", name="What a TB costs")
        expect(costs.get_by_role("row").filter(has_text="16 TB disk")).to_contain_text("€26.66")
        self.answer.get_by_text("Flash against disks behind a cache").click()
        expect(self.answer).to_contain_text("Flash alone is no dearer here")
        self.page.get_by_role("tab", name="Power and room").click()
        box = self.page.get_by_role("table", name="Power of the boxes").get_by_role("row")
        expect(box.filter(has_text="Boathouse box")).to_contain_text("254 W")
        expect(self.answer.get_by_role("list", name="Cautions").first).to_contain_text("licensed electrician")
        limit = self.spin("Noise at most", self.asked)
        limit.fill("30")
        limit.press("Enter")
        expect(self.asked).to_contain_text("Together the boxes are 36 dB(A)")
