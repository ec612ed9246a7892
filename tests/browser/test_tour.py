"""The way through the product as a newcomer goes it, and every view looked over by axe."""

from __future__ import annotations

import json
import re

from playwright.sync_api import Page, expect

from studio.bench.management.commands.seed_log import PHOTOGRAPHS
from tests.browser.base import AXE, BrowserTest, Line


class TourTest(BrowserTest):
    def test_from_nothing_to_the_table(self) -> None:
        page = self.open("/")
        page.get_by_role("button", name="Start a build").click()
        page.get_by_label("What is it for?").fill("For the paddle crew")
        page.get_by_role("radio", name="Koi and lantern").click()
        page.get_by_role("radio", name="Kraft").click()
        page.get_by_role("button", name="Start", exact=True).click()
        expect(page.get_by_role("heading", name="For the paddle crew")).to_be_visible()
        page.get_by_role("group", name="Elements").get_by_role("button", name="lantern").click()
        page.get_by_role("button", name="give an ink on sheet 1").click()
        page.get_by_role("region", name="An ink for").get_by_role("button", name="Roses Red").click()
        self.kept()
        page.get_by_role("link", name="Order").click()
        expect(page.get_by_role("button", name="Seat sheet 1 (Large bases)")).to_be_visible()
        page.get_by_role("link", name="To the table").click()
        page.get_by_role("button", name="The table is set").click()
        expect(page.get_by_role("heading", name="Seat sheet 1")).to_be_visible()
        self.assertTrue(page.url.endswith("/table"))
        page.go_back()
        expect(page.get_by_role("link", name="Order")).to_be_visible()

    def test_the_table_resumes_after_a_reload_and_a_lost_connection(self) -> None:
        line = Line(self.page, "**/api/**/table")
        page = self.at_table(self.good)
        for at in ("1 of ", "2 of "):
            expect(page.get_by_text(at)).to_be_visible()
            page.keyboard.press("Space")
        expect(page.get_by_text("3 of ")).to_be_visible()
        tick = page.get_by_role("checkbox").first
        tick.click()
        expect(tick).to_have_attribute("aria-checked", "true")
        page.reload()
        expect(page.get_by_role("checkbox").first).to_have_attribute("aria-checked", "true")
        line.cut()
        page.keyboard.press("ArrowRight")
        expect(page.get_by_text("No connection.")).to_be_visible()
        expect(page.get_by_text("4 of ")).to_be_visible()
        line.mend()
        expect(page.get_by_text("No connection.")).to_have_count(0)
        page = self.at_table(self.good, self.new_page())
        expect(page.get_by_text("4 of ")).to_be_visible()

    def test_waits_run_a_clock_and_lifts_ask_for_every_element(self) -> None:
        page = self.at_table(self.good)
        for _ in range(40):
            if page.get_by_role("timer").count():
                break
            if page.get_by_role("heading", name="and lift it").count():
                names = page.get_by_role("list", name="To tick off").inner_text()
                self.assertIn("lantern", names)
            page.keyboard.press("Space")
            page.wait_for_timeout(40)
        expect(page.get_by_role("timer")).to_contain_text(":")
        expect(page.get_by_text("A heat tool shortens this. It burns")).to_be_visible()

    def test_table_targets_and_text_are_big(self) -> None:
        page = self.at_table(self.good)
        page.keyboard.press("Space")
        page.keyboard.press("Space")
        for name in ("Back", "Done, next"):
            box = page.get_by_role("button", name=name).bounding_box()
            self.assertGreaterEqual(box["height"] if box else 0, 64)
        self._big(page)

    def test_what_the_table_waits_for_and_what_went_wrong_is_big(self) -> None:
        pictures = Line(self.page, "**/painting?*")
        pictures.hold()
        page = self.at_table(self.good)
        page.keyboard.press("Space")
        page.keyboard.press("Space")
        expect(page.get_by_text("The card is being coloured")).to_be_visible()
        self._big(page)
        pictures.answer(500, "{}")
        page.keyboard.press("Space")
        expect(page.get_by_role("button", name="Ask for the picture again")).to_be_visible()
        self._big(page)
        pictures.mend()
        page.get_by_role("button", name="Ask for the picture again").click()
        expect(page.get_by_role("button", name="Ask for the picture again")).to_have_count(0)
        self.complaints.clear()

    def test_what_lies_over_the_table_is_big(self) -> None:
        page = self.at_table(self.good)
        page.keyboard.press("Space")
        page.keyboard.press("Space")
        page.get_by_role("button", name="Not as planned").click()
        self._big(page)
        photograph = {
            "name": "taken.jpg",
            "mimeType": "image/jpeg",
            "buffer": (PHOTOGRAPHS / "koi-on-black.jpg").read_bytes(),
        }
        # "Leave this pass out" is done at once, and has no page
        for choice in (
            "Something went wrong",
            "I do it otherwise",
            "Write a note",
            "Take a photograph",
            "Sound, voice",
        ):
            page.get_by_role("button", name=choice).click()
            back = page.get_by_role("button", name="Back to the choices")
            expect(back).to_be_visible()
            if choice == "Take a photograph":
                page.get_by_role("dialog").locator("input[type=file]").set_input_files([photograph])
                expect(page.get_by_role("button", name="Take away the photograph")).to_be_visible()
            self._big(page)
            back.click()

    def _big(self, page: Page) -> None:
        # at one moment: a panel that goes takes its buttons with it
        low = page.evaluate(
            "[...document.querySelectorAll(':is(main, [role=dialog]) :is(button, a)')].filter(e => e.offsetHeight"
            " && e.offsetHeight < 48).map(e => e.textContent)"
        )
        self.assertEqual(low, [])
        # the words that stand in an element beside others are read too
        # (a field's rim holds a sign without width)
        small = page.evaluate(
            "[...document.querySelectorAll(':is(main, [role=dialog]) :is(p, h2, div, span, label)')].filter(e =>"
            " parseFloat(getComputedStyle(e).fontSize) < 20 && [...e.childNodes].some("
            "n => n.nodeType === 3 && /[^\\s\\u200b]/.test(n.data))).map(e => e.textContent)"
        )
        self.assertEqual(small, [])

    def test_inks_are_added_put_away_and_brought_back(self) -> None:
        page = self.open("/inks")
        page.get_by_role("button", name="Add an ink").click()
        for label, value in (("Name", "Lock Rust"), ("L*", "45"), ("a*", "30,5"), ("b*", "28")):
            page.get_by_label(label, exact=True).fill(value)
        page.get_by_role("button", name="Add it").click()
        expect(page.get_by_text("46 inks")).to_be_visible()
        page.get_by_role("button", name="Lock Rust").click()
        page.get_by_role("button", name="Put this ink away").click()
        expect(page.get_by_text("45 inks")).to_be_visible()
        page.get_by_role("button", name="Bring it back").click()
        expect(page.get_by_text("46 inks")).to_be_visible()

    def test_materials_change_the_picture_and_can_be_undone(self) -> None:
        page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/materials")
        page.get_by_role("radio", name="Black").click()
        self.kept()
        self.good.refresh_from_db()
        self.assertEqual(self.good.changes.get(number=self.good.head).plan["materials"], {"stock": "black"})
        page.get_by_role("button", name="Undo").click()
        self.kept()
        expect(page.get_by_role("radio", name="White smooth")).to_be_checked()
        page.get_by_label("Cards").fill("0")
        expect(page.get_by_text("A whole number from 1 to 200.")).to_be_visible()

    def test_signing_out_and_in(self) -> None:
        page = self.open("/")
        page.get_by_role("button", name="Sign out").click()
        page.get_by_label("Name").fill("ada")
        page.get_by_label("Password").fill("wrong")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("do not belong together")
        page.get_by_label("Password").fill("thursday-table-9")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("heading", name="On the table")).to_be_visible()

    def test_what_is_not_there_is_said(self) -> None:
        page = self.open("/builds/999999/strata")
        expect(page.get_by_role("alert")).to_contain_text("not here, or it is not yours")
        self.open("/no/such/place")
        expect(page.get_by_role("heading", name="There is nothing here")).to_be_visible()


class AccessTest(BrowserTest):
    def violations(self, page: Page) -> list[str]:
        page.evaluate("document.fonts.ready")
        page.evaluate(AXE.read_text())
        found = page.evaluate(
            "axe.run(document).then(r => r.violations.map(v => v.id + ': ' + v.nodes[0].html.slice(0, 160)))"
        )
        return list(found)

    def test_axe_finds_nothing_on_any_view(self) -> None:
        set_id, build = self.good.build.placed_sets.get().layer_set_id, self.good.build_id
        views = [
            "/", "/inks", "/inks?ink=campion", "/inks?view=list", "/inks?view=house", "/inks/recipes", "/inks/bring-in", "/inks/swatch-cards", "/sets", "/sets/bring-in", f"/sets/{set_id}", f"/builds/{build}/materials", f"/builds/{build}/strata",
            f"/builds/{self.tried.build_id}/colourings/{self.tried.pk}/strata", f"/builds/{build}/order", f"/builds/{build}/table", "/sign-in", "/no/such",
        ]  # fmt: skip
        for view in views:
            self.assertEqual(self.violations(self.open(view)), [], view)

    def test_axe_finds_nothing_in_what_opens(self) -> None:
        page = self.strata(self.tried, "lantern")
        page.locator("[data-pass] button[aria-pressed]").first.click()
        page.get_by_role("button", name="more about other elements").click()
        self.assertEqual(self.violations(page), [], "a chosen pass")
        page.get_by_role("button", name="Swap ink").click()
        page.wait_for_load_state("networkidle")
        self.assertEqual(self.violations(page), [], "the drawer")
        for path, button in (
            ("/", "Start a build"),
            ("/inks", "Add an ink"),
            ("/inks", "Files"),
            ("/inks?ink=campion", "Change"),
            ("/inks?ink=campion", "Add a swatch"),
            ("/inks?view=house", "Add a card"),
            (
                f"/builds/{self.good.build_id}/colourings/{self.good.pk}/strata?element=lily+pads",
                "Dry: stand-in?",
            ),
        ):
            self.open(path)
            page.get_by_role("button", name=button).first.click()
            page.wait_for_load_state("networkidle")
            self.assertEqual(self.violations(page), [], button)

    def test_nothing_runs_off_a_tablet_or_a_phone(self) -> None:
        build = self.good.build_id
        for width, height in ((820, 1180), (390, 844)):
            self.page.set_viewport_size({"width": width, "height": height})
            for view in (
                "/",
                f"/builds/{build}/table",
                f"/builds/{build}/strata",
                f"/builds/{build}/order",
                "/sets",
                "/sets/bring-in",
                "/inks/recipes",
                "/inks?ink=campion",
                "/inks?view=list",
                "/inks?view=house",
                "/inks/bring-in",
                "/inks/swatch-cards",
                f"/sets/{self.good.build.placed_sets.get().layer_set_id}",
                "/inks",
                f"/builds/{build}/materials",
                f"/builds/{build}/panel",
            ):
                self.open(view)
                over = self.page.evaluate(
                    "document.documentElement.scrollWidth - document.documentElement.clientWidth"
                )
                self.assertLessEqual(over, 0, f"{view} at {width}")

    def test_the_panel_is_large_on_a_tablet_and_a_phone(self) -> None:
        own = f"/builds/{self.good.build_id}/colourings/{self.good.pk}"
        for width, height in ((820, 1180), (390, 844)):
            self.page.set_viewport_size({"width": width, "height": height})
            for view, least in (
                ("strata", 0.45),
                ("panel", 0.4),
                ("materials", 0.45),
                ("order", 0.4),
                ("table", 0.35),
            ):
                page = self.at_table(self.good) if view == "table" else self.open(f"{own}/{view}")
                picture = page.get_by_role("img", name=re.compile("panel")).first
                expect(picture).to_be_visible()
                box = picture.bounding_box() or {"height": 0}
                self.assertGreater(box["height"], least * height, f"{view} at {width}")

    def test_numbers_are_json_all_the_way(self) -> None:
        found = self.page.request.get(f"{self.live_server_url}/api/colourings/{self.good.pk}/file")
        self.assertEqual(json.loads(found.text())["format"], "anastrata-build")
