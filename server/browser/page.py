"""A browser, a house to visit, and the few gestures that the tests share."""

from __future__ import annotations

import os
import re
from functools import cache
from pathlib import Path
from typing import ClassVar

from django.conf import settings
from django.contrib.staticfiles.handlers import StaticFilesHandler
from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.management.base import CommandError
from django.db import connection
from django.test import Client
from django.test.testcases import LiveServerThread
from playwright.sync_api import Browser, Locator, Page, expect, sync_playwright

from accounts.models import Role
from grandlarder.testing import AT_THE_END
from tests.house import House

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
MOST_SAVES = 9
"""In how many revisions the changes of one test may come, at most."""
ONE_BOX = "Tern & Tide, one box"
"""The plan that most tests open."""
PATIENCE_MS = 60_000
"""How long a gesture or an expectation may take on a busy machine before it counts as not happening."""
expect.set_options(timeout=PATIENCE_MS)
LEFT_FOR = "/static/mark.svg"
AXE = Path(settings.ROOT, "frontend", "node_modules", "axe-core", "axe.min.js")


@cache
def chromium() -> Browser:
    """The one browser of this process."""
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    AT_THE_END.extend((playwright.stop, browser.close))
    return browser


@cache
def served() -> LiveServerThread:
    """The one instance that this process serves: what the browser has fetched from it, it has for all tests."""
    thread = LiveServerThread("localhost", StaticFilesHandler, connections_override={})
    thread.daemon = True
    thread.start()
    AT_THE_END.append(thread.terminate)
    return thread


class BrowserCase(StaticLiveServerTestCase):
    """A fresh house, and a signed-in technician in it, for each test; browser and windows are kept."""

    unused: ClassVar[dict[tuple[str, int], list[Page]]] = {}
    """Pages that nobody is on now, by colour scheme and width: they remember nothing but fetched files."""

    @classmethod
    def _start_server_thread(cls) -> None:
        cls.server_thread = served()
        cls.server_thread.is_ready.wait()
        if cls.server_thread.error:
            raise cls.server_thread.error

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

    def fresh_page(self, scheme: str = "light", width: int = 1280) -> Page:
        """A page of a window in which nobody is signed in and nothing is remembered."""
        unused = self.unused.setdefault((scheme, width), [])
        page = unused.pop() if unused else self.new_page(scheme, width)
        page.faults = self.faults  # type: ignore[attr-defined]
        self.addCleanup(self._left, page, unused)
        return page

    def new_page(self, scheme: str, width: int) -> Page:
        context = chromium().new_context(
            viewport={"width": width, "height": 800},
            color_scheme=scheme,
            base_url=self.live_server_url,
            accept_downloads=True,
        )
        context.set_default_timeout(PATIENCE_MS)
        page = context.new_page()
        page.on("pageerror", lambda error: page.faults.append(str(error)))
        # A refused value is answered with 422, which Chromium also prints; policy violations are not.
        page.on("console", lambda m: "Content Security" in m.text and page.faults.append(m.text))
        return page

    @staticmethod
    def _left(page: Page, unused: list[Page]) -> None:
        """Leave the application for a picture of its own, in the same process of the browser, and forget."""
        for other in page.context.pages:
            if other is not page:
                other.close()
        page.unroute_all()
        page.goto(LEFT_FOR)
        page.evaluate("localStorage.clear(), sessionStorage.clear()")
        page.context.clear_cookies()
        unused.append(page)

    def somebody(self, role: Role, **options: object) -> Page:
        """The page of a person who is signed in, at the list of plans."""
        page = self.fresh_page(**options)
        client = Client()
        client.force_login(self.house.people[role])
        page.context.add_cookies(
            [
                {"name": cookie.key, "value": cookie.value, "url": self.live_server_url}
                for cookie in client.cookies.values()
            ]
        )
        page.goto("/")
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
        """Wait until all is saved, as this revision or a later one: a slow machine saves in more steps."""
        status = (page or self.page).get_by_test_id("status")
        numbers = "|".join(str(number) for number in range(revision, revision + MOST_SAVES))
        status.get_by_text(re.compile(rf"revision ({numbers}) ")).wait_for()
