"""What leaves the house, with real clicks: a colouring shown by a link, and a whole account out and in."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from studio.accounts.models import House
from tests.browser.base import AXE, BrowserTest, browser


class ShownTest(BrowserTest):
    def test_a_stranger_ticks_it_off_and_sees_nothing_once_it_is_withdrawn(self) -> None:
        page = self.open(f"/builds/{self.tried.build_id}/colourings/{self.tried.pk}/finish")
        make = page.get_by_role("button", name="Make a link")
        make.dblclick()
        look = page.get_by_role("link", name="Look at it")
        expect(look).to_have_count(1)
        address = look.get_attribute("href")
        assert address is not None
        stranger = browser().new_context(viewport={"width": 420, "height": 900}, service_workers="block")
        self.addCleanup(stranger.close)
        shown = stranger.new_page()
        shown.goto(address)
        expect(shown.get_by_role("heading", level=1, name="First try on kraft")).to_be_visible()
        shown.get_by_label("Step 1", exact=True).check()
        expect(shown.get_by_role("status")).to_contain_text("1 of")
        shown.reload()
        expect(shown.get_by_label("Step 1", exact=True)).to_be_checked()
        expect(shown.get_by_role("img", name="The card as it looks now")).to_be_visible()
        shown.evaluate(AXE.read_text())
        found = shown.evaluate(
            "axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))"
        )
        self.assertEqual(found, [])
        page.get_by_role("button", name="Withdraw link 1").click()
        expect(look).to_have_count(0)
        shown.reload()
        expect(shown.get_by_role("alert")).to_contain_text("shows nothing any more")


class AccountTest(BrowserTest):
    def test_everything_is_packed_fetched_and_brought_into_another_account(self) -> None:
        page = self.open("/")
        page.get_by_title("Everything out and in").click()
        page.get_by_role("button", name="Pack everything").click()
        fetch = page.get_by_role("link", name="Fetch the archive")
        expect(fetch).to_be_visible(timeout=90_000)
        with page.expect_download() as coming:
            fetch.click()
        archive = coming.value.path()
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])
        House.objects.update_or_create(pk=1, defaults={"open": True})
        page.get_by_role("button", name="Sign out", exact=True).click()
        page.get_by_role("button", name="Make an account").click()
        page.get_by_label("Name").fill("newcomer")
        page.get_by_label("Password").fill("lock-gate-42")
        page.get_by_role("button", name="Make the account").click()
        page.get_by_title("Everything out and in").click()
        page.get_by_label("The archive").set_input_files(
            {"name": "other.zip", "mimeType": "application/zip", "buffer": b"no archive"}
        )
        expect(page.get_by_role("alert")).to_contain_text("not an archive")
        page.get_by_label("The archive").set_input_files(str(archive))
        expect(page.get_by_role("status").filter(has_text="Brought in")).to_be_visible(timeout=90_000)
        page.get_by_role("link", name="Home", exact=True).click()
        expect(page.get_by_role("heading", name=re.compile("Thank-you by lantern light"))).to_be_visible()
