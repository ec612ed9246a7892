"""The drawer in a real browser: map, list, keyboard, many at once, swatches, bringing in, swatch cards, stand-ins."""

from __future__ import annotations

import csv
import io
import re
from typing import Any

from playwright.sync_api import Locator, expect

from studio.inks.models import Ink, InkImport, Tool
from tests.browser.base import BrowserTest


class MapTest(BrowserTest):
    def test_gaps_are_named_and_lead_to_recipes(self) -> None:
        page = self.open("/inks")
        aside = page.get_by_role("complementary", name="Worth knowing")
        expect(aside).to_contain_text("Your yellows stop at L*")
        expect(aside).to_contain_text("two pads nobody could tell apart")
        page.get_by_label("Shown on").click()
        page.get_by_role("option", name="Black").click()
        expect(aside).to_contain_text("On Black only the opaque pads show")
        aside.get_by_role("link", name="What could fill it?").first.click()
        expect(page.get_by_role("list", name="Recipes").get_by_role("listitem").first).to_be_visible()
        expect(page.get_by_label("Card", exact=True)).to_contain_text("Black")

    def test_by_keyboard_alone(self) -> None:
        page = self.open("/inks")
        page.get_by_role("button", name=re.compile("^Peach Tin")).focus()
        page.keyboard.press("ArrowDown")
        expect(page.locator(":focus")).to_have_attribute("data-ink", "coral-kettle")
        page.keyboard.press("Enter")
        expect(page.get_by_role("complementary", name="Coral Kettle")).to_be_visible()
        self.assertIn("ink=coral-kettle", page.url)
        page.go_back()
        expect(page.get_by_role("complementary", name="Worth knowing")).to_be_visible()

    def test_filters_narrow_what_is_shown(self) -> None:
        page = self.open("/inks")
        page.get_by_label("Kind of ink").click()
        page.get_by_role("option", name="metallic").click()
        expect(page.get_by_text("2 of 45")).to_be_visible()
        expect(page.locator("[data-ink]:visible")).to_have_count(2)
        page.get_by_role("button", name="Show all").click()
        page.get_by_label("State").click()
        page.get_by_role("option", name="dry", exact=True).click()
        expect(page.locator("[data-ink]:visible")).to_have_count(1)
        page.get_by_role("button", name="Show all").click()
        page.get_by_label("Find a pad").fill("kettle")
        expect(page.locator("[data-ink]:visible")).to_have_count(1)

    def test_an_ink_opened_changed_and_undone(self) -> None:
        page = self.open("/inks?ink=painted-rose")
        aside = page.get_by_role("complementary", name="Painted Rose")
        expect(aside).to_contain_text("Boat Fair Rose")
        expect(aside).to_contain_text("Thank-you by lantern light")
        expect(aside.get_by_text("measured", exact=True)).to_have_count(1)
        expect(aside.get_by_text("predicted", exact=True)).to_have_count(4)
        aside.get_by_role("button", name="Change").click()
        page.get_by_label("Place in the drawer").fill("window sill")
        page.get_by_label("Minutes to dry").fill("7,5")
        page.get_by_role("button", name="Keep it").click()
        expect(aside).to_contain_text("Window sill.")
        self.assertEqual(Ink.objects.get(key="painted-rose").dry_minutes, 7.5)
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(aside).to_contain_text("Top tray.")
        page.keyboard.press("Control+Shift+z")
        expect(aside).to_contain_text("Window sill.")

    def test_swatches_by_reader_by_value_and_taken_away(self) -> None:
        page = self.open("/inks?ink=campion")
        aside = page.get_by_role("complementary", name="Campion")
        aside.get_by_role("button", name="Add a swatch").click()
        dialog = page.get_by_role("dialog")
        dialog.get_by_label("On", exact=True).click()
        page.get_by_role("option", name="Kraft").click()
        dialog.get_by_role("button", name="Read the white tile").click()
        expect(dialog.get_by_role("status")).to_have_count(0)
        dialog.get_by_role("button", name="Read it five times").click()
        expect(dialog.get_by_role("list", name="Readings").get_by_role("listitem")).to_have_count(5)
        dialog.get_by_role("button", name="Keep this swatch").click()
        expect(aside.get_by_text("1 of 3 measured")).to_be_visible()
        aside.get_by_role("button", name="Add a swatch").click()
        dialog.get_by_role("button", name="Type it in").click()
        dialog.get_by_label("or a hex code").fill("#c03060")
        expect(dialog).to_contain_text("first guess")
        for label, value in (("L*", "52,5"), ("a*", "58"), ("b*", "−10")):
            dialog.get_by_label(label, exact=True).fill(value)
        dialog.get_by_role("button", name="Keep this swatch").click()
        expect(aside).to_contain_text("52.5 58.0 -10.0")
        aside.get_by_role("button", name="Take swatch 4 away").click()
        expect(aside.get_by_text("1 of 3 measured")).to_have_count(0)


class ListTest(BrowserTest):
    def test_many_at_once_by_mouse_and_by_keyboard(self) -> None:
        page = self.open("/inks?view=list")
        grid = page.get_by_role("grid")
        page.get_by_label("Line").click()
        page.get_by_role("option", name="Towrope").click()
        page.get_by_label("All of these pads").check()
        bar = page.get_by_role("form", name="Change the marked pads")
        expect(bar).to_contain_text("12 pads marked")
        bar.get_by_label("to").click()
        page.get_by_role("option", name="low").click()
        bar.get_by_role("button", name="Change them").click()
        expect(page.get_by_text("12 pads changed.")).to_be_visible()
        self.assertEqual(set(Ink.objects.filter(line="Towrope").values_list("state", flat=True)), {"low"})
        page.get_by_role("button", name="Undo", exact=True).first.click()
        expect(grid.get_by_text("wished for")).to_have_count(1)
        grid.focus()
        page.keyboard.press("Home")
        page.keyboard.press("Space")
        page.keyboard.press("Shift+ArrowDown")
        page.keyboard.press("Shift+ArrowDown")
        expect(bar).to_contain_text("3 pads marked")
        page.keyboard.press("Escape")
        expect(bar).to_have_count(0)
        page.keyboard.press("Enter")
        expect(page.get_by_role("button", name="Close the pad")).to_be_visible()

    def test_sorting(self) -> None:
        page = self.open("/inks?view=list")
        head = page.get_by_role("columnheader", name="L*")
        head.get_by_role("button").click()
        expect(head).to_have_attribute("aria-sort", "ascending")
        expect(page.get_by_role("row").nth(1)).to_contain_text("Pitch Black")
        head.get_by_role("button").click()
        expect(page.get_by_role("row").nth(1)).to_contain_text("Chalk Pen")

    def test_cards_and_brushes(self) -> None:
        page = self.open("/inks?view=house")
        # the count on the screen runs ahead of the server
        with page.expect_response(lambda r: "/api/tools/" in r.url and r.request.method == "PATCH"):
            page.get_by_role("button", name="One small brush more").click()
        expect(page.get_by_role("listitem").filter(has_text="small brush")).to_contain_text("5")
        self.assertEqual(Tool.objects.get(brush="small").count, 5)
        page.get_by_role("button", name="Change Ivory").click()
        page.get_by_label("How much is left").click()
        page.get_by_role("option", name="used up").click()
        page.get_by_role("button", name="Keep it").click()
        expect(page.get_by_text("used up")).to_be_visible()


class BringInTest(BrowserTest):
    def bring(self, data: str, name: str = "inks.csv") -> None:
        page = self.open("/inks")
        page.get_by_role("button", name="Files").click()
        page.get_by_role("menuitem", name="Bring in a list").click()
        file: Any = {"name": name, "mimeType": "text/csv", "buffer": data.encode()}
        page.locator("input[type=file]").set_input_files(file)

    def test_a_strangers_table_from_columns_to_undo(self) -> None:
        self.bring("Was;Preis;L;a;b\nFerry Green;4,50;52,5;-30;24\nKaputt;1;x;1;2\n")
        page = self.page
        expect(page.get_by_text("No ink comes of it yet; 2 rows cannot be taken.")).to_be_visible()
        page.get_by_role("combobox", name="Was is").click()
        page.get_by_role("option", name="name of the ink").click()
        expect(page.get_by_text("1 new; 1 row cannot be taken.")).to_be_visible()
        expect(page.get_by_label("Rows that cannot be taken")).to_contain_text("Row 3, L")
        with page.expect_download() as found:
            page.get_by_role("link", name="These rows as a table").click()
        rows = list(csv.reader(io.StringIO(found.value.path().read_text("utf-8-sig"))))
        self.assertEqual(rows[1][0], "Kaputt")
        page.get_by_role("button", name="Keep 1 ink").click()
        expect(page.get_by_text("1 ink is in the drawer.")).to_be_visible()
        self.assertEqual(Ink.objects.get(name="Ferry Green").notes, "Preis: 4,50")
        page.get_by_role("button", name="Undo all of it").click()
        expect(page.get_by_text("This was undone")).to_be_visible()
        self.assertIsNotNone(Ink.objects.get(name="Ferry Green").gone)

    def test_our_own_files_come_back_as_nothing_new(self) -> None:
        page = self.open("/inks")
        for name in (
            "Table for a spreadsheet",
            "Table with decimal commas",
            "Colour reader",
            "Palette",
            "Everything",
        ):
            self.open("/inks")
            page.get_by_role("button", name="Files").click()
            with page.expect_download() as found:
                page.get_by_role("menuitem", name=name).click()
            path = found.value.path()
            self.open("/inks/bring-in")
            file: Any = {
                "name": found.value.suggested_filename,
                "mimeType": "text/plain",
                "buffer": path.read_bytes(),
            }
            page.locator("input[type=file]").set_input_files(file)
            expect(page.get_by_text("45 the same as here")).to_be_visible()

    def test_a_file_that_is_none_is_refused_in_words(self) -> None:
        self.bring("{}", "d.json")
        expect(self.page.get_by_role("alert")).to_contain_text("not a drawer file")
        self.page.get_by_role("button", name="Choose another file").click()
        expect(self.page.get_by_role("heading", name="Bring in inks")).to_be_visible()
        self.assertFalse(InkImport.objects.exists())


class CardTest(BrowserTest):
    def fields(self) -> Locator:
        return self.page.get_by_role("list", name="Fields").get_by_role("listitem")

    def test_a_card_is_made_photographed_read_and_kept(self) -> None:
        page = self.open("/inks?ink=campion")
        page.get_by_role("link", name="On a swatch card").click()
        page.get_by_label("On", exact=True).click()
        page.get_by_role("option", name="Kraft").click()
        page.get_by_label("Find a pad").fill("ember")
        page.get_by_role("button", name="Take all of these").click()
        expect(page.get_by_text("5 of 48 fields")).to_be_visible()
        page.get_by_role("button", name="Make the card").click()
        expect(self.fields()).to_have_count(5)
        expect(self.fields().first).to_contain_text("not known on this card yet")
        picture: Any = {"name": "cat.jpg", "mimeType": "image/jpeg", "buffer": b"no picture"}
        page.get_by_label("A photograph of the card").set_input_files(picture)
        expect(page.get_by_role("alert")).to_contain_text("not a picture")
        page.get_by_role("button", name="Use a sample photograph").click()
        page.get_by_text("Differences are CIEDE2000").wait_for()
        expect(self.fields().first).to_contain_text("from the drawer’s")
        before = Ink.objects.get(key="peach-tin").swatches
        page.get_by_role("button", name="Mark all that can be kept").click()
        page.get_by_role("button", name="Keep 5 swatches").click()
        expect(page.get_by_text("Kept.", exact=True)).to_have_count(5)
        self.assertEqual(Ink.objects.get(key="peach-tin").swatches[-1]["how"], "swatch card")
        page.get_by_role("button", name="Undo").click()
        self.open("/inks?ink=peach-tin")
        self.assertEqual(Ink.objects.get(key="peach-tin").swatches, before)


class InBuildTest(BrowserTest):
    def test_a_dry_pad_is_replaced_by_one_button(self) -> None:
        page = self.strata(self.good, "lily pads")
        page.get_by_role("button", name="Dry: stand-in?").first.click()
        first = page.get_by_role("list", name="Stand-ins").get_by_role("listitem").first
        expect(first).to_contain_text("As the line of lily pads")
        first.get_by_role("button", name="Swap it in: Lily Leaf").click()
        self.kept()
        self.assertNotIn("under-the-bridge", self.inks_of(self.good, "lily pads"))
        expect(page.get_by_role("button", name="Dry: stand-in?")).to_have_count(0)
        page.get_by_role("button", name="Undo").click()
        self.kept()
        self.assertIn("under-the-bridge", self.inks_of(self.good, "lily pads"))

    def test_by_key_and_from_the_pad(self) -> None:
        page = self.open("/inks?ink=campion")
        page.get_by_role("link", name="Stand-in").first.click()
        expect(page.get_by_role("heading", name="Instead of Campion")).to_be_visible()
        page.keyboard.press("Escape")
        expect(page.get_by_role("dialog")).to_have_count(0)
        page.get_by_role("group", name="Core sample").get_by_role("button", name="Blush Ribbon").click()
        page.keyboard.press("i")
        expect(page.get_by_role("heading", name="Instead of Blush Ribbon")).to_be_visible()

    def test_a_recipe_is_laid_in_a_build_and_printed_as_a_test(self) -> None:
        page = self.strata(self.good, "bud")
        page.get_by_role("group", name="Core sample").get_by_role(
            "button", name="Campion", exact=True
        ).click()
        page.get_by_role("button", name="Swap ink").click()
        page.get_by_role("link", name="Find a recipe for the colour").click()
        answers = page.get_by_role("list", name="Recipes").get_by_role("listitem")
        pair = answers.filter(has_text="two pads").first
        expect(pair).to_be_visible()
        names = pair.locator("strong").all_inner_texts()
        pair.get_by_role("button", name="Use it on bud").click()
        expect(page.get_by_label("In the place of")).to_contain_text("Campion")
        page.get_by_role("button", name="Lay it there").click()
        core = page.get_by_role("group", name="Core sample")
        expect(core).to_be_visible()
        for name in names:
            expect(core.get_by_role("button", name=name, exact=True).first).to_be_visible()
        laid = {Ink.objects.get(name=name).key for name in names}
        self.assertLessEqual(laid, set(self.inks_of(self.good, "bud")))
        self.good.refresh_from_db()
        self.assertEqual(self.good.changes.get(number=self.good.head).label, f"{' + '.join(names)} on bud")
        self.open("/inks/recipes")
        pair = (
            page.get_by_role("list", name="Recipes").get_by_role("listitem").filter(has_text="two pads").first
        )
        pair.get_by_role("button", name="Print a test swatch").click()
        expect(page.get_by_role("heading", name="Test swatch 1")).to_be_visible()
        expect(page.get_by_role("list", name="Fields").get_by_role("listitem")).to_have_count(3)
