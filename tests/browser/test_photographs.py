"""Photographs of sheets in a real browser: several of one sheet."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from strata.camera import jpeg
from strata.camera.nuisance import glare
from tests import world
from tests.browser.base import AXE, BrowserTest
from tests.studio.importing import all_let_go, photo


class PhotographsTest(BrowserTest):
    def tearDown(self) -> None:
        all_let_go()
        super().tearDown()

    def test_one_more_photograph_shows_what_the_first_one_hides(self) -> None:
        def picture(seed: int, spot: tuple[float, float, float], **values: Any) -> Any:
            glinting = glare(np.asarray(Image.open(io.BytesIO(photo(1, **values)))), [spot])
            return {"name": f"taken {seed}.jpg", "mimeType": "image/jpeg", "buffer": jpeg(glinting, 88)}

        page = self.open("/sets/bring-in")
        page.locator("input[type=file]").set_input_files([picture(1, (0.42, 0.59, 0.06))])
        page.get_by_label("Width, in").fill("4 1/4")
        page.get_by_label("Height, in").fill("5.5")
        page.get_by_role("button", name="Read them").click()
        expect(page.get_by_text("photograph it once more")).to_be_visible()
        more = page.get_by_label("One more photograph of this sheet")
        more.set_input_files([picture(2, (0.6, 0.8, 0.05), roll=0.08)])
        expect(page.get_by_text("2 photographs")).to_be_visible()
        expect(page.get_by_text("photograph it once more")).to_have_count(0)
        # of one sheet nothing tells which openings are marks
        count = len(world.koi().sheet(1).openings) + 4
        expect(page.get_by_text(f"1 sheet, {count} openings")).to_be_visible()
        page.get_by_role("button", name="Take its photographs apart").click()
        expect(page.get_by_text("2 sheets,")).to_be_visible()
        # and by saying that one is the other once more, by keyboard
        page.get_by_role("button", name="Show sheet 2").click()
        page.get_by_role("button", name="The same sheet as").press("Enter")
        page.get_by_role("menuitem").first.press("Enter")
        expect(page.get_by_text(f"1 sheet, {count} openings")).to_be_visible()
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])
