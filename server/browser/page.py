"""A browser, a house to visit, and the few gestures that the tests share."""

from __future__ import annotations

import os
from pathlib import Path
from typing import ClassVar

from django.conf import settings
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.management.base import CommandError
from django.db import connection
from playwright.sync_api import Browser, BrowserContext, Locator, Page, Playwright, expect, sync_playwright

from accounts.models import Role
from tests.house import PASSWORD, House

# Playwright runs an event loop of its own in this thread; the tests' own queries are still synchronous.
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "1")

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
FLUSH_ATTEMPTS = 5
ONE_BOX = "Tern & Tide, one box"
"""The plan that most tests open."""
PATIENCE_MS = 30_000
"""How long a gesture or an expectation may take on a busy machine before it counts as not happening."""
expect.set_options(timeout=PATIENCE_MS)
AXE = Path(settings.ROOT, "frontend", "node_modules", "axe-core", "axe.min.js")


class BrowserCase(StaticLiveServerTestCase):
    """One browser for a class of tests; a fresh house and context for each."""

    playwright: ClassVar[Playwright]
    chromium: ClassVar[Browser]

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.playwright = sync_playwright().start()
        cls.chromium = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)

    @classmethod
    def tearDownClass(cls) -> None:
        cls.chromium.close()
        cls.playwright.stop()
        super().tearDownClass()

    def setUp(self) -> None:
        self.house = House()
        self.faults: list[str] = []
        self.page = self.somebody(Role.TECHNICIAN)

    def tearDown(self) -> None:
        self.assertEqual(self.faults, [], "the page reported errors")

    def _fixture_teardown(self) -> None:
        """Empty the tables; a page that has just closed may still have a save under way, so wait it out."""
        for attempts_left in reversed(range(FLUSH_ATTEMPTS)):
            try:
                return super()._fixture_teardown()
            except CommandError:
                if not attempts_left:
                    raise
                connection.close()
        return None

    def context(self, scheme: str = "light", width: int = 1280) -> BrowserContext:
        context = self.chromium.new_context(
            viewport={"width": width, "height": 800},
            color_scheme=scheme,
            base_url=self.live_server_url,
            accept_downloads=True,
        )
        context.set_default_timeout(PATIENCE_MS)
        self.addCleanup(context.close)
        return context

    def fresh_page(self, **options: object) -> Page:
        page = self.context(**options).new_page()
        page.on("pageerror", lambda error: self.faults.append(str(error)))
        # A refused value is answered with 422, which Chromium also prints; policy violations are not.
        page.on("console", lambda m: "Content Security" in m.text and self.faults.append(m.text))
        return page

    def somebody(self, role: Role, **options: object) -> Page:
        """A signed-in person's page, at the list of plans, through the real form."""
        page = self.fresh_page(**options)
        page.goto("/")
        page.get_by_label("Name").fill(role.value)
        page.get_by_label("Password").fill(PASSWORD)
        page.get_by_role("button", name="Sign in").click()
        page.get_by_role("heading", name="Plans").wait_for()
        return page

    def open_plan(self, page: Page | None = None, name: str = ONE_BOX, stage: str = "Tiers") -> Page:
        page = page or self.page
        page.get_by_role("link", name=name, exact=True).click()
        page.get_by_role("link", name=stage).click()
        page.get_by_test_id("scale-speed").wait_for()
        return page

    def spin(self, label: str, page: Page | None = None) -> Locator:
        return (page or self.page).get_by_role("spinbutton", name=label, exact=True)

    def scale(self, name: str, page: Page | None = None) -> Locator:
        return (page or self.page).get_by_test_id(f"scale-{name}")

    def until_saved(self, revision: int, page: Page | None = None) -> None:
        (page or self.page).get_by_test_id("status").get_by_text(f"revision {revision} ").wait_for()
