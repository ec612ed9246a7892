"""The Finish screen with real clicks: a card decided, matted, folded otherwise; words moved; rates; undo; a narrow screen."""

from __future__ import annotations

import re

from playwright.sync_api import Page, expect

from tests.browser.base import AXE, BrowserTest


class FinishTest(BrowserTest):
    def finish(self, of: str = "tried") -> Page:
        row = getattr(self, of)
        page = self.open(f"/builds/{row.build_id}/colourings/{row.pk}/finish")
        expect(page.get_by_role("table", name="Cut list")).to_be_visible()
        return page

    def choose(self, page: Page, label: str, option: str) -> None:
        page.get_by_role("combobox", name=label, exact=True).first.click()
        page.get_by_role("option", name=option, exact=True).click()

    def test_a_card_is_decided_matted_and_undone(self) -> None:
        page = self.finish()
        expect(page.get_by_role("heading", name="The card, as it could be")).to_be_visible()
        page.get_by_role("button", name="Make it like this").click()
        expect(page.get_by_role("heading", name="The card", exact=True)).to_be_visible()
        page.get_by_role("button", name="Add a mat").click()
        cut = page.get_by_role("table", name="Cut list")
        expect(cut).to_contain_text("Mat")
        page.get_by_role("button", name="Cut out its middle").click()
        expect(cut).to_contain_text("is cut out and kept")
        self.choose(page, "Fold", "folded at the top")
        expect(cut).to_contain_text("Score across at")
        self.choose(page, "Made as", "one layer: the panel is folded")
        expect(cut).not_to_contain_text("Mat")
        self.kept(page)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(cut).to_contain_text("Mat")
        # the picture is there, and every sheet says its cuts
        expect(page.get_by_role("list", name="Cuts").first).to_contain_text("from the")

    def test_what_is_cut_goes_into_the_waits_and_sheets_can_be_others(self) -> None:
        page = self.finish()
        page.get_by_role("button", name="Make it like this").click()
        self.choose(page, "Its sheets are", "A5, 148 x 210 mm")
        expect(page.get_by_role("alert")).to_contain_text("larger than the sheet")
        self.choose(page, "Its sheets are", "12 x 12 in")
        expect(page.get_by_role("alert")).to_have_count(0)
        page.get_by_role("button", name="Make it part of the work").click()
        expect(page.get_by_role("button", name="Leave it for another day")).to_be_visible()
        self.kept(page)
        page.get_by_role("link", name="Order").click()
        expect(page.get_by_role("heading", name=re.compile("for 6 cards"))).to_be_visible()
        # the Finish screen says so too: only the Order screen has the heading
        expect(page.get_by_role("main")).to_contain_text("Score and fold the base")
        page.get_by_role("button", name="More wishes").click()
        self.choose(page, "Cutting and putting together", "another day")
        expect(page.get_by_role("main")).not_to_contain_text("Score and fold the base")

    def test_words_are_pushed_about_with_pointer_and_keys(self) -> None:
        page = self.finish("good")
        page.get_by_role("button", name="Add a strip for words").click()
        strip = page.get_by_role("slider", name=re.compile("^Strip for words 1"))
        expect(strip).to_be_visible()
        before = strip.get_attribute("aria-valuetext") or ""
        strip.drag_to(page.get_by_role("group", name=re.compile("^The front of the card")))
        expect(strip).not_to_have_attribute("aria-valuetext", before)
        dragged = strip.get_attribute("aria-valuetext") or ""
        strip.focus()
        page.keyboard.press("Shift+ArrowUp")
        expect(strip).not_to_have_attribute("aria-valuetext", dragged)
        self.kept(page)
        now = strip.get_attribute("aria-valuetext") or ""
        page.reload()
        expect(strip).to_have_attribute("aria-valuetext", now)

    def test_what_is_wanting_is_said_first(self) -> None:
        page = self.finish("good")
        expect(page.get_by_role("list", name="To be got first")).to_contain_text(
            "Under the Bridge has run dry"
        )
        with page.expect_download() as got:
            page.get_by_role("link", name="As a file (CSV)").click()
        self.assertIn("Under the Bridge", got.value.path().read_text(encoding="utf-8-sig"))

    def test_rates_of_ones_own(self) -> None:
        page = self.finish()
        expect(page.get_by_text("These rates are invented")).to_be_visible()
        page.get_by_role("button", name="My own rates").click()
        form = page.get_by_role("form", name="My own rates")
        form.get_by_label("Rate", exact=True).first.fill("Village post")
        form.get_by_label("Most g", exact=True).first.fill("heavy")
        expect(form.get_by_role("button", name="Keep my rates")).to_be_disabled()
        form.get_by_label("Most g", exact=True).first.fill("60,5")
        form.get_by_role("button", name="Keep my rates").click()
        expect(page.get_by_role("list", name="Rates")).to_contain_text("Village post")
        expect(page.get_by_text("These rates are invented")).to_have_count(0)

    def test_on_a_narrow_screen_nothing_runs_off(self) -> None:
        self.page.set_viewport_size({"width": 390, "height": 844})
        page = self.finish("good")
        self.assertLessEqual(page.evaluate("document.documentElement.scrollWidth"), 390)

    def test_nothing_for_axe_to_find(self) -> None:
        page = self.finish("good")
        page.get_by_role("button", name="Add a strip for words").click()
        expect(page.get_by_role("slider")).to_be_visible()
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])
