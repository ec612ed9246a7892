"""Photographs of sheets in a real browser: several of one sheet."""

from __future__ import annotations

import io
from typing import Any

import numpy as np
from PIL import Image
from playwright.sync_api import expect

from strata.camera import Shot, jpeg, photograph
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

    def test_what_a_glint_hides_is_marked_and_can_be_drawn(self) -> None:
        """A white stencil on a dark table: under the lamp's glint openings cannot be seen, and it is said where."""
        koi, values = world.koi(), {"plastic": (0.75, 0.75, 0.74), "table": (0.1, 0.07, 0.05)}
        shapes = [o.polygon for o in koi.sheet(4).openings]
        shot = Shot(
            width=1500, height=1875, tilt_x=0.08, tilt_y=0.05, fills=0.78, quality=85, seed=4, **values
        )
        seen = glare(photograph(shapes, koi.width, koi.height, shot), [(0.42, 0.59, 0.07)])
        page = self.open("/sets/bring-in")
        page.locator("input[type=file]").set_input_files(
            [{"name": "under the lamp.jpg", "mimeType": "image/jpeg", "buffer": jpeg(seen, 88)}]
        )
        page.get_by_label("Width, in").fill("4 1/4")
        page.get_by_label("Height, in").fill("5.5")
        page.get_by_role("button", name="Read them").click()
        expect(page.get_by_role("group", name="Places that a glint hides")).to_be_visible()
        marked = page.get_by_role("group", name="The photograph with the openings that were found")
        outlines = marked.locator("path", has_text="The lamp blinds the camera here")
        expect(outlines).not_to_have_count(0)
        # the glint lies where it was put, of the photograph's width and height
        box, of = outlines.first.bounding_box(), marked.locator("image").bounding_box()
        assert box is not None
        assert of is not None
        self.assertLess(abs((box["x"] + box["width"] / 2 - of["x"]) / of["width"] - 0.42), 0.06)
        self.assertLess(abs((box["y"] + box["height"] / 2 - of["y"]) / of["height"] - 0.59), 0.06)
        told = page.get_by_text("1 sheet, ")
        count = int((told.text_content() or "").split(",")[1].split()[0])
        page.get_by_role("button", name="Draw at hidden place 1").click()
        drawn_on = marked.locator("image").bounding_box()
        assert drawn_on is not None
        for x, y in ((0.378, 0.63), (0.386, 0.608), (0.451, 0.595), (0.475, 0.603), (0.47, 0.622)):
            page.mouse.click(drawn_on["x"] + x * drawn_on["width"], drawn_on["y"] + y * drawn_on["height"])
        # a point that is held and let go is no other point
        expect(page.get_by_role("slider", name="of the outline")).to_have_count(5)
        page.get_by_role("slider", name="Point 5 of the outline").click()
        expect(page.get_by_role("slider", name="of the outline")).to_have_count(5)
        # what shines through faintly there has an edge, which an outline is laid on; and taken back
        rough = marked.locator("polygon[fill='#ffffff44']").get_attribute("points")
        page.get_by_role("button", name="Fit it to the edge").press("Enter")
        expect(page.get_by_text("This is the edge that runs beside what you drew.")).to_be_visible()
        expect(marked.locator("polygon[fill='#ffffff44']")).not_to_have_attribute("points", rough or "")
        expect(page.get_by_role("slider", name="of the outline")).to_have_count(0)
        page.get_by_role("button", name="As I drew it").click()
        expect(marked.locator("polygon[fill='#ffffff44']")).to_have_attribute("points", rough or "")
        page.get_by_role("button", name="Fit it to the edge").click()
        expect(page.get_by_role("button", name="As I drew it")).to_be_visible()
        page.get_by_role("button", name="Draw it").click()
        expect(page.get_by_role("button", name="Take the last mend back")).to_be_visible()
        expect(told).to_contain_text(f"1 sheet, {count + 1} openings")
        page.get_by_role("button", name="Take the last mend back").click()
        expect(page.get_by_text(f"1 sheet, {count} openings")).to_be_visible()
        expect(outlines).not_to_have_count(0)
        # of each she may say that nothing is there, by keyboard; then nothing is asked or said of it any more
        hidden = outlines.count()
        for left in reversed(range(hidden)):
            page.get_by_role("button", name="Nothing more is at hidden place 1").press("Enter")
            expect(outlines).to_have_count(left)
        expect(page.get_by_text("the lamp blinds the camera")).to_have_count(0)
        page.get_by_role("button", name="Take the last mend back").click()
        expect(outlines).to_have_count(1)
