"""Several builds in one evening, with real clicks."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from tests.browser.base import AXE, BrowserTest


class EveningTest(BrowserTest):
    def test_builds_are_chosen_and_planned_together(self) -> None:
        page = self.open("/")
        page.get_by_role("link", name="Several in one evening").click()
        expect(page.get_by_text("Choose two builds or more.")).to_be_visible()
        page.get_by_role("checkbox", name=re.compile("^Thank-you")).click()
        page.get_by_role("checkbox", name=re.compile("^Koi on black")).click()
        expect(page.get_by_role("heading", level=2, name=re.compile("for 2 cards"))).to_be_visible()
        expect(page.get_by_text("One after another, by the orders that they have now")).to_be_visible()
        work = page.get_by_role("list", name="Order of work")
        expect(work.get_by_role("heading", name="Koi on black").first).to_be_visible()
        page.evaluate(AXE.read_text())
        self.assertEqual(page.evaluate("axe.run().then((r) => r.violations.map((v) => v.id))"), [])
        page.get_by_role("checkbox", name=re.compile("^Koi on black")).click()
        expect(page.get_by_text("Choose two builds or more.")).to_be_visible()
