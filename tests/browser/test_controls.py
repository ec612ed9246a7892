"""Every control of the strata screen does what it says, by pointer and by keyboard."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import expect

from tests.browser.base import BrowserTest


class ControlTest(BrowserTest):
    def first_pass(self, element: str) -> dict[str, Any]:
        self.good.refresh_from_db()
        passes = self.good.changes.get(number=self.good.head).plan["passes"]
        return next(p for p in passes if p["on"]["element"] == element)

    def opened(self, element: str, ink: str) -> Any:
        page = self.strata(self.good, element)
        page.get_by_role("group", name="Core sample").get_by_role("button", name=ink, exact=True).click()
        return page

    def test_hand_and_coats(self) -> None:
        page = self.opened("lantern", "Lamp Haze")
        page.get_by_role("group", name="Hand").get_by_role("button", name="heavy").click()
        self.kept()
        page.get_by_role("button", name="One more coat").click()
        self.kept()
        found = self.first_pass("lantern")
        self.assertEqual((found["hand"], found["coats"]), ("heavy", 2))
        page.get_by_role("button", name="One coat less").click()
        self.kept()
        expect(page.get_by_role("button", name="One coat less")).to_be_disabled()

    def test_every_shading_form(self) -> None:
        page = self.opened("lantern", "Lamp Haze")
        for name, kind in (
            ("From one side", "side"),
            ("From the base", "base"),
            ("Centre out", "centre"),
            ("Edges in", "edges"),
            ("A band", "band"),
            ("All over", "all"),
        ):
            page.get_by_role("radio", name=name).click()
            self.kept()
            self.assertEqual(self.first_pass("lantern")["form"]["kind"], kind)
            expect(page.get_by_role("radio", name=name)).to_have_attribute("aria-checked", "true")

    def test_how_far_by_the_keyboard_and_each_opening_by_a_press(self) -> None:
        page = self.opened("lantern", "Peach Tin")
        slider = page.get_by_role("slider", name="How far")
        before = float(slider.input_value())
        slider.focus()
        page.keyboard.press("ArrowRight")
        self.kept()
        self.assertGreater(float(page.get_by_role("slider", name="How far").input_value()), before)
        page.get_by_role("button", name="each opening").click()
        self.kept()
        expect(page.get_by_role("button", name="whole element")).to_be_visible()

    def test_up_down_and_off(self) -> None:
        page = self.opened("lantern", "Lamp Haze")
        page.get_by_role("button", name="Move the pass up").click()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "lantern")[:2], ["peach-tin", "lamp-haze"])
        page.get_by_role("button", name="Move the pass down").click()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "lantern")[:2], ["lamp-haze", "peach-tin"])
        page.get_by_role("button", name="Take the pass off").click()
        self.kept()
        self.assertNotIn("lamp-haze", self.inks_of(self.good, "lantern"))

    def test_the_deepest_says_so_by_having_no_deeper(self) -> None:
        page = self.opened("upper koi", "Stove Door")
        expect(page.get_by_role("button", name="Deepen")).to_be_disabled()
        expect(page.get_by_role("button", name="Lighten")).to_be_enabled()

    def test_the_drawer_opens_by_key_and_closes_by_escape_without_a_change(self) -> None:
        page = self.opened("bud", "Blush Ribbon")
        page.keyboard.press("s")
        dialog = page.get_by_role("region", name="An ink for bud")
        expect(dialog).to_be_visible()
        expect(dialog.get_by_role("button", name="Blush Ribbon")).to_have_attribute("aria-current", "true")
        page.keyboard.type("sloe")
        expect(dialog.get_by_role("button", name="Sloe")).to_be_visible()
        expect(dialog.get_by_role("button", name="Peach Tin")).to_have_count(0)
        page.keyboard.press("Escape")
        expect(dialog).to_have_count(0)
        self.assertEqual(self.good.changes.count(), 1)

    def test_keys_are_listed_from_the_commands(self) -> None:
        page = self.strata(self.good, "bud")
        page.get_by_text("Keys", exact=True).click()
        for label in (
            "Move the pass up",
            "Deepen",
            "One more coat",
            "Swap the ink",
            "Build-up: one pass back",
        ):
            expect(page.get_by_text(label, exact=True)).to_be_visible()

    def test_typing_a_name_never_edits_a_pass(self) -> None:
        page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/materials")
        page.get_by_label("Name of this build").fill("Cards for the +crew-")
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Cards for the +crew-")).to_be_visible()
        self.assertEqual(self.good.changes.count(), 1)

    def test_the_core_box_tells_where_warnings_are(self) -> None:
        page = self.strata(self.tried, "reeds")
        box = page.get_by_role("group", name="Elements")
        expect(
            box.get_by_role("button", name="lantern").get_by_role("img", name="Look at this")
        ).to_be_visible()
        expect(
            box.get_by_role("button", name="lower koi").get_by_role("img", name="To decide")
        ).to_be_visible()
        # its deepest green is only wished for: said where it is used
        expect(
            box.get_by_role("button", name="reeds").get_by_role("img", name="Mend this first")
        ).to_be_visible()
        expect(page.get_by_text("Old Hedge is only wished for: reeds cannot be inked.")).to_be_visible()

    def test_an_address_opens_its_element_again(self) -> None:
        page = self.strata(self.good, "reeds")
        page.get_by_role("group", name="Elements").get_by_role("button", name="bud").click()
        self.assertIn("element=bud", page.url)
        page.reload()
        expect(page.get_by_role("heading", name="bud")).to_be_visible()

    def test_openings_left_bare_are_no_longer_asked_about(self) -> None:
        page = self.strata(self.tried, "bud")
        expect(page.get_by_text("of bud on sheet 5 has no ink")).to_be_visible()
        page.get_by_role("button", name="Leave bare card here").click()
        self.kept()
        expect(page.get_by_text("of bud on sheet 5 has no ink")).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        self.kept()
        expect(page.get_by_text("of bud on sheet 5 has no ink")).to_be_visible()


class TableLookTest(BrowserTest):
    def test_the_table_shows_now_wet_and_dry(self) -> None:
        page = self.at_table(self.good)
        page.keyboard.press("Space")
        page.keyboard.press("Space")
        expect(page.get_by_text("3 of ")).to_be_visible()
        expect(page.locator("[data-after='1']")).to_be_visible()
        page.get_by_role("button", name="After, wet").click()
        expect(page.locator("[data-after='2'][data-wet=true]")).to_be_visible()
        page.get_by_role("button", name="After, dry").click()
        expect(page.locator("[data-after='2'][data-wet=false]")).to_be_visible()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_text("4 of ")).to_be_visible()
        expect(page.locator("[data-after='2'][data-wet=false]")).to_be_visible()

    def test_lengths_follow_the_makers_units(self) -> None:
        page = self.open("/sets")
        expect(page.get_by_text("4 1/4 × 5 1/2 in")).to_be_visible()
        page.get_by_role("button", name="Inches").click()
        expect(page.get_by_text("108 × 139.7 mm")).to_be_visible()
        page.reload()
        expect(page.get_by_role("button", name="Millimetres")).to_be_visible()
