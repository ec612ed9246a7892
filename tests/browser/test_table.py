"""At the table with real clicks: set it, go on, go back; what went wrong, two tablets, several cards, inky hands."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect
from rest_framework.test import APIClient

from studio.bench.models import Event
from studio.builds.history import edit
from studio.inks.models import Ink
from tests.browser.base import AXE, BrowserTest, Line
from tests.studio.table import walk


def tick(page: Page) -> None:
    """One step ticked off, and the next one shown."""
    place = page.get_by_text(re.compile(r"^\d+ of \d+$"))
    before = place.inner_text()
    page.keyboard.press("ArrowRight")
    expect(place).not_to_have_text(before)


def step_on(page: Page, to: int) -> None:
    """Ticked off, one after another, up to a step."""
    while not page.get_by_text(re.compile(rf"^{to} of \d+$")).count():
        tick(page)


class TableTest(BrowserTest):
    def aside(self, page: Page, name: str | re.Pattern[str]) -> None:
        page.get_by_role("button", name="Not as planned").click()
        page.get_by_role("dialog").get_by_role("button", name=name).click()

    def test_the_table_is_set_before_the_first_step(self) -> None:
        page = self.open(f"/builds/{self.tried.build_id}/colourings/{self.tried.pk}/table")
        expect(page.get_by_role("heading", name="Set the table")).to_be_visible()
        expect(page.get_by_role("alert")).to_contain_text("Old Hedge is only wished for")
        expect(page.get_by_role("link", name="Choose a stand-in")).to_be_visible()
        expect(
            page.get_by_role("region", name=re.compile("^Pads")).get_by_role("listitem").first
        ).to_be_visible()
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => v.id))")
        self.assertEqual(found, [])
        page.keyboard.press("Space")
        expect(page.get_by_role("heading", name="Set the table")).to_have_count(0)
        expect(page.get_by_role("button", name="Done, next")).to_be_visible()
        self.assertEqual(Event.objects.count(), 0, "to set the table is no step of the order")

    def test_whatever_failed_is_asked_again(self) -> None:
        table, panel = Line(self.page, "**/api/colourings/*/table"), Line(self.page, "**/panel")
        for line in (table, panel):
            line.answer(500, '{"code": "fault", "sentence": "The kettle fell on it.", "field": null}')
        page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/table")
        expect(page.get_by_role("heading", name="The kettle fell on it.")).to_be_visible()
        table.mend()
        panel.mend()
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("heading", name="Set the table")).to_be_visible()
        table.answer(500, "{}")
        page.reload()
        page.get_by_role("link", name="Leave").click()
        expect(page).to_have_url(re.compile("/order$"))

    def test_back_takes_it_back(self) -> None:
        page = self.at_table(self.good)
        step_on(page, 4)
        page.keyboard.press("PageUp")
        expect(page.get_by_text("3 of ")).to_be_visible()
        page.reload()
        expect(page.get_by_text("3 of ")).to_be_visible()

    def test_at_the_end_the_pads_are_asked_for(self) -> None:
        mine = APIClient()
        mine.force_login(self.maker)
        walk(mine, self.tried, 10_000)
        page = self.at_table(self.tried)
        expect(page.get_by_role("heading", name="That is the whole picture.")).to_be_visible()
        pads = page.get_by_role("region", name="How are the pads?")
        used = self.tried.changes.get(number=0).plan["passes"][0]["ink"]
        row = Ink.objects.get(owner=self.maker, key=used)
        asked = pads.get_by_role("group", name=row.name)
        asked.get_by_role("button", name="low").click()
        expect(asked.get_by_role("button", name="low")).to_have_attribute("aria-pressed", "true")
        expect(page.get_by_text(f"{row.name} is low.")).to_be_visible()
        row.refresh_from_db()
        self.assertEqual(row.state, "low")
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(asked.get_by_role("button", name="good")).to_have_attribute("aria-pressed", "true")

    def test_too_pale_is_looked_at_mended_and_the_rest_follows(self) -> None:
        page = self.at_table(self.good)
        step_on(page, 6)
        picture = page.locator("[role=img][data-after]").first
        expect(picture).to_be_visible()
        self.aside(page, "Something went wrong")
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="It came out too pale").click()
        dialog.get_by_role("button", name="What now?").click()
        expect(dialog.get_by_text("there now")).to_be_visible()
        dialog.get_by_role("button", name=re.compile("over it once more")).first.click()
        expect(page.get_by_text("The rest is planned anew")).to_be_visible()
        # a double press of a way on is one
        self.told(self.good)
        self.assertEqual(Event.objects.filter(kind="again").count(), 1)
        self.aside(page, re.compile("^Take back: "))
        expect(page.get_by_text("The rest is planned anew")).to_have_count(0)
        page.get_by_role("button", name="Not as planned").click()
        expect(page.get_by_role("dialog").get_by_role("button", name="Write a note")).to_be_visible()
        expect(page.get_by_role("dialog").get_by_role("button", name="Take back")).to_have_count(0)
        page.keyboard.press("Escape")
        place = page.get_by_text(re.compile(r"^6 of \d+$"))
        expect(place).to_be_visible()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_text(re.compile(r"^7 of "))).to_be_visible()

    def test_slipped_by_so_much_and_otherwise_than_planned(self) -> None:
        page = self.at_table(self.good)
        step_on(page, 6)
        self.aside(page, "Something went wrong")
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="The sheet slipped").click()
        expect(dialog.get_by_role("button", name="What now?")).to_be_disabled()
        for name in ("Right", "Right", "Down"):
            dialog.get_by_role("button", name=name, exact=True).click()
        expect(dialog.get_by_text("1 mm to the right, 0.5 mm down")).to_be_visible()
        dialog.get_by_role("button", name="What now?").click()
        dialog.get_by_role("button", name="Go on by the marks.").click()
        expect(page.get_by_text("The rest is planned anew")).to_be_visible()
        while not page.get_by_role("button", name="After, dry").count():
            tick(page)
        self.aside(page, "I do it otherwise")
        dialog.get_by_role("group", name="Coats").get_by_role("button", name="4", exact=True).click()
        dialog.get_by_role("button", name="That is how it is laid").click()
        expect(page.get_by_text("4 coats").first).to_be_visible()
        self.aside(page, "Write a note")
        dialog.get_by_label("What is worth remembering").fill("The lamp was too warm.")
        dialog.get_by_role("button", name="Keep it").click()
        expect(dialog).to_have_count(0)
        self.told(self.good)
        kinds = set(Event.objects.values_list("kind", flat=True))
        self.assertLessEqual({"slipped", "otherwise", "note"}, kinds)

    def test_two_tablets_at_one_card(self) -> None:
        other = self.new_page()
        line = Line(other, "**/api/**/table")
        one = self.at_table(self.good)
        self.at_table(self.good, other)
        line.cut()
        step_on(one, 4)
        step_on(other, 6)
        expect(other.get_by_text("No connection.")).to_be_visible()
        line.mend()
        expect(other.get_by_text("No connection.")).to_have_count(0)
        one.reload()
        expect(one.get_by_text("6 of ")).to_be_visible()
        expect(one.get_by_role("alertdialog")).to_have_count(0)

    def test_several_cards_lie_in_the_rack(self) -> None:
        edit(self.tried, self.tried.revision, "set_cards", {"cards": 3}, "three")
        page = self.at_table(self.tried)
        rack = page.get_by_role("list", name="The cards")
        expect(rack.get_by_role("listitem")).to_have_count(3)
        step_on(page, 4)
        self.aside(page, "Something went wrong")
        dialog = page.get_by_role("dialog")
        dialog.get_by_role("button", name="The card is spoilt").click()
        dialog.get_by_role("button", name="What now?").click()
        dialog.get_by_role("button", name="Begin this card afresh").click()
        expect(rack.get_by_role("listitem")).to_have_count(4)
        expect(rack.get_by_role("listitem", name="Card 1: spoilt")).to_be_visible()

    def test_left_hand_large_type_and_no_network(self) -> None:
        page = self.at_table(self.good)
        for name in ("Left-handed", "Larger type"):
            self.aside(page, "Sound, voice")
            page.get_by_role("switch", name=name).click()
            page.keyboard.press("Escape")
        on, back = (
            page.get_by_role("button", name="Done, next"),
            page.get_by_role("button", name="Back", exact=True),
        )
        left, right = on.bounding_box(), back.bounding_box()
        self.assertIsNotNone(left)
        self.assertIsNotNone(right)
        self.assertLess(left["x"] if left else 0, right["x"] if right else 0)
        page.reload()
        expect(page.get_by_role("button", name="Not as planned")).to_be_visible()
