"""Recipes in a real browser: the answer follows the wanted colour, by number, pad and picture."""

from __future__ import annotations

import io

from PIL import Image
from playwright.sync_api import Locator, expect

from tests.browser.base import BrowserTest


class RecipesTest(BrowserTest):
    def first(self) -> Locator:
        return self.page.get_by_role("list", name="Recipes").get_by_role("listitem").first

    def test_the_answer_follows_the_wanted_colour(self) -> None:
        page = self.open("/inks")
        page.get_by_role("link", name="What makes a colour?").click()
        expect(self.first()).to_be_visible()
        before = self.first().inner_text()
        page.get_by_role("slider", name="Lightness").focus()
        for _ in range(12):
            page.keyboard.press("ArrowRight")
        expect(self.first()).not_to_have_text(before)
        page.get_by_label("The colour of a pad").click()
        page.get_by_role("option", name="Campion").click()
        expect(self.first()).to_contain_text("Nobody could tell them apart")
        expect(self.first()).to_contain_text("Campion")
        page.get_by_role("button", name="Without Campion").first.click()
        expect(page.get_by_text("Without", exact=True)).to_be_visible()
        expect(page.get_by_role("list", name="Recipes")).not_to_contain_text("Campion")
        page.get_by_label("At most").click()
        page.get_by_role("option", name="one pad").click()
        expect(page.get_by_role("list", name="Recipes")).not_to_contain_text("then")

    def test_a_colour_from_a_picture(self) -> None:
        page = self.open("/inks/recipes")
        out = io.BytesIO()
        Image.new("RGB", (60, 40), (30, 60, 160)).save(out, "PNG")
        picture = {"name": "ribbon.png", "mimeType": "image/png", "buffer": out.getvalue()}
        page.get_by_label("A picture to pick from").set_input_files(picture)  # type: ignore[arg-type]
        with page.expect_request(
            lambda r: r.url.endswith("/api/recipes") and "#1e3ca0" in (r.post_data or "")
        ):
            page.get_by_label("Press or drag on the picture").click()
        page.get_by_label("A picture to pick from").set_input_files({**picture, "buffer": b"no"})  # type: ignore[arg-type]
        expect(page.get_by_role("alert")).to_contain_text("not a picture")
