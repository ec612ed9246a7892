"""The log with real clicks: found, opened, told, photographed, made again, put away; empty; on a phone."""

from __future__ import annotations

import re
from datetime import UTC, datetime
from pathlib import Path

from playwright.sync_api import expect

from studio.bench.management.commands.seed_log import Made, write
from tests.browser.base import AXE, BrowserTest

PHOTO = next((Path(__file__).resolve().parent.parent.parent / "demo" / "photographs").glob("*.jpg"))


ON_KRAFT = PHOTO.parent / "log" / "first-try-on-kraft.jpg"


class LogTest(BrowserTest):
    def one(self) -> None:
        when = datetime(2026, 3, 12, 19, tzinfo=UTC)
        write(self.maker, Made("First try on kraft", when, "the lock keeper", "White next time.", 2))

    def test_an_empty_log_says_how_it_fills(self) -> None:
        page = self.open("/log")
        expect(page.get_by_role("status")).to_contain_text("brought to its end at the table")

    def test_a_card_is_found_opened_told_and_made_again(self) -> None:
        self.one()
        page = self.open("/")
        page.get_by_role("navigation", name="Places").get_by_role("link", name="Log").click()
        find = page.get_by_label("Find a card")
        find.fill("zebra")
        expect(page.get_by_text("No card that was made has all of that in it.")).to_be_visible()
        find.fill("kraft lock keeper")
        page.get_by_role("link", name=re.compile("First try on kraft")).click()
        expect(page.get_by_role("region", name="What was used on it")).to_contain_text("coats")
        expect(page.get_by_role("region", name="Otherwise than planned")).to_contain_text("2 coats")
        page.get_by_label("Made for").fill("Odile")
        page.get_by_label("To remember").click()
        page.reload()
        expect(page.get_by_label("Made for")).to_have_value("Odile")
        page.locator("input[type=file]").set_input_files(str(PHOTO))
        expect(page.get_by_role("img", name="Photograph 1 of the finished card")).to_be_visible()
        # it is another card: said, and taken away again
        page.get_by_role("button", name="Take photograph 1 away").click()
        expect(page.get_by_role("img", name="Photograph 1 of the finished card")).to_have_count(0)
        page.get_by_role("button", name="Make it again").click()
        expect(page.get_by_role("heading", name="First try on kraft, again")).to_be_visible()

    def test_a_photograph_is_held_against_the_prediction_and_learned_from(self) -> None:
        self.one()
        page = self.open("/log")
        page.get_by_role("link", name=re.compile("First try on kraft")).click()
        page.locator("input[type=file]").set_input_files(str(ON_KRAFT))
        wipe = page.get_by_role("slider", name="From predicted to photographed")
        expect(wipe).to_be_visible(timeout=90_000)
        wipe.focus()
        wipe.press("End")
        expect(wipe).to_have_value("100")
        expect(page.get_by_text(re.compile("upper koi: came out"))).to_be_visible()
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])
        page.get_by_role("navigation", name="Places").get_by_role("link", name="Log").click()
        page.get_by_role("link", name="What they say of your pads and hands").click()
        page.get_by_role("button", name="Ask 1 card").click()
        keep = page.get_by_role("button", name="Predict by it from now on")
        expect(keep).to_be_enabled(timeout=90_000)
        expect(page.get_by_role("region", name="Pads")).to_contain_text("Heather Bank")
        keep.click()
        expect(page.get_by_role("button", name="Kept")).to_be_disabled()
        page.get_by_role("button", name="Undo").click()
        expect(page.get_by_role("button", name="Take off what was learned")).to_have_count(0)

    def test_a_photograph_of_another_card_says_so_and_its_corners_are_shown(self) -> None:
        self.one()
        page = self.open("/log")
        page.get_by_role("link", name=re.compile("First try on kraft")).click()
        page.locator("input[type=file]").set_input_files(str(PHOTO))
        expect(page.get_by_role("alert")).to_be_visible(timeout=120_000)
        page.get_by_role("button", name="Show its corners").click()
        shown = page.get_by_role("application")
        shown.focus()
        for _ in range(4):
            shown.press("Enter")
            shown.press("ArrowLeft")
        expect(page.get_by_text("All four are shown.")).to_be_visible()
        expect(page.get_by_role("button", name="Read it by these corners")).to_be_enabled()

    def test_a_month_is_pressed_and_a_card_put_away(self) -> None:
        self.one()
        page = self.open("/log")
        page.get_by_role("button", name="Mar 2026: 6 cards").click()
        expect(page.get_by_label("Find a card")).to_have_value("march 2026")
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])
        page.get_by_role("link", name=re.compile("First try on kraft")).click()
        expect(page.get_by_role("heading", level=1, name="First try on kraft")).to_be_visible()
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])
        page.get_by_role("button", name="Put it away").click()
        expect(page.get_by_role("status")).to_contain_text("Nothing yet")

    def test_on_a_phone_nothing_runs_off(self) -> None:
        self.one()
        self.page.set_viewport_size({"width": 390, "height": 844})
        page = self.open("/log")
        expect(page.get_by_role("heading", name="2026")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
        page.get_by_role("link", name=re.compile("First try on kraft")).click()
        expect(page.get_by_role("region", name="What was used on it")).to_be_visible()
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)
