"""A technician at work on a plan, by keyboard and pointer."""

from __future__ import annotations

import json
import subprocess
import tempfile
from pathlib import Path

from playwright.sync_api import expect

from accounts.models import Role
from browser.page import ONE_BOX, BrowserCase
from plans.models import Revision
from tests.house import PASSWORD


class Nudging(BrowserCase):
    def test_a_nudge_by_keyboard_moves_the_verdict_and_survives_a_reload(self) -> None:
        self.open_plan()
        expect(self.scale("space")).to_contain_text("tight")
        self.spin("Drives").focus()
        for _ in range(2):
            self.page.keyboard.press("ArrowUp")
        expect(self.spin("Drives")).to_have_value("11")
        expect(self.scale("space")).to_contain_text("enough")
        self.until_saved(2)
        self.page.reload()
        expect(self.spin("Drives")).to_have_value("11")
        expect(self.scale("space")).to_contain_text("enough")

    def test_shift_steps_tenfold_and_a_held_key_writes_one_revision(self) -> None:
        self.open_plan()
        self.spin("Size each").focus()
        self.page.keyboard.press("Shift+ArrowUp")
        for _ in range(6):
            self.page.keyboard.press("ArrowUp")
        expect(self.spin("Size each")).to_have_value("30")
        self.until_saved(2)
        self.assertEqual(Revision.objects.filter(plan=self.house.tern).count(), 2)

    def test_undo_redo_and_history_by_keyboard(self) -> None:
        self.open_plan()
        self.spin("Drives").fill("12")
        self.spin("Drives").press("Enter")
        self.until_saved(2)
        self.page.get_by_role("heading", name="Drives").click()
        self.page.keyboard.press("u")
        expect(self.spin("Drives")).to_have_value("9")
        self.page.keyboard.press("r")
        expect(self.spin("Drives")).to_have_value("12")
        self.page.keyboard.press("h")
        expect(self.page.get_by_text("Redone: Boathouse pool: Drives 9 → 12")).to_be_visible()
        self.page.get_by_role("button", name="Bring revision 1 back").click()
        expect(self.spin("Drives")).to_have_value("9")

    def test_sizes_may_be_typed_with_their_unit(self) -> None:
        self.open_plan()
        self.spin("Size each").fill("18.0 TB")
        self.spin("Size each").press("Enter")
        expect(self.scale("space")).to_contain_text("97.8 TB")
        self.until_saved(2)
        expect(self.spin("Size each")).to_have_value("18")

    def test_stages_palette_and_help_need_no_mouse(self) -> None:
        self.open_plan()
        self.page.keyboard.press("g")
        self.page.keyboard.press("5")
        expect(self.page.get_by_role("heading", name="Network")).to_be_visible()
        self.page.keyboard.press("/")
        self.page.keyboard.type("explain spa")
        self.page.keyboard.press("Enter")
        expect(self.page.get_by_role("complementary", name="Space")).to_be_visible()
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("?")
        self.page.get_by_label("One-key shortcuts").uncheck()
        self.page.keyboard.press("Escape")
        self.page.keyboard.press("g")
        self.page.keyboard.press("2")
        expect(self.page.get_by_role("heading", name="Network")).to_be_visible()


class BadInput(BrowserCase):
    def test_a_refused_entry_stays_with_its_sentence_while_the_rest_goes_on(self) -> None:
        self.open_plan()
        self.spin("Drives").fill("3")
        self.spin("Drives").press("Enter")
        sentence = self.page.get_by_role("alert").filter(has_text="accepted is 4 drives or more")
        expect(sentence).to_be_visible()
        expect(self.spin("Drives")).to_have_value("3")
        expect(self.spin("Drives")).to_have_attribute("aria-invalid", "true")
        self.spin("Size each").fill("16")
        self.spin("Size each").press("Tab")
        self.until_saved(2)
        expect(self.spin("Drives")).to_have_value("3")
        self.page.get_by_role("combobox", name="Layout", exact=True).select_option("raid5")
        expect(sentence).to_have_count(0)
        self.until_saved(3)
        self.assertEqual(Revision.objects.get(number=3).document["plan"]["pools"][0]["drive_count"], 3)

    def test_words_monsters_and_bits_are_refused_beside_the_field(self) -> None:
        self.open_plan()
        for text in ("lots", "1" + "0" * 30, "16 Tb", "-4"):
            self.spin("Size each").fill(text)
            self.spin("Size each").press("Enter")
            expect(self.page.get_by_role("alert")).to_contain_text("Size each cannot be")
            expect(self.spin("Size each")).to_have_attribute("aria-invalid", "true")
        self.assertEqual(Revision.objects.filter(plan=self.house.tern).count(), 1)

    def test_a_wrong_password_and_a_wrong_plan_file(self) -> None:
        page = self.fresh_page()
        page.goto("/")
        page.get_by_label("Name").fill("technician")
        page.get_by_label("Password").fill("guess")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("do not belong together")
        expect(page.get_by_label("Name")).to_have_value("technician")
        file = {"name": "x.json", "mimeType": "application/json", "buffer": b'{"schema": "other/9"}'}
        self.page.get_by_role("button", name="Begin a plan").click()
        self.page.get_by_label("Drop a plan file here").set_input_files(file)
        expect(self.page.get_by_role("alert")).to_contain_text('schema cannot be "other/9"')


class Files(BrowserCase):
    def test_a_plan_downloaded_and_brought_again_has_the_same_scales(self) -> None:
        self.open_plan()
        self.spin("Drives").fill("12")
        self.spin("Drives").press("Enter")
        self.until_saved(2)
        before = self.page.get_by_role("list", name="The scales").inner_text()
        with self.page.expect_download() as download:
            self.page.get_by_role("link", name="Plan file").click()
        path = download.value.path()
        self.page.goto("/")
        self.page.get_by_role("button", name="Begin a plan").click()
        self.page.get_by_label("Drop a plan file here").set_input_files(path)
        self.page.get_by_role("heading", name=ONE_BOX, level=1).wait_for()
        self.assertEqual(self.page.get_by_role("list", name="The scales").inner_text(), before)
        self.assertNotIn(str(self.house.tern.pk), self.page.url)

    def test_an_ffprobe_file_becomes_a_format_that_a_seat_can_play(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            clip = str(Path(folder, "gannets.mov"))
            source = ["-f", "lavfi", "-i", "testsrc2=size=320x180:rate=25:duration=2"]
            subprocess.run(["ffmpeg", "-v", "error", *source, "-c:v", "mjpeg", clip], check=True)
            show = ["-show_format", "-show_streams", "-show_packets"]
            probed = subprocess.run(
                ["ffprobe", "-v", "error", "-of", "json", *show, clip], check=True, capture_output=True
            ).stdout
        self.open_plan(stage="Brief")
        file = {"name": "gannets.json", "mimeType": "application/json", "buffer": probed}
        self.page.get_by_label("Drop what ffprobe printed").set_input_files(file)
        expect(self.page.get_by_role("group").filter(has_text="gannets.mov").first).to_be_visible()
        self.page.get_by_label("Edit: format").select_option(label="gannets.mov")
        self.until_saved(2)
        formats = Revision.objects.latest("number").document["catalogue"]["formats"]
        self.assertEqual(formats[-1]["codec_class"], "JPEG")
        self.assertEqual(formats[-1]["mean_bytes_per_s"] * 2, int(json.loads(probed)["format"]["size"]))


class Together(BrowserCase):
    def test_two_browsers_merge_and_only_the_same_field_asks(self) -> None:
        other = self.somebody(Role.OWNER)
        self.open_plan()
        self.open_plan(other)
        self.spin("Drives", other).fill("10")
        self.spin("Drives", other).press("Tab")
        self.until_saved(2, other)
        self.spin("Size each").fill("16")
        self.spin("Size each").press("Tab")
        self.until_saved(3)
        expect(self.spin("Drives")).to_have_value("10")
        expect(self.page.get_by_text("Somebody else's changes came in with yours.")).to_be_visible()
        expect(self.spin("Size each", other)).to_have_value("16")

    def test_a_clash_shows_both_values_and_keeps_the_chosen_one(self) -> None:
        other = self.somebody(Role.OWNER)
        self.open_plan()
        self.open_plan(other)
        # The other's requests wait, so that both change the field on the same base.
        self.page.route("**/head", lambda route: route.abort())
        self.spin("Drives", other).fill("10")
        self.spin("Drives", other).press("Tab")
        self.until_saved(2, other)
        self.spin("Drives").fill("12")
        self.spin("Drives").press("Tab")
        clash = self.page.get_by_role("alertdialog")
        expect(clash).to_contain_text("Theirs: 10")
        expect(clash).to_contain_text("Mine: 12")
        # As long as they are refused the page counts as offline and says that in place of the revision.
        self.page.unroute("**/head")
        expect(self.spin("Drives")).to_have_value("12")
        clash.get_by_label("Mine: 12").check()
        clash.get_by_role("button", name="Go on with these values").click()
        self.until_saved(3)
        expect(self.spin("Drives", other)).to_have_value("12")


class ANewPlan(BrowserCase):
    def test_nothing_asked_or_priced_is_open_until_there_is_something(self) -> None:
        self.page.get_by_role("button", name="Begin a plan").click()
        self.page.get_by_label("Name of the new plan").fill("Loft")
        self.page.get_by_role("button", name="Begin empty").click()
        for name in ("speed", "space", "safety", "money"):
            expect(self.scale(name)).to_contain_text("open")
        expect(self.scale("money")).not_to_contain_text("per plannable TB")
        self.page.get_by_role("link", name="Tiers").click()
        self.page.get_by_role("button", name="Add a first pool").click()
        self.page.get_by_role("link", name="Brief").click()
        self.page.get_by_role("button", name="Add a photo seat").click()
        expect(self.scale("speed")).not_to_contain_text("open")
        self.spin("Budget").fill("9000")
        self.spin("Budget").press("Enter")
        self.page.get_by_role("link", name="Tiers").click()
        self.spin("Price each").fill("200")
        self.spin("Price each").press("Enter")
        expect(self.scale("money")).not_to_contain_text("open")
        expect(self.scale("space")).to_contain_text("open")


class FindingsAndRoles(BrowserCase):
    def test_a_remedy_in_one_click_clears_its_finding_and_can_be_undone(self) -> None:
        self.open_plan(name="Halyard Street")
        self.page.keyboard.press("f")
        self.page.get_by_role("button", name="Use 2.5GbE here instead of 1GbE").click()
        expect(self.page.get_by_text("carries less than is asked")).to_have_count(0)
        self.until_saved(2)
        self.page.get_by_role("button", name="Undo").click()
        expect(self.page.get_by_text("carries less than is asked")).to_be_visible()

    def test_a_finding_accepted_with_a_reason_keeps_it(self) -> None:
        self.open_plan()
        self.page.keyboard.press("f")
        self.page.get_by_role("button", name="Accept with a reason").last.click()
        self.page.get_by_label("Reason for accepting").fill("we all know")
        self.page.get_by_role("button", name="Accept", exact=True).click()
        expect(self.page.get_by_text("Accepted: we all know")).to_be_visible()
        expect(self.page.get_by_role("button", name="Findings (3)")).to_be_visible()

    def test_a_viewer_sees_everything_and_can_change_nothing(self) -> None:
        page = self.open_plan(self.somebody(Role.VIEWER))
        expect(self.spin("Drives", page)).to_be_disabled()
        expect(page.get_by_role("button", name="Undo")).to_have_count(0)
        self.scale("money", page).click()
        working = page.get_by_role("complementary")
        expect(working).to_contain_text("Boathouse pool: drives")
        expect(working).to_contain_text("× Price each")

    def test_an_owner_removes_a_plan_and_brings_it_back(self) -> None:
        page = self.somebody(Role.OWNER)
        page.get_by_role("button", name="Remove Halyard Street").click()
        expect(page.get_by_role("link", name="Halyard Street")).to_have_count(0)
        page.get_by_role("button", name="Bring it back").click()
        expect(page.get_by_role("link", name="Halyard Street")).to_be_visible()

    def test_a_narrow_link_is_found_mended_and_put_on_the_list_of_cables(self) -> None:
        self.house.plan("tern-and-tide")
        self.page.reload()
        self.open_plan(name="Tern & Tide", stage="Wiring")
        table = self.page.get_by_role("table", name="What every seat gets")
        table.get_by_role("button", name="Colour").click()
        helping = self.page.get_by_role("region", name="What would fix it")
        expect(helping).to_contain_text("What would help Colour")
        self.page.locator("summary", has_text="Colour to Cutting room switch").click()
        self.page.get_by_label("Colour to Cutting room switch: speed").select_option("1GbE")
        expect(self.scale("speed")).to_contain_text("Colour to Cutting room switch limits")
        expect(table.get_by_role("row").filter(has_text="Colour")).to_contain_text("106")
        row = helping.get_by_role("row").filter(has_text="Colour to Cutting room switch at 10GbE")
        row.get_by_role("button", name="Take it").click()
        expect(self.scale("speed")).to_contain_text("Stills retouch")
        self.page.get_by_label("The drives").select_option("a rebuild")
        expect(table).to_be_visible()
        self.page.get_by_text("Cables and labels").click()
        cables = self.page.get_by_role("table", name="Cables")
        expect(cables.get_by_role("row").filter(has_text="Edit 3")).to_contain_text("W003")

    def test_seats_switches_and_purchases_come_and_go(self) -> None:
        self.open_plan(stage="Brief")
        self.page.get_by_role("button", name="Add a photo seat").click()
        self.page.get_by_label("Name of New photo seat").fill("Loft desk")
        self.page.get_by_label("Name of New photo seat").press("Enter")
        self.page.get_by_role("button", name="Remove Colour").click()
        self.page.get_by_role("link", name="Wiring").click()
        # A seat in the office is plugged in where the others are, and its cable goes with it.
        expect(self.page.get_by_text("Loft desk to Cutting room switch").first).to_be_visible()
        expect(self.page.get_by_text("Colour to Cutting room switch")).to_have_count(0)
        self.page.get_by_role("button", name="Add a switch").click()
        expect(self.page.get_by_label("Name of Switch 2")).to_be_visible()
        self.page.get_by_role("button", name="Add a link").click()
        expect(self.page.get_by_text("Switch 2 to Cutting room switch").first).to_be_visible()
        self.page.get_by_role("button", name="Remove Switch 2", exact=True).click()
        expect(self.page.get_by_text("Switch 2 to Cutting room switch")).to_have_count(0)
        self.page.get_by_role("link", name="Brief").click()
        expect(self.page.get_by_label("Name of Loft desk")).to_be_visible()
        expect(self.page.get_by_label("Name of Colour")).to_have_count(0)


class Leaving(BrowserCase):
    """A state that cannot be judged any more shuts nobody out."""

    def test_a_plan_that_cannot_be_judged_says_why_and_is_left_by_undo(self) -> None:
        self.house.client(Role.TECHNICIAN).save(1, "plan/note", "new")
        head = Revision.objects.get(plan=self.house.tern, number=2)
        part = {"name": "Part", "hours": 1}
        parts = [part | {"id": f"p{n}"} for n in range(12)]
        head.document["plan"]["brief"]["day_parts"] = parts
        Revision.objects.filter(pk=head.pk).update(document=head.document, verdicts=None)
        self.page.reload()
        row = self.page.get_by_role("row").filter(has_text=ONE_BOX)
        expect(row).to_contain_text("not judged")
        self.page.get_by_role("link", name=ONE_BOX, exact=True).click()
        expect(self.page.get_by_role("status")).to_contain_text("at most 8 items")
        expect(self.page.get_by_text("Revision 2", exact=True)).to_be_visible()
        self.page.get_by_role("button", name="Undo your last change").click()
        self.page.get_by_test_id("scale-speed").wait_for()
        self.until_saved(3)

    def test_an_older_plan_says_what_was_changed_in_it(self) -> None:
        document = Revision.objects.get(plan=self.house.tern).document | {
            "schema": "grand-larder/bundle/1",
            "as_of": "2350-01-01",
        }
        Revision.objects.filter(plan=self.house.tern).update(document=document, verdicts=None)
        self.page.reload()
        self.open_plan()
        expect(self.page.get_by_text("Judged on was 2350-01-01 and is now 2199-12-31")).to_be_visible()

    def test_a_token_that_went_stale_elsewhere_is_renewed_by_itself(self) -> None:
        self.open_plan()
        other = self.page.context.new_page()
        other.goto("/")
        other.evaluate(
            """async ([name, password]) => {
              const { token } = await (await fetch('/api/session')).json();
              const headers = { 'X-CSRFToken': token, 'Content-Type': 'application/json' };
              await fetch('/api/session', { method: 'POST', headers, body: JSON.stringify({ username: name, password }) });
            }""",
            [Role.TECHNICIAN.value, PASSWORD],
        )
        other.close()
        self.spin("Drives").focus()
        self.page.keyboard.press("ArrowUp")
        self.until_saved(2)

    def test_who_guesses_is_told_how_long_the_door_is_locked(self) -> None:
        page = self.fresh_page()
        page.goto("/")
        page.get_by_label("Name").fill("viewer")
        for number in range(6):
            page.get_by_label("Password").fill(f"wrong {number}")
            with page.expect_response("**/api/session"):
                page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_have_text(
            "Too many wrong passwords: sign in again after 5 minutes."
        )
