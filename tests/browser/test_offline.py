"""The table without a network: opened once, then reloaded, walked and ticked with none; nothing is lost on coming back."""

from __future__ import annotations

import io
import re

from PIL import Image
from playwright.sync_api import expect

from studio.bench.models import Event, TablePhotograph
from tests.browser.base import BrowserTest


class OfflineTest(BrowserTest):
    workers = "allow"

    def test_the_table_opens_and_goes_on_without_a_network(self) -> None:
        table = f"/builds/{self.good.build_id}/colourings/{self.good.pk}/table"
        page = self.at_table(self.good)
        page.keyboard.press("ArrowRight")
        expect(page.get_by_text("2 of ")).to_be_visible()
        expect(page.get_by_text("Works without a network")).to_have_css("font-size", "20px")
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
        self.told(self.good, again)
        expect(again.get_by_text("No connection.")).to_have_count(0)
        self.assertEqual(Event.objects.filter(making__colouring=self.good).count(), 12)
        self.complaints.clear()

    def test_what_goes_wrong_without_a_network_is_told_gone_on_from_and_photographed(self) -> None:
        page = self.at_table(self.good)
        for step in range(2, 7):
            page.keyboard.press("ArrowRight")
            expect(page.get_by_text(re.compile(rf"^{step} of "))).to_be_visible()
        expect(page.get_by_text("Works without a network")).to_be_visible()
        self.told(self.good, page)
        self.context.set_offline(True)
        page.reload()
        expect(page.get_by_text(re.compile(r"^6 of "))).to_be_visible()
        page.get_by_role("button", name="Not as planned").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="Something went wrong").click()
        dialog.get_by_role("button", name="It came out too pale").click()
        dialog.get_by_role("button", name="What now?").click()
        expect(dialog.get_by_text("How it will look is reckoned when")).to_be_visible()
        dialog.get_by_role("button", name=re.compile("over it once more when it is dry")).click()
        expect(
            page.get_by_text("Once more over what lies there; its sheet is still in place.")
        ).to_be_visible()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_text(re.compile(r"^7 of "))).to_be_visible()
        page.get_by_role("button", name="Not as planned").click()
        dialog.get_by_role("button", name="Take a photograph").click()
        picture = io.BytesIO()
        Image.new("RGB", (2400, 1800), (180, 90, 60)).save(picture, "JPEG")
        file = {"name": "table.jpg", "mimeType": "image/jpeg", "buffer": picture.getvalue()}
        dialog.get_by_label("A photograph of the table").set_input_files(file)
        expect(dialog.get_by_text("One waits here")).to_be_visible()
        # as after a flat battery: what waits is still there
        page.close()
        again = self.at_table(self.good, self.new_page())
        again.get_by_role("button", name="Not as planned").click()
        again.get_by_role("dialog").get_by_role("button", name="Take a photograph").click()
        expect(again.get_by_role("dialog").get_by_text("One waits here")).to_be_visible()
        self.context.set_offline(False)
        kept = again.get_by_role("dialog").get_by_role("img", name=re.compile("^After "))
        expect(again.get_by_role("dialog").get_by_text("One waits here")).to_have_count(0)
        expect(kept).to_be_visible()
        self.told(self.good, again)
        own = Event.objects.filter(making__colouring=self.good)
        self.assertEqual(own.filter(kind__in=["otherwise", "again"]).count(), 2)
        key = f"{own.get(kind='again').body['pass']}+{own.get(kind='again').key[:12]}"
        self.assertEqual(own.get(body__pass=key).kind, "done")
        taken = TablePhotograph.objects.get()
        with Image.open(io.BytesIO(bytes(taken.content))) as small:
            self.assertEqual(max(small.size), 1600)
        # the plan knows of what was laid once more: it is not asked for again
        steps = again.request.get(f"{self.live_server_url}/api/colourings/{self.good.pk}/table").json()[
            "steps"
        ]
        self.assertEqual([bool(s["done"]) for s in steps if s["pass_key"] == key], [True])
        self.complaints.clear()

    def test_nothing_stays_for_the_next_person(self) -> None:
        page = self.at_table(self.good)
        expect(page.get_by_text("Works without a network")).to_be_visible()
        self.open("/", page)
        page.get_by_role("button", name="Sign out", exact=True).click()
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
