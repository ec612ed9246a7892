"""The heart, with real clicks, keys and drags."""

from __future__ import annotations

from playwright.sync_api import Page, expect

from tests.browser.base import BrowserTest, Line


class StrataTest(BrowserTest):
    def rung(self, name: str, page: Page | None = None):  # type: ignore[no-untyped-def]
        return (
            (page or self.page)
            .get_by_role("group", name="Core sample")
            .get_by_role("button", name=name, exact=True)
        )

    def picture(self) -> str:
        """Which picture is on the canvas, and which moment of it."""
        shown = self.page.locator("[role=img][aria-label^='The predicted panel']")
        return f"{shown.get_attribute('data-picture')} after {shown.get_attribute('data-after')}"

    def test_an_ink_is_swapped_deepened_and_undone_by_buttons(self) -> None:
        page = self.strata(self.good, "bud")
        before = self.picture()
        self.rung("Blush Ribbon").click()
        page.get_by_role("button", name="Swap ink").click()
        page.get_by_label("Find by name, family or line").fill("peach")
        page.get_by_role("region", name="An ink for").get_by_role("button", name="Peach Tin").click()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "peach-tin")
        self.assertNotEqual(self.picture(), before)
        page.get_by_role("button", name="Deepen").click()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "coral-kettle")
        for _ in range(2):
            page.get_by_role("button", name="Undo").click()
            self.kept()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "blush-ribbon")
        page.get_by_role("button", name="Redo").click()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "peach-tin")

    def test_everything_by_keyboard(self) -> None:
        page = self.strata(self.good, "water")
        first = self.inks_of(self.good, "water")
        page.keyboard.press("ArrowDown")  # the topmost pass
        page.keyboard.press("ArrowDown")
        page.keyboard.press("]")
        self.kept()
        self.assertEqual(self.inks_of(self.good, "water")[1], "long-pound")
        page.keyboard.press("Alt+ArrowDown")
        self.kept()
        self.assertEqual(self.inks_of(self.good, "water"), ["long-pound", first[0], first[2]])
        page.keyboard.press("+")
        self.kept()
        page.keyboard.press("h")
        self.kept()
        self.assertIn("2 coats", page.get_by_role("group", name="Core sample").inner_text())
        page.keyboard.press("Delete")
        self.kept()
        self.assertEqual(self.inks_of(self.good, "water"), [first[0], first[2]])
        for _ in range(5):
            page.keyboard.press("Control+z")
            self.kept()
        self.assertEqual(self.inks_of(self.good, "water"), first)
        page.keyboard.press("ArrowRight")
        expect(page.get_by_role("heading", name="light on the water")).to_be_visible()
        page.keyboard.press(",")
        expect(page.get_by_text("After pass 30 of 31")).to_be_visible()

    def test_pointing_at_the_picture_picks_the_element_and_a_drag_shades_it(self) -> None:
        page = self.strata(self.good, "water")
        box = page.locator("[role=img][aria-label^='The predicted panel']").bounding_box()
        assert box
        spot = (box["x"] + box["width"] * 0.69, box["y"] + box["height"] * 0.24)
        page.mouse.click(*spot)
        expect(page.get_by_role("heading", name="lantern", exact=True)).to_be_visible()
        self.rung("Coral Kettle").click()
        page.mouse.move(*spot)
        page.mouse.down()
        page.mouse.move(spot[0] + 40, spot[1], steps=5)
        page.mouse.up()
        self.kept()
        build_pass = next(
            p for p in self.plan() if p["ink"] == "coral-kettle" and p["on"]["element"] == "lantern"
        )
        self.assertEqual((build_pass["form"]["kind"], build_pass["form"]["angle"]), ("side", 180))
        self.assertTrue(0.3 < build_pass["form"]["extent"] < 0.9)

    def plan(self) -> list[dict]:
        self.good.refresh_from_db()
        return self.good.changes.get(number=self.good.head).plan["passes"]

    def test_a_warning_is_mended_in_place(self) -> None:
        page = self.strata(self.tried, "water")
        expect(page.get_by_text("the wrong way round")).to_be_visible()
        page.get_by_role("button", name="Put Dragonfly Wing first").click()
        self.kept()
        self.assertEqual(self.inks_of(self.tried, "water")[:2], ["dragonfly-wing", "kingfisher-dive"])
        expect(page.get_by_text("the wrong way round")).to_have_count(0)

    def test_the_build_up_is_scrubbed(self) -> None:
        page = self.strata(self.good, "water")
        slider = page.get_by_role("slider", name="Build-up")
        slider.focus()
        page.keyboard.press("Home")
        expect(page.get_by_text("Bare White smooth")).to_be_visible()
        expect(page.locator("[role=img][data-after='0']")).to_be_visible()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_text("After pass 1 of 31")).to_be_visible()

    def test_a_pass_is_given_to_a_sheet(self) -> None:
        page = self.strata(self.tried, "lower koi")
        page.get_by_role("button", name="give an ink on sheet 4").click()
        page.get_by_role("region", name="An ink for").get_by_role("button", name="Painted Rose").click()
        self.kept()
        self.assertIn("painted-rose", self.inks_of(self.tried, "lower koi"))
        expect(self.rung("Painted Rose")).to_have_attribute("aria-pressed", "true")

    def test_a_second_tab_is_told_and_shown(self) -> None:
        first = self.strata(self.good, "bud")
        second = self.strata(self.good, "bud", self.new_page())
        self.rung("Blush Ribbon", second).click()
        self.rung("Blush Ribbon", first).click()
        first.get_by_role("button", name="Deepen").click()
        self.kept(first)
        second.get_by_role("button", name="One more coat").click()
        notice = second.get_by_role("alert").filter(has_text="changed elsewhere")
        expect(notice).to_contain_text("Deepen bud to Campion")
        self.assertEqual(self.inks_of(self.good, "bud")[0], "campion")
        second.get_by_role("button", name="Make my change on top").click()
        self.kept(second)
        self.good.refresh_from_db()
        own = next(
            p
            for p in self.good.changes.get(number=self.good.head).plan["passes"]
            if p["on"]["element"] == "bud"
        )
        self.assertEqual((own["ink"], own["coats"]), ("campion", 2))

    def test_a_lost_connection_keeps_the_change_until_it_is_back(self) -> None:
        line = Line(self.page, "**/api/**")
        page = self.strata(self.good, "bud")
        self.rung("Blush Ribbon").click()
        line.cut()
        page.get_by_role("button", name="Deepen").click()
        page.get_by_role("button", name="One more coat").click()
        expect(page.get_by_text("No connection: 2 changes kept here")).to_be_visible()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "blush-ribbon")
        line.mend()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "campion")

    def test_changes_survive_a_reload_while_the_connection_is_lost(self) -> None:
        line = Line(self.page, "**/edits")
        page = self.strata(self.good, "bud")
        self.rung("Blush Ribbon").click()
        line.cut()
        page.get_by_role("button", name="Deepen").click()
        expect(page.get_by_text("No connection: 1 change kept here")).to_be_visible()
        line.mend()
        page.reload()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "campion")

    def test_a_double_click_makes_each_change_once(self) -> None:
        page = self.strata(self.good, "bud")
        self.rung("Blush Ribbon").click()
        page.get_by_role("button", name="One more coat").dblclick()
        self.kept()
        self.good.refresh_from_db()
        self.assertEqual(self.good.head, 2)
        self.assertEqual(next(p for p in self.plan() if p["on"]["element"] == "bud")["coats"], 3)
