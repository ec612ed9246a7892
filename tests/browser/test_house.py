"""Running a house with real clicks: somebody invited, a password given anew, another chosen, an account given up."""

from __future__ import annotations

import re

from django.contrib.auth import get_user_model
from playwright.sync_api import Page, expect

from tests.browser.base import AXE, BrowserTest

GOOD = "lock-gate-42"


class HouseTest(BrowserTest):
    def elsewhere(self, address: str) -> Page:
        """The same address opened by somebody who is not signed in."""
        context = self.context.browser.new_context(viewport={"width": 800, "height": 1000})  # type: ignore[union-attr]
        self.addCleanup(context.close)
        page = context.new_page()
        page.goto(address)
        return page

    def link(self, page: Page) -> str:
        """The link that was told last."""
        shown = page.get_by_role("status").filter(has_text="It works once")
        expect(shown).to_be_visible()
        return shown.locator("code").inner_text()

    def test_one_is_invited_comes_in_forgets_her_password_and_leaves(self) -> None:
        page = self.open("/account")
        page.get_by_role("link", name=re.compile("^The house")).click()
        expect(page.get_by_text("Never backed up yet.")).to_be_visible()
        expect(page.get_by_text("served on the house computer alone")).to_be_visible()
        page.get_by_label("For whom").fill("Wren")
        page.get_by_role("button", name="Invite somebody").click()
        address = self.link(page)
        expect(page.get_by_role("list", name="Invitations that are out")).to_contain_text("Wren")
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])

        hers = self.elsewhere(address)
        hers.get_by_label("Name").fill("Wren")
        hers.get_by_label("Password").fill(GOOD)
        hers.get_by_role("button", name="Make the account").dblclick()
        expect(hers.get_by_role("button", name="Start the first build")).to_be_visible()
        # the link is worn out
        again = self.elsewhere(address)
        expect(again.get_by_role("alert")).to_contain_text("used already")

        page.reload()
        makers = page.get_by_role("list", name="Makers")
        expect(makers).to_contain_text("Wren")
        page.get_by_role("button", name="New password for Wren").click()
        fresh = self.elsewhere(self.link(page))
        expect(fresh.get_by_role("heading", name="Hello, Wren")).to_be_visible()
        fresh.get_by_label("New password").fill("canal-side-9")
        fresh.get_by_role("button", name="Keep it and go in").click()
        expect(fresh.get_by_role("button", name="Start the first build")).to_be_visible()
        # where the old one was in use, it is signed out
        hers.reload()
        expect(hers.get_by_role("button", name="Sign in")).to_be_visible()

        fresh.goto(f"{self.live_server_url}/account")
        fresh.get_by_label(re.compile(r"^As it is\W*$")).fill("canal-side-9")
        fresh.get_by_label("As it is to be").fill("winding-gear-7")
        fresh.get_by_role("button", name="Change it").click()
        expect(fresh.get_by_text("That is your password from now on.")).to_be_visible()
        fresh.get_by_role("button", name="Give this account up").click()
        fresh.get_by_label("Your password").fill("wrong")
        fresh.get_by_role("button", name="Everything of mine is to go").click()
        expect(fresh.get_by_text("That is not your password.")).to_be_visible()
        fresh.get_by_label("Your password").fill("winding-gear-7")
        fresh.get_by_role("button", name="Everything of mine is to go").click()
        expect(fresh.get_by_role("button", name="Sign in")).to_be_visible()
        self.assertFalse(get_user_model().objects.filter(username="Wren").exists())
        self.complaints.clear()
