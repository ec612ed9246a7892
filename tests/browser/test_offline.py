"""The table without a network: opened once, then reloaded, walked and ticked with none; nothing is lost on coming back."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from studio.bench.models import Event
from tests.browser.base import BrowserTest


class OfflineTest(BrowserTest):
    workers = "allow"

    def test_the_table_opens_and_goes_on_without_a_network(self) -> None:
        table = f"/builds/{self.good.build_id}/colourings/{self.good.pk}/table"
        page = self.at_table(self.good)
        page.keyboard.press("ArrowRight")
        expect(page.get_by_text("2 of ")).to_be_visible()
        expect(page.get_by_text("Works without a network")).to_be_visible()
        self.context.set_offline(True)
        page.reload()
        expect(page.get_by_text("2 of ")).to_be_visible()
        expect(page.locator("[role=img][data-after]").first).to_be_visible()
        for step in range(3, 13):
            page.keyboard.press("ArrowRight")
            expect(page.get_by_text(re.compile(rf"^{step} of "))).to_be_visible()
        expect(page.get_by_text("No connection.")).to_be_visible()
        # another page of the same browser, as after a restart: still where she was
        page.close()
        again = self.new_page()
        again.goto(f"{self.live_server_url}{table}")
        expect(again.get_by_text("12 of ")).to_be_visible()
        again.keyboard.press("ArrowRight")
        expect(again.get_by_text("13 of ")).to_be_visible()
        self.context.set_offline(False)
        # what waited here is gone from here once the server has it
        again.wait_for_function(f"localStorage.getItem('anastrata-table-{self.good.pk}') === null")
        expect(again.get_by_text("No connection.")).to_have_count(0)
        self.assertEqual(Event.objects.filter(making__colouring=self.good).count(), 12)
        self.complaints.clear()

    def test_nothing_stays_for_the_next_person(self) -> None:
        page = self.at_table(self.good)
        expect(page.get_by_text("Works without a network")).to_be_visible()
        self.open("/", page)
        page.get_by_role("button", name="Sign out").click()
        page.wait_for_url("**/sign-in")
        kept = page.evaluate("caches.open('at-table').then((c) => c.keys()).then((k) => k.map((r) => r.url))")
        self.assertFalse([url for url in kept if "/colourings/" in url])
        self.assertEqual(
            page.evaluate("Object.keys(localStorage).filter((k) => k.includes('table-last'))"), []
        )

    def test_it_can_be_installed(self) -> None:
        page = self.open("/")
        href = page.locator("link[rel=manifest]").get_attribute("href")
        manifest = page.request.get(f"{self.live_server_url}{href}").json()
        self.assertEqual((manifest["start_url"], manifest["display"]), ("/", "standalone"))
        for icon in manifest["icons"]:
            answer = page.request.get(f"{self.live_server_url}{icon['src']}")
            self.assertTrue(answer.ok, icon)
        self.assertIn("512x512", {i["sizes"] for i in manifest["icons"]})
        self.assertTrue(page.evaluate("navigator.serviceWorker.ready.then((r) => Boolean(r.active))"))
