"""A real browser on a live server: one Chromium for the whole run, a fresh context for each test."""

from __future__ import annotations

import atexit
import os
import re
from collections.abc import Callable
from typing import Any, Literal

from django.conf import settings
from django.contrib.auth import get_user_model
from django.test import LiveServerTestCase
from django.test.client import Client
from playwright.sync_api import Browser, Page, Route, expect, sync_playwright

from studio.builds.management.commands.seed_demo import seed
from studio.builds.models import Colouring
from studio.jobs.queue import stop_all
from tools.chromium import ARGUMENTS, CHROMIUM

# after Playwright has started its loop, Django refuses the ORM on this thread without it
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

PATIENCE_MS = 120_000
LOOKED = 50
# nothing here is a matter of time: on a machine that is busy with something else all of it takes longer
expect.set_options(timeout=PATIENCE_MS)

AXE = settings.BASE_DIR / "web" / "node_modules" / "axe-core" / "axe.min.js"

_running: dict[str, Any] = {}


def browser() -> Browser:
    """The one Chromium of this process."""
    if not _running:
        _running["playwright"] = sync_playwright().start()
        _running["browser"] = _running["playwright"].chromium.launch(executable_path=CHROMIUM, args=ARGUMENTS)
        atexit.register(_close)
    found: Browser = _running["browser"]
    return found


def _close() -> None:
    _running["browser"].close()
    _running["playwright"].stop()


class Line:
    """The way of some requests to the server, for a test to cut and to mend.

    Made before the page is opened: what a page asks while interception is only being turned on may be held for ever.
    """

    def __init__(self, page: Page, pattern: str) -> None:
        self._act: Callable[[Route], None] = Route.continue_
        page.route(pattern, self._go)

    def _go(self, route: Route) -> None:
        self._act(route)

    def cut(self) -> None:
        self._act = Route.abort

    def hold(self) -> None:
        """No answer comes."""
        self._act = lambda route: None

    def answer(self, status: int, body: str, content_type: str = "application/json") -> None:
        """Answer in the server's stead."""
        self._act = lambda route: route.fulfill(status=status, body=body, content_type=content_type)

    def mend(self) -> None:
        self._act = Route.continue_


class BrowserTest(LiveServerTestCase):
    """Signed in as a maker with the demo world; ``self.page`` is 1280 x 800. Console errors fail the test."""

    workers: Literal["allow", "block"] = "block"

    def setUp(self) -> None:
        self.maker = get_user_model().objects.create_user(username="ada", password="thursday-table-9")
        seed(self.maker)
        self.good = Colouring.objects.get(build__name__startswith="Thank-you")
        self.tried = Colouring.objects.get(build__name__startswith="First")
        self.complaints: list[str] = []
        self.context = browser().new_context(
            viewport={"width": 1280, "height": 800},
            reduced_motion="reduce",
            # what a test routes would not be seen by it
            service_workers=self.workers,
        )
        self.sign_in()
        self.page = self.new_page()

    def tearDown(self) -> None:
        self.context.close()
        # a search that a screen began must not outlive its database
        stop_all()
        self.assertEqual(self.complaints, [])

    def sign_in(self) -> None:
        client = Client()
        client.force_login(self.maker)
        self.context.add_cookies(
            [{"name": "sessionid", "value": client.cookies["sessionid"].value, "url": self.live_server_url}]
        )

    def new_page(self) -> Page:
        page = self.context.new_page()
        page.set_default_timeout(PATIENCE_MS)
        page.on("pageerror", lambda error: self.complaints.append(str(error)))
        return page

    def at_table(self, colouring: Colouring, page: Page | None = None) -> Page:
        """The table at its first step, or where it was left."""
        shown = self.open(f"/builds/{colouring.build_id}/colourings/{colouring.pk}/table", page)
        shown.get_by_text(re.compile(r"^\d+ of \d+$|^done$")).wait_for(timeout=PATIENCE_MS)
        set_out = shown.get_by_role("button", name="The table is set")
        if set_out.count():
            set_out.click()
        return shown

    def open(self, path: str, page: Page | None = None) -> Page:
        """A view with its heading there, or what stands in its place: on a busy machine the network may rest before the
        first answer is asked for."""
        page = page or self.page
        page.goto(self.live_server_url + path)
        page.locator("h1, [role=alert]").first.wait_for(state="attached")
        page.wait_for_load_state("networkidle")
        return page

    def strata(self, build: Colouring, element: str, page: Page | None = None) -> Page:
        return self.open(
            f"/builds/{build.build_id}/colourings/{build.pk}/strata?element={element.replace(' ', '+')}", page
        )

    def until(self, expression: str, page: Page | None = None) -> None:
        """Wait until JavaScript on a page is true.

        Playwright's own way makes functions from text in the page, which the policy of our pages forbids.
        """
        shown, patience = page or self.page, PATIENCE_MS // LOOKED
        while not shown.evaluate(expression):
            patience -= 1
            self.assertGreater(patience, 0, expression)
            shown.wait_for_timeout(LOOKED)

    def kept(self, page: Page | None = None) -> None:
        """Wait until the server has every change and the page has caught up.

        A change is in the browser's store from the press on until the server
        has answered it; the sentence on the screen may come a moment later.
        """
        unsent = "!Object.keys(localStorage).some((k) => k.startsWith('anastrata-changes-'))"
        self.until(unsent, page)
        (page or self.page).get_by_text("Everything is kept").wait_for()

    def told(self, colouring: Colouring, page: Page | None = None) -> None:
        """Wait until the server has all that was done at the table: it waits in the browser's store till then."""
        self.until(f"localStorage.getItem('anastrata-table-{colouring.pk}') === null", page)

    def inks_of(self, build: Colouring, element: str) -> list[str]:
        build.refresh_from_db()
        passes = build.changes.get(number=build.head).plan["passes"]
        return [p["ink"] for p in passes if p["on"]["element"] == element]
