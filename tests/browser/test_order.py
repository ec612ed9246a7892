"""The order of work with real clicks: a better one is announced, taken, given back; wishes, other work, pins."""

from __future__ import annotations

import re

from playwright.sync_api import expect

from studio.builds import ordering
from studio.builds.history import edit
from tests.browser.base import BrowserTest


class OrderTest(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self._budget, ordering.BUDGET = ordering.BUDGET, 0.5
        self.addCleanup(setattr, ordering, "BUDGET", self._budget)

    def order(self) -> None:
        self.page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/order")

    def test_a_better_order_is_looked_for_announced_and_taken_by_hand_only(self) -> None:
        self.order()
        first = self.page.get_by_role("heading", level=2, name=re.compile(r"^\d+ (h|min)")).first
        expect(first).to_have_text(re.compile(r"\d"))
        before = first.inner_text()
        take = self.page.get_by_role("button", name="Take it")
        expect(take).to_be_visible(timeout=60_000)
        expect(first).to_have_text(before)
        take.click()
        expect(self.page.get_by_text("You work by the order that was found.")).to_be_visible()
        expect(self.page.get_by_text("shortest possible")).to_have_count(2)
        self.page.reload()
        back = self.page.get_by_role("button", name="Back to the first order")
        back.click()
        expect(self.page.get_by_role("button", name="Take it")).to_be_visible()
        expect(first).to_have_text(before)

    def test_wishes_other_work_and_when_to_begin(self) -> None:
        self.order()
        page = self.page
        page.get_by_role("button", name="More wishes").click()
        page.get_by_label("Fold the bases").fill("Cut the words")
        page.get_by_label("Minutes").fill("2")
        page.keyboard.press("Enter")
        expect(page.get_by_role("list", name="Other work")).to_contain_text("Cut the words")
        expect(page.get_by_role("button", name="Prepare Cut the words.")).to_be_visible()
        page.get_by_label("Ready by").fill("23:59")
        expect(page.get_by_text("at the latest")).to_contain_text("Begin at 2")
        self.kept(page)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_role("list", name="Other work").get_by_role("listitem")).to_have_count(0)

    def test_a_pass_is_asked_why_and_put_before_another(self) -> None:
        self.order()
        page = self.page
        rows = page.get_by_role("button", name=re.compile(r"^\d+ ?Ink"))
        earlier = page.get_by_role("button", name=re.compile("^Do it before"))
        for n in range(1, rows.count()):
            rows.nth(n).click()
            told = page.get_by_text(
                re.compile("Until then your hands are busy|dry in minute|Nothing comes before it")
            )
            expect(told.first).to_be_visible()
            if earlier.count():
                break
        earlier.first.click()
        self.kept(page)
        page.get_by_role("button", name="More wishes").click()
        pins = page.get_by_role("list", name="Pinned orders")
        expect(pins.get_by_role("listitem")).to_have_count(1)
        pins.get_by_role("button", name=re.compile("^Let go of")).click()
        expect(pins).to_have_count(0)

    def test_a_whole_sheet_is_put_before_another_or_refused_with_the_rule(self) -> None:
        self.order()
        page = self.page
        page.get_by_role("button", name="Before sheet 1").first.click()
        expect(page.get_by_text("This order is impossible").first).to_be_visible()
        expect(page.get_by_text("must come before").first).to_be_visible()
        self.assertEqual(self.good.changes.count(), 1, "nothing was changed")

    def test_several_cards_are_told_in_rounds(self) -> None:
        edit(self.good, self.good.revision, "set_cards", {"cards": 3}, "three")
        self.order()
        expect(self.page.get_by_text("for 3 cards")).to_be_visible()
        expect(self.page.get_by_role("heading", name=re.compile("cards 2 to 3")).first).to_be_visible()
        expect(self.page.get_by_text("One card after another would take")).to_be_visible()

    def test_a_step_is_carried_before_another(self) -> None:
        now = ordering.ordering(self.good)
        told = (now.explained(n) for n, a in enumerate(now.schedule.actions) if a.kind == "ink")
        free = next(
            (a.pass_key, t.earlier_key)
            for a, t in zip([a for a in now.schedule.actions if a.kind == "ink"], told, strict=True)
            if t.cost is not None
        )
        self.order()
        row, onto = (self.page.locator(f"li[data-pass='{key}']") for key in free)
        row.drag_to(onto)
        self.kept()
        self.good.refresh_from_db()
        self.assertEqual(self.good.changes.get(number=self.good.head).plan["order"]["pins"], [list(free)])

    def test_a_step_is_come_back_for_and_that_return_let_go(self) -> None:
        self.order()
        page = self.page
        rows = page.get_by_role("button", name=re.compile(r"^\d+ ?Ink"))
        later = page.get_by_role("button", name="Come back to this sheet for it later")
        apart = page.get_by_text("kept apart", exact=True)
        # some inks must lie under what is done in the same visit, and are refused: the first that need not is kept
        for n in range(rows.count() - 1, 0, -1):
            rows.nth(n).click()
            expect(page.get_by_text("Following it back")).to_have_count(0)
            if later.count():
                later.click()
                break
        expect(apart.first).to_be_visible()
        self.kept(page)
        page.get_by_role("button", name="More wishes").click()
        kept = page.get_by_role("list", name="Returns kept apart")
        expect(kept).to_contain_text("the sheet is seated for that alone")
        kept.get_by_role("button", name=re.compile("^No longer apart")).click()
        expect(apart).to_have_count(0)

    def test_an_unticked_group_does_not_pass_silently(self) -> None:
        page = self.at_table(self.good)
        done = page.get_by_role("button", name="Done, next")
        claim = page.get_by_role("button", name="All inked, next")
        expect(done).to_be_visible()
        while not claim.count():
            place = page.get_by_text(re.compile(r"^\d+ of \d+$"))
            before = place.inner_text()
            page.keyboard.press("ArrowRight")
            expect(place).not_to_have_text(before)
        boxes = page.get_by_role("list", name="To tick off").get_by_role("checkbox")
        boxes.first.click()
        done.click()
        asked = page.get_by_role("alertdialog", name="Not ticked")
        expect(asked).to_contain_text("The sheet still lies there")
        # the space bar does not slip past it either
        page.keyboard.press("ArrowRight")
        expect(asked).to_be_visible()
        asked.get_by_role("button", name=re.compile("^Ink ")).first.click()
        expect(asked).to_have_count(0)
        expect(page.get_by_role("heading", level=2)).to_contain_text(" on the ")
