"""Several pools, layouts compared and house rules changed, without a mouse."""

from __future__ import annotations

from playwright.sync_api import Locator, expect

from browser.page import BrowserCase
from plans.models import Revision


class Pools(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.open_plan()

    def press(self, target: Locator) -> None:
        target.focus()
        self.page.keyboard.press("Enter")

    def test_an_archive_beside_takes_its_own_load_and_goes_again(self) -> None:
        self.press(self.page.get_by_role("button", name="Add a pool"))
        archive = (
            self.page.get_by_role("table", name="All pools")
            .get_by_role("row")
            .filter(has_text="Archive pool")
        )
        expect(archive).to_contain_text("of 14 MB/s")
        self.until_saved(2)
        self.spin("Drives").fill("6")
        self.page.keyboard.press("Enter")
        expect(archive).to_contain_text("43.5 TB")
        self.until_saved(3)
        pools = Revision.objects.filter(plan=self.house.tern).latest("number").document["plan"]["pools"]
        self.assertEqual([(p["tier"], p["drive_count"]) for p in pools], [("work", 9), ("archive", 6)])
        self.press(self.page.get_by_role("button", name="Remove Archive pool"))
        expect(self.page.get_by_role("table", name="All pools")).to_have_count(0)

    def test_a_layout_is_taken_from_the_comparison_and_undone(self) -> None:
        self.page.locator("summary").filter(has_text="These drives under every layout").focus()
        self.page.keyboard.press("Enter")
        rows = self.page.get_by_role("table", name="Layouts compared").get_by_role("row")
        expect(rows).to_have_count(18)
        expect(rows.filter(has_text="Double parity, the pool’s own")).to_contain_text("76.1 TB")
        self.press(self.page.get_by_role("button", name="Take Copy-on-write, triple parity"))
        expect(self.scale("space")).to_contain_text("62.5 TB")
        expect(rows.filter(has_text="triple parity, the pool’s own")).to_contain_text("62.5 TB")
        self.until_saved(2)
        self.page.get_by_role("heading", name="Drives").click()
        self.page.keyboard.press("u")
        expect(self.scale("space")).to_contain_text("76.1 TB")

    def test_a_flash_cache_reads_faster_and_its_dangers_are_mended_one_by_one(self) -> None:
        self.press(self.page.get_by_role("button", name="Add a flash cache"))
        answer = self.page.get_by_role("region", name="What the pool gives")
        expect(answer).to_contain_text("of a working week’s reads")
        expect(self.scale("speed")).to_contain_text("tight")
        self.page.get_by_role("combobox", name="Mode").select_option("write-back")
        expect(answer).to_contain_text("goes in at the speed of the flash")
        self.page.get_by_role("heading", name="Drives").click()
        self.page.keyboard.press("f")
        self.press(self.page.get_by_role("button", name="Use flash with power-loss protection"))
        expect(self.page.get_by_text("without power-loss protection")).to_have_count(0)
        self.page.keyboard.press("Escape")
        self.page.get_by_label("Mirrored").press("Space")
        self.spin("Flash drives").fill("3")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("an even number of drives")
        expect(self.spin("Flash drives")).to_have_value("3")

    def test_drives_are_placed_in_bays_with_the_keyboard_alone(self) -> None:
        fronts = self.page.get_by_role("region", name="Box fronts")
        first = fronts.get_by_role("button", name="Bay 1 of Boathouse box")
        expect(first).to_have_accessible_name("Bay 1 of Boathouse box: Boathouse pool, 14.0 TB data, parity")
        first.focus()
        self.page.keyboard.press("Enter")
        expect(first).to_have_accessible_name("Bay 1 of Boathouse box: free")
        expect(fronts).to_contain_text("1 drive of Boathouse pool in no bay yet")
        self.until_saved(2)
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("ArrowLeft")
        self.page.keyboard.press("ArrowLeft")
        self.press(fronts.get_by_role("button", name="Bay 12 of Boathouse box"))
        expect(fronts.get_by_role("button", name="Bay 12 of Boathouse box")).to_have_attribute(
            "aria-pressed", "true"
        )
        self.until_saved(3)
        pool = Revision.objects.filter(plan=self.house.tern).latest("number").document["plan"]["pools"][0]
        self.assertEqual(pool["bays"], "boathouse:2-9,12")
        self.press(fronts.get_by_role("button", name="Take Boathouse pool out"))
        self.press(fronts.get_by_role("button", name="Fill the next 9 free bays"))
        expect(first).to_have_attribute("aria-pressed", "true")

    def test_two_bays_change_places_in_one_step_and_back(self) -> None:
        fronts = self.page.get_by_role("region", name="Box fronts")
        self.press(fronts.get_by_role("button", name="Swap two bays"))
        expect(fronts).to_contain_text("Choose the first of the two bays")
        self.press(fronts.get_by_role("button", name="Bay 2 of Boathouse box"))
        self.page.keyboard.press("Escape")
        expect(fronts.get_by_role("button", name="Swap two bays")).to_have_attribute("aria-pressed", "false")
        self.press(fronts.get_by_role("button", name="Swap two bays"))
        self.press(fronts.get_by_role("button", name="Bay 2 of Boathouse box"))
        self.press(fronts.get_by_role("button", name="Bay 11 of Boathouse box"))
        expect(fronts.get_by_role("button", name="Bay 2 of Boathouse box")).to_have_accessible_name(
            "Bay 2 of Boathouse box: free"
        )
        self.until_saved(2)
        pool = Revision.objects.filter(plan=self.house.tern).latest("number").document["plan"]["pools"][0]
        self.assertEqual(pool["bays"], "boathouse:1,11,3-9")
        self.page.get_by_role("heading", name="Drives").click()
        self.page.keyboard.press("u")
        expect(fronts.get_by_role("button", name="Bay 2 of Boathouse box")).to_have_accessible_name(
            "Bay 2 of Boathouse box: Boathouse pool, 14.0 TB data, parity"
        )

    def test_a_volume_is_promised_and_locked_and_somebody_gets_its_key(self) -> None:
        self.page.locator("summary").filter(has_text="Volumes").focus()
        self.page.keyboard.press("Enter")
        self.press(self.page.get_by_role("button", name="Add a volume"))
        self.spin("Volume 1: quota or size, TB").fill("90")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_text("90.0 TB promised, 118 % of plannable")).to_be_visible()
        self.press(self.page.locator("summary").filter(has_text="More of Volume 1"))
        self.page.get_by_label("Encrypted").press("Space")
        expect(self.page.get_by_label("Key held by")).to_have_value("")
        self.page.get_by_role("heading", name="Drives").click()
        self.page.keyboard.press("f")
        findings = self.page.get_by_role("complementary", name="Findings")
        expect(findings).to_contain_text("Boathouse pool is promised more than once")
        self.press(findings.get_by_role("button", name="Held by the storage technician"))
        expect(findings).not_to_contain_text("Nobody holds the key")
        self.page.keyboard.press("Escape")
        expect(self.page.get_by_label("Key held by")).to_have_value(
            "the storage technician, and a sealed copy in another place"
        )

    def test_a_second_pool_shares_the_hot_spare_of_the_first(self) -> None:
        self.spin("Hot spares").fill("1")
        self.page.keyboard.press("Enter")
        self.press(self.page.get_by_role("button", name="Add a pool"))
        expect(self.page.get_by_role("tab", selected=True)).to_have_text("Archive pool")
        self.spin("Hot spares").fill("0")
        self.page.keyboard.press("Enter")
        self.page.get_by_label("Shares the spares of").select_option("main")
        answer = self.page.get_by_role("region", name="What the pool gives")
        expect(answer).to_contain_text("9 in the layout, 1 spare shared")
        self.page.get_by_role("tab", name="Boathouse pool").click()
        self.press(self.page.get_by_role("button", name="Remove Boathouse pool"))
        expect(answer).to_contain_text("9 in the layout")
        expect(answer).not_to_contain_text("spare shared")
        expect(self.page.get_by_role("alert")).to_have_count(0)

    def test_a_staging_drive_says_what_lies_on_it_alone(self) -> None:
        self.press(self.page.get_by_role("button", name="Add a flash cache or staging drive"))
        self.page.get_by_role("combobox", name="Mode").select_option("staging")
        answer = self.page.get_by_role("region", name="What the pool gives")
        expect(answer).to_contain_text("lie on it alone")
        self.page.get_by_label("Mirrored").press("Space")
        expect(answer).to_contain_text("nothing lies on one drive alone")
        expect(answer).to_contain_text("all that comes between two runs")
        recommended = answer.locator("dd").filter(has_text="all that comes between two runs")
        self.press(recommended.get_by_role("button"))
        working = self.page.get_by_role("complementary").filter(has_text="recommended size")
        expect(working).to_contain_text("rounded up to whole steps of what flash comes in")

    def test_a_drive_is_drawn_into_another_bay_with_the_pointer(self) -> None:
        fronts = self.page.get_by_role("region", name="Box fronts")
        target = fronts.get_by_role("button", name="Bay 12 of Boathouse box")
        fronts.get_by_role("button", name="Bay 1 of Boathouse box").drag_to(target)
        expect(target).to_have_accessible_name(
            "Bay 12 of Boathouse box: Boathouse pool, 14.0 TB data, parity"
        )
        expect(fronts.get_by_role("button", name="Bay 1 of Boathouse box")).to_have_accessible_name(
            "Bay 1 of Boathouse box: free"
        )

    def test_more_drives_than_bays_are_refused_and_what_was_typed_stays(self) -> None:
        self.spin("Drives").fill("13")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text(
            "at most 12: it has 9 bays and 3 more are free"
        )
        expect(self.spin("Drives")).to_have_value("13")
        self.press(self.page.get_by_role("button", name="Add a box"))
        # The next change asks again, and now there is room.
        expect(self.page.get_by_role("alert")).to_have_count(0)
        expect(self.scale("space")).to_contain_text("119.5 TB")

    def test_a_drive_outside_the_boxs_list_is_told_and_a_bay_that_is_not_there_refused(self) -> None:
        self.spin("Size each").fill("24")
        self.page.keyboard.press("Enter")
        self.page.get_by_role("heading", name="Drives").click()
        self.page.keyboard.press("f")
        self.press(self.page.get_by_role("button", name="Ignore its list knowingly"))
        expect(self.page.get_by_text("its list excludes these disks, knowingly")).to_be_visible()
        self.page.keyboard.press("Escape")
        self.page.get_by_label("In the bays").fill("boathouse:1-13")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("bays 1 to 12")
        expect(self.page.get_by_label("In the bays")).to_have_value("boathouse:1-13")

    def test_a_house_rule_moves_a_verdict_and_goes_back_to_its_default(self) -> None:
        self.press(self.page.get_by_role("link", name="House rules"))
        expect(self.scale("space")).to_contain_text("tight")
        rule = self.page.get_by_role("spinbutton", name="Enough from")
        rule.fill("1.05")
        self.page.keyboard.press("Enter")
        expect(self.scale("space")).to_contain_text("enough")
        self.press(self.page.get_by_role("button", name="Back to 1.15 of Enough from"))
        expect(self.scale("space")).to_contain_text("tight")
        rule.fill("0.2")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("alert")).to_contain_text("Enough from cannot be")
