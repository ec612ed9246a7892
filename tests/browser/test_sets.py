"""Sets in a real browser: brought in, corrected, named with mouse and keys, measured, carried out."""

from __future__ import annotations

import re
import tempfile
from pathlib import Path

from playwright.sync_api import Page, expect

from studio.sets import imports
from studio.sets.history import core_set
from studio.sets.models import Import, LayerSet
from tests.browser.base import AXE, BrowserTest
from tests.studio.importing import all_let_go, photo
from tests.world import drawing

BODY = (
    '<g id="Base"><rect x="10" y="10" width="40" height="50"/><rect x="60" y="10" width="30" height="50"/></g>'
    '<g id="Tone"><rect x="14" y="30" width="30" height="26"/></g>'
)

READY = """async () => {
  const found = await fetch("/api/imports/" + location.pathname.split("/").pop());
  return (await found.json()).state === "ready";
}"""


class SetsTest(BrowserTest):
    def tearDown(self) -> None:
        all_let_go()
        super().tearDown()

    def send(self, *files: tuple[str, bytes]) -> Page:
        page = self.open("/sets/bring-in")
        with tempfile.TemporaryDirectory() as folder:
            paths = []
            for name, data in files:
                paths.append(Path(folder) / name)
                paths[-1].write_bytes(data)
            page.locator("input[type=file]").set_input_files(paths)
            page.get_by_role("button", name="Read them").click()
            page.wait_for_url(re.compile(r"/bring-in/\d+"))
        return page

    def small(self) -> LayerSet:
        """A set of three openings, already in the library."""
        page = self.send(("gate.svg", drawing(BODY)))
        page.get_by_role("button", name="Keep it").click()
        page.wait_for_url(re.compile(r"/sets/\d+$"))
        return LayerSet.objects.get(owner=self.maker, name="Gate")

    def at(self, x: float, y: float) -> tuple[float, float]:
        """mm on the panel to the screen."""
        box = self.page.locator("svg[aria-label^='Sheets']").bounding_box()
        assert box
        scale = min(box["width"] / 100, box["height"] / 80)
        left = box["x"] + (box["width"] - 100 * scale) / 2
        top = box["y"] + (box["height"] - 80 * scale) / 2
        return left + x * scale, top + y * scale

    def test_a_drawing_comes_in_and_its_parts_are_named_with_the_keyboard(self) -> None:
        made = self.small()
        page = self.page
        expect(page.get_by_text("A stencil of 2 sheets, 3 openings")).to_be_visible()
        page.keyboard.press("n")
        expect(page.get_by_text("2 openings of part 1")).to_be_visible()
        page.keyboard.press("Enter")
        page.keyboard.type("lock gate")
        page.keyboard.press("Enter")
        expect(page.get_by_role("list", name="The parts")).to_contain_text("lock gate")
        page.mouse.click(*self.at(75, 30))
        page.keyboard.press("w")
        expect(page.get_by_role("button", name="Waste")).to_have_attribute("aria-pressed", "true")
        page.keyboard.press("Control+z")
        expect(page.get_by_role("button", name="Waste")).to_have_attribute("aria-pressed", "false")
        page.keyboard.press("1")
        expect(page.get_by_role("list", name="The parts")).not_to_contain_text("part 2")
        made.refresh_from_db()
        self.assertEqual(core_set(made).elements, ("lock gate",))

    def test_openings_are_gone_to_chosen_and_named_one_by_one_without_a_pointer(self) -> None:
        made = self.small()
        page = self.page
        sheets = page.get_by_role("listbox", name=re.compile("^Sheets"))
        sheets.focus()
        names = ["gate", "beam", "post"]
        for n, name in enumerate(names):
            page.keyboard.press("Home")
            for _ in range(n):
                page.keyboard.press("PageDown")
            expect(page.get_by_text(f"{n + 1} of 3:", exact=False)).to_be_visible()
            page.keyboard.press("+")
            page.keyboard.press("Enter")
            expect(page.get_by_text("1 opening of", exact=False)).to_be_visible()
            page.keyboard.press("Enter")
            page.keyboard.type(name)
            page.keyboard.press("Enter")
            expect(page.get_by_role("list", name="The parts")).to_contain_text(name)
            expect(sheets).to_be_focused()
        made.refresh_from_db()
        self.assertEqual(set(core_set(made).elements), set(names))
        closer = sheets.get_attribute("viewBox") or ""
        self.assertLess(float(closer.split()[2]), 100 / 1.5)
        page.keyboard.press("0")
        expect(sheets).to_have_attribute("viewBox", "0 0 100 80")
        page.keyboard.press("Home")
        page.keyboard.press("Space")
        expect(page.get_by_text("2 openings of", exact=False)).to_be_visible()
        page.get_by_role("button", name="Closer").click()
        expect(sheets).not_to_have_attribute("viewBox", "0 0 100 80")
        page.evaluate(AXE.read_text())
        found = page.evaluate("axe.run().then((r) => r.violations.map((v) => `${v.id}: ${v.nodes[0].html}`))")
        self.assertEqual(found, [])

    def test_lasso_split_and_join(self) -> None:
        made = self.small()
        page = self.page
        page.mouse.move(*self.at(5, 5))
        page.mouse.down()
        for x, y in ((95, 5), (95, 70), (5, 70), (5, 8)):
            page.mouse.move(*self.at(x, y), steps=6)
        page.mouse.up()
        expect(page.get_by_text("3 openings of")).to_be_visible()
        page.keyboard.press("Escape")
        page.mouse.click(*self.at(75, 30))
        page.keyboard.press("s")
        expect(page.get_by_text("Draw a straight line right across")).to_be_visible()
        page.mouse.move(*self.at(55, 35))
        page.mouse.down()
        page.mouse.move(*self.at(95, 36), steps=8)
        page.mouse.up()
        expect(page.get_by_text("4 openings", exact=False).first).to_be_visible()
        page.mouse.click(*self.at(75, 20))
        page.keyboard.down("Shift")
        page.mouse.click(*self.at(75, 50))
        page.keyboard.up("Shift")
        page.keyboard.press("j")
        expect(page.get_by_text("A stencil of 2 sheets, 3 openings")).to_be_visible()
        made.refresh_from_db()
        self.assertEqual(made.changes.count(), 2)

    def test_sheets_are_ordered_turned_and_used_again(self) -> None:
        made = self.small()
        page = self.page
        page.get_by_role("button", name="Change").first.click()
        page.get_by_role("button", name="Use this sheet again elsewhere").click()
        expect(page.get_by_text("sheet 1 used again")).to_be_visible()
        page.get_by_role("button", name="Later").click()
        expect(page.get_by_role("button", name="Undo")).to_have_attribute(
            "title", "Undo: sheets in another order"
        )
        made.refresh_from_db()
        self.assertEqual([s.name for s in core_set(made).sheets], ["Tone", "Base", "Base again"])

    def test_measures_are_shown_where_they_are(self) -> None:
        page = self.open(f"/sets/{self.good.build.placed_sets.get().layer_set_id}")
        page.get_by_role("button", name="Measure", exact=True).click()
        expect(page.get_by_text("of blending for one card")).to_be_visible()
        self.assertGreater(page.locator("svg[aria-label^='Sheets'] circle").count(), 40)
        page.get_by_role("button", name="Masks").click()
        page.get_by_role("list", name="Masks").get_by_role("button").first.click()
        with page.expect_download() as file:
            page.get_by_role("link", name="Mask to cut").click()
        self.assertTrue(file.value.suggested_filename.endswith(".svg"))
        page.get_by_role("button", name="Slip").click()
        rooms, roses = page.get_by_role("list", name="Room to slip"), page.locator("svg polygon")
        told = rooms.get_by_role("button").count()
        expect(roses).to_have_count(told)
        rooms.get_by_role("button").last.click()
        expect(page.get_by_text("Good enough:")).to_be_visible()
        expect(roses).to_have_count(1)
        rooms.get_by_role("button").last.click()
        # nothing is laid on what the first sheet inks before it is there
        page.get_by_role("button", name="Only this").first.click()
        expect(roses).to_have_count(0)
        page.get_by_role("button", name="All on the stack").click()
        expect(roses).to_have_count(told)
        page.get_by_role("button", name="Trim").click()
        expect(page.get_by_text("No register mark falls on it.")).to_be_visible()
        page.get_by_label("Width, in").fill("wide")
        page.keyboard.press("Enter")
        expect(page.get_by_label("Width, in")).not_to_have_value("wide")
        for label, value in (("Width, in", "4.21"), ("Height, in", "5.47")):
            page.get_by_label(label).fill(value)
            page.keyboard.press("Enter")
        expect(page.get_by_text("Register marks of sheet 1, 2, 3, 4, 5 would show")).to_be_visible()

    def test_photographs_are_followed_corrected_and_kept(self) -> None:
        page = self.open("/sets/bring-in")
        page.locator("input[type=file]").set_input_files(
            [{"name": f"sheet {n}.jpg", "mimeType": "image/jpeg", "buffer": photo(n)} for n in (3, 1)]  # type: ignore[list-item]
        )
        page.get_by_label("Width, in").fill("4 1/4")
        page.get_by_label("Height, in").fill("5.5")
        page.get_by_role("button", name="Read them").click()
        page.wait_for_url(re.compile(r"/bring-in/\d+"))
        page.reload()
        page.get_by_role("button", name="Keep it").wait_for()
        corner = page.get_by_role("slider", name="Top left corner")
        corner.focus()
        for _ in range(3):
            page.keyboard.press("Shift+ArrowRight")
        page.get_by_role("button", name="Put them back").click()
        corner.focus()
        page.keyboard.press("ArrowDown")
        # until the new reading is there the old one may still be on the screen, and a press on it would be lost
        with page.expect_response(lambda r: "/api/imports/" in r.url and r.request.method != "GET"):
            page.get_by_role("button", name="Read again from these corners").click()
        self.until(READY, page)
        page.reload()
        page.get_by_role("button", name="Keep it").wait_for()
        page.get_by_role("button", name="Later").click()
        expect(
            page.get_by_role("list", name="Sheets in the order of use").get_by_role("listitem").first
        ).to_contain_text(
            "sheet 3",
        )
        page.get_by_role("button", name="Keep it").click()
        page.wait_for_url(re.compile(r"/sets/\d+$"))
        self.assertEqual(Import.objects.count(), 0)

    def test_a_photograph_is_mended_and_measured_by_hand(self) -> None:
        page = self.open("/sets/bring-in")
        page.locator("input[type=file]").set_input_files(
            [{"name": "sheet 1.jpg", "mimeType": "image/jpeg", "buffer": photo(1)}]  # type: ignore[list-item]
        )
        page.get_by_label("Width, in").fill("4 1/4")
        page.get_by_label("Height, in").fill("5.5")
        page.get_by_role("button", name="Read them").click()
        page.get_by_role("button", name="Keep it").wait_for()
        mend = page.get_by_role("group", name="Mend an opening")
        mend.get_by_role("button", name="Put a bridge in").click()
        # across the whole sheet there is an opening to cross, wherever it lies
        for name, key in (
            ("One end of the bridge", "Shift+ArrowLeft"),
            ("Other end of the bridge", "Shift+ArrowRight"),
        ):
            page.get_by_role("slider", name=name).focus()
            for _ in range(3):
                page.keyboard.press(key)
        # it is shown at once, and known when it is answered
        page.get_by_role("button", name="Put it there").click()
        with page.expect_response(
            lambda r: r.url.endswith("/again") and '"retouches":[]' in str(r.request.post_data)
        ):
            page.get_by_role("button", name="Take the last mend back").click()
        expect(page.get_by_role("button", name="Take the last mend back")).to_have_count(0)
        self.assertEqual(Import.objects.get().sheets[0]["retouches"], [])
        # an opening that was missed is drawn by pressing around it
        mend.get_by_role("button", name="Draw one").click()
        seen = page.get_by_role("group", name="The photograph with the openings that were found")
        box = seen.bounding_box()
        assert box is not None
        for across, down in ((0.47, 0.5), (0.53, 0.5), (0.53, 0.56), (0.47, 0.56)):
            page.mouse.click(box["x"] + across * box["width"], box["y"] + down * box["height"])
        expect(page.get_by_role("slider", name="of the outline")).to_have_count(4)
        with page.expect_response(
            lambda r: r.url.endswith("/again") and '"draw"' in str(r.request.post_data)
        ):
            page.get_by_role("button", name="Draw it").click()
        page.get_by_role("button", name="Take the last mend back").wait_for()
        (drawn,) = Import.objects.get().sheets[0]["retouches"]
        self.assertEqual((drawn["kind"], len(drawn["points"])), ("draw", 4))
        page.get_by_role("button", name="Take the last mend back").click()
        expect(page.get_by_role("button", name="Take the last mend back")).to_have_count(0)
        # a sheet that is really twice as wide
        page.get_by_role("button", name="Size by two points").click()
        page.get_by_label("So far apart, in").fill("6")
        page.keyboard.press("Enter")
        # its own answer: the mend that was taken back may not be answered yet
        with page.expect_response(
            lambda r: r.url.endswith("/again") and '"measured"' in str(r.request.post_data)
        ):
            page.get_by_role("button", name="Size it by these").click()
        self.until(READY, page)
        # the two points stand 0.7 of the sheet's width apart
        self.assertAlmostEqual(Import.objects.get().options["width_mm"], 6 * 25.4 / 0.7, delta=6)

    def test_what_is_refused_is_said_before_it_is_sent(self) -> None:
        page = self.open("/sets/bring-in")
        expect(page.get_by_text("Drawings up to 8 MB, photographs up to 40 MB")).to_be_visible()
        page.locator("input[type=file]").set_input_files(
            {"name": "big.svg", "mimeType": "image/svg+xml", "buffer": b" " * 8_100_000}
        )
        expect(page.get_by_role("alert")).to_contain_text("more than the 8 MB")
        self.assertEqual(Import.objects.count(), 0)

    def test_a_damaged_drawing_is_said_and_let_go(self) -> None:
        page = self.send(("lock.svg", b"<svg"))
        expect(page.get_by_role("alert")).to_contain_text("not a readable SVG")
        page.get_by_role("button", name="Let it go").click()
        page.wait_for_url(re.compile(r"/sets$"))
        self.assertEqual(Import.objects.count(), 0)

    def test_stopped_and_taken_up_again(self) -> None:
        # other tests, rolled back, may have left theirs
        before = set(imports.folder(0).parent.glob("*"))
        page = self.open("/sets/bring-in")
        page.get_by_role("button", name="Use sample photographs").click()
        page.get_by_role("button", name="Stop").click()
        expect(page.get_by_text("Stopped. Read it again, or let it go.")).to_be_visible()
        self.open("/sets")
        expect(page.get_by_text("was stopped")).to_be_visible()
        page.get_by_role("link", name="Go on with it").click()
        page.get_by_role("button", name="Let it go").click()
        page.wait_for_url(re.compile(r"/sets$"))
        self.assertEqual(set(imports.folder(0).parent.glob("*")) - before, set())
