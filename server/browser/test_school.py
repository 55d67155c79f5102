"""Designs, schools, both sides of a question, plans side by side and the owner's page, in the page."""

from __future__ import annotations

from playwright.sync_api import Locator, expect

from browser.page import BrowserCase
from tests.workers import one_worker

SEARCH_MS = 90_000
"""A search on a machine that is busy with the other tests."""


class SchoolCase(BrowserCase):
    def tearDown(self) -> None:
        # A search that nobody waits for any more still holds the database.
        self.page.wait_for_load_state("networkidle", timeout=SEARCH_MS)
        super().tearDown()

    def open_tern(self, stage: str = "School") -> str:
        """The demo plan with prices of everything, at a stage; its id."""
        plan = self.house.plan("tern-and-tide")
        self.page.reload()
        self.open_plan(name="Tern & Tide", stage=stage)
        return str(plan.pk)


class Designing(SchoolCase):
    @property
    def designs(self) -> Locator:
        return self.page.get_by_role("table", name="Designs")

    @property
    def answer(self) -> Locator:
        return self.page.get_by_role("region", name="Schools", exact=True)

    def until_searched(self) -> None:
        expect(self.designs.get_by_role("row")).not_to_have_count(0, timeout=SEARCH_MS)
        expect(self.page.get_by_text("Asking the others what would have to give")).to_have_count(
            0, timeout=SEARCH_MS
        )

    def test_every_school_answers_and_a_design_becomes_a_plan(self) -> None:
        self.open_tern()
        self.until_searched()
        expect(self.page.get_by_role("region", name="Designs")).to_contain_text("can be told apart")
        schools = self.page.get_by_role("table", name="Schools")
        expect(schools.get_by_role("row")).to_have_count(11)
        expect(schools).not_to_contain_text("not asked yet")
        expect(schools.get_by_role("row", name="Span and cloud")).to_contain_text("fails")
        expect(self.page.get_by_text("Tern & Tide, as it stands")).to_be_visible()
        span = self.answer.get_by_role("button", name="Span and cloud: what it comes to")
        span.press("Enter")
        expect(span).to_have_attribute("aria-pressed", "true")
        expect(self.answer.get_by_role("heading", name="Span and cloud")).to_be_in_viewport()
        expect(self.answer).to_contain_text("survives 0 dead drives, the rule asks for 1")
        price = self.designs.get_by_role("row").nth(1).get_by_role("cell").nth(1).inner_text()
        self.designs.get_by_role("button", name="Open design A as a plan").click()
        self.page.wait_for_url("**/tiers", timeout=SEARCH_MS)
        self.page.get_by_role("link", name="Growth").click()
        expect(self.page.get_by_role("table", name="Five years")).to_contain_text(price)

    def test_why_not_that_and_what_a_little_more_would_cost(self) -> None:
        self.open_tern()
        self.until_searched()
        self.page.get_by_role("tab", name="Why this, why not that").click()
        binds = self.page.get_by_role("table", name="What binds")
        expect(binds).to_contain_text("space until the horizon")
        self.page.get_by_label("A layout").select_option(label="Span")
        expect(self.answer.get_by_role("status").filter(has_text="Span.")).to_contain_text(
            "survives 0 dead drives", timeout=SEARCH_MS
        )
        self.page.get_by_role("button", name="What would a little more cost").click()
        expect(self.page.get_by_text("10 TB more to keep:")).to_be_visible(timeout=SEARCH_MS)
        expect(self.page.get_by_text("5 dB(A) quieter:")).to_be_visible()

    def test_a_question_is_settled_by_whoever_asks(self) -> None:
        self.open_tern()
        self.page.get_by_role("tab", name="Where people disagree").click()
        question = self.page.get_by_role("region", name="One parity drive or two?")
        expect(question.get_by_role("table")).to_have_count(2, timeout=SEARCH_MS)
        expect(question).to_contain_text("as it is now")
        question.get_by_role("button", name="Settle it so (One)").click()
        self.until_saved(2)
        expect(question.get_by_role("button", name="Settle it so (Two)")).to_be_visible(timeout=SEARCH_MS)

    def test_a_line_leads_straight_to_designs(self) -> None:
        self.page.keyboard.press("n")
        self.page.get_by_label("The brief in one line").fill(
            "2 edit seats play 220 Mb/s, 6 TB today, 2 years"
        )
        self.page.get_by_role("button", name="Begin with this").click()
        expect(self.page.get_by_role("alert")).to_contain_text("Catalogue")
        self.page.get_by_role("button", name="Begin with made-up prices of usual classes").click()
        expect(self.page.get_by_role("progressbar", name="Designs looked through")).to_be_visible()
        self.page.get_by_role("button", name="Cancel the search").click()
        expect(self.page.get_by_text("Cancelled after 0 of 12 steps.")).to_be_visible()
        self.page.get_by_role("button", name="Go on with the search").click()
        with one_worker():
            expect(self.designs).to_contain_text("A", timeout=SEARCH_MS)
            schools = self.page.get_by_role("table", name="Schools")
            expect(schools).not_to_contain_text("not asked yet", timeout=SEARCH_MS)
            expect(self.page.get_by_role("progressbar")).to_have_count(0)
            self.page.get_by_role("button", name="What would a little more cost").click()
            self.page.get_by_role("tab", name="Why this, why not that").click()
            self.page.get_by_label("A layout").select_option(label="Double parity")
            expect(self.page.get_by_role("status").filter(has_text="Double parity.")).to_be_visible(
                timeout=SEARCH_MS
            )
            more = self.page.get_by_role("region", name="Designs").get_by_role("listitem")
            expect(more.first).to_contain_text("10 TB more to keep", timeout=SEARCH_MS)


class SideBySide(SchoolCase):
    def test_four_plans_at_1280(self) -> None:
        first = self.open_tern("Tiers")
        others = [str(p.pk) for p in (self.house.tern, self.house.halyard, self.house.plan("long-shore"))]
        root = self.page.url.split("/plans/")[0]
        self.page.goto(f"{root}/plans/{first}/compare?with={','.join(others)}")
        table = self.page.get_by_role("table", name="Plans side by side")
        expect(table.get_by_role("columnheader")).to_have_count(5, timeout=SEARCH_MS)
        for box in (table, self.page.get_by_role("main")):
            self.assertLessEqual(*box.evaluate("e => [e.scrollWidth, e.clientWidth]"))
        now = table.get_by_role("row").filter(
            has=self.page.get_by_role("rowheader", name="Now less is better")
        )
        expect(now).to_contain_text("€9,098")
        expect(now).to_contain_text("(best)")
        table.get_by_role("button", name="Leave out Long Shore").click()
        expect(table.get_by_role("columnheader")).to_have_count(4)
        speed = table.get_by_role("row").filter(has_text="Speed, of what is asked").first
        before = speed.text_content() or ""
        self.page.get_by_label("Footage rate").press("End")
        expect(speed).not_to_have_text(before)
        self.page.get_by_role("button", name="As it is").click()
        expect(speed).to_contain_text("1.21")
        table.get_by_role("button", name="Pin Halyard Street as the baseline").click()
        expect(table.get_by_role("columnheader").nth(1)).to_contain_text("Halyard Street")
        with self.page.expect_download() as saved:
            self.page.get_by_role("button", name="Save as CSV").click()
        self.assertIn("Halyard Street", saved.value.path().read_text().splitlines()[0])

    def test_another_plan_and_the_page_for_the_owner(self) -> None:
        self.open_tern("Compare")
        expect(self.page.get_by_text("Choose one to three others")).to_be_visible()
        self.page.get_by_label("Another plan").select_option(label="Halyard Street")
        table = self.page.get_by_role("table", name="Plans side by side")
        expect(table).to_contain_text("Halyard Street", timeout=SEARCH_MS)
        with self.page.expect_popup() as opened:
            self.page.get_by_role("link", name="read and print").click()
        page = opened.value
        expect(page.get_by_role("heading", name="Tern & Tide")).to_be_visible()
        expect(page.locator("svg.drawing")).to_have_count(2)
        self.assertEqual(
            page.evaluate("getComputedStyle(document.body).fontFamily.includes('Commissioner')"), True
        )
