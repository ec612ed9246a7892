"""Choosing colours with real clicks and keys: proposals, families, side by side, palettes."""

from __future__ import annotations

import re

from django.db.models import F
from playwright.sync_api import expect

from studio.builds.models import Build, Colouring
from studio.inks.models import Drawer, Ink
from tests.browser.base import BrowserTest


class ChoosingTest(BrowserTest):
    def test_a_newcomer_has_a_first_plan_within_ten_clicks(self) -> None:
        page = self.open("/")
        page.get_by_role("button", name="Start a build").click()
        page.get_by_role("dialog").get_by_text("Hedgehog in ferns").click()
        page.get_by_role("button", name="Start", exact=True).click()
        page.wait_for_url("**/strata")
        expect(page.get_by_text("Nothing is inked yet.")).to_be_visible()
        page.get_by_role("button", name="Colourings from your pads").click()
        proposals = page.get_by_role("list", name="Proposals")
        proposals.get_by_role("button", name="Wear it").first.click()
        self.kept(page)
        # five clicks; no warning is open, and every part wears something
        expect(page.get_by_role("list", name="Warnings")).to_have_count(0)
        build = Build.objects.latest("pk")
        own = Colouring.objects.get(build=build)
        state = self.page.request.get(f"{self.live_server_url}/api/colourings/{own.pk}").json()
        self.assertEqual([f["sentence"] for f in state["findings"] if f["severity"] != "good"], [])
        bare = [e["name"] for e in state["elements"] if not e["rungs"] and e["kind"] != "free"]
        self.assertEqual(bare, [])
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_text("Nothing is inked yet.")).to_be_visible()

    def test_proposals_are_seen_reasoned_and_kept_beside(self) -> None:
        page = self.strata(self.good, "lantern")
        # a key is heard from when its view is there
        expect(page.get_by_role("button", name="Colourings from your pads")).to_be_visible()
        page.keyboard.press("p")
        proposals = page.get_by_role("list", name="Proposals")
        expect(proposals.get_by_role("button", name="Wear it")).to_have_count(8)
        proposals.get_by_role("heading", name="muted").hover()
        expect(page.locator("[data-trying=true]")).to_be_visible()
        proposals.get_by_role("button", name="Why").first.click()
        expect(page.get_by_role("list", name="Reasons")).to_contain_text("lantern")
        expect(page.get_by_text("less is better")).to_be_visible()
        before = self.good.head
        proposals.get_by_role("button", name="Beside this one").nth(1).click()
        page.wait_for_url(lambda url: f"/colourings/{self.good.pk}/" not in url)
        self.good.refresh_from_db()
        self.assertEqual(self.good.head, before, "the one it was begun from is as it was")
        page.get_by_role("link", name="Side by side").click()
        other = page.get_by_role("region", name=self.good.name)
        expect(other.get_by_role("list", name="differently")).to_contain_text("here")
        other.locator("[data-element=lantern]").first.click(force=True)
        made = Colouring.objects.latest("pk")
        worn = self.inks_of(self.good, "lantern")
        self.assertNotEqual(self.inks_of(made, "lantern"), worn)
        page.get_by_role("button", name="Take lantern from here").click()
        self.kept(page)
        self.assertEqual(self.inks_of(made, "lantern"), worn)

    def test_own_words_for_a_colour_are_kept_and_heeded(self) -> None:
        page = self.strata(self.good, "lantern")
        # a key is heard from when its view is there
        expect(page.get_by_role("button", name="Colourings from your pads")).to_be_visible()
        page.keyboard.press("p")
        panel = page.get_by_role("region", name="Colourings from your pads")
        panel.get_by_label("A part that is").click()
        page.get_by_role("option", name="lantern").click()
        panel.get_by_label("of the colour").click()
        page.get_by_role("option", name="green").click()
        expect(panel.get_by_role("button", name="lantern is green: forget it")).to_be_visible()
        panel.get_by_role("button", name="Why").first.click()
        expect(panel.get_by_role("list", name="Reasons")).to_contain_text("its name says green")
        page.reload()
        page.get_by_role("button", name="Colourings from your pads").click()
        expect(panel.get_by_role("button", name="lantern is green: forget it")).to_be_visible()

    def test_all_missing_pads_at_once(self) -> None:
        Ink.objects.filter(owner=self.maker, key__in=("moss-wall", "campion")).update(state="dry")
        Drawer.objects.filter(owner=self.maker).update(revision=F("revision") + 1)
        page = self.strata(self.tried, "reeds")
        page.get_by_role("button", name="Stand-ins for 3 missing pads").click()
        expect(page.get_by_role("button", name="Stand-ins for")).to_have_count(0)
        self.kept(page)
        gone = {"moss-wall", "campion", "old-hedge"}
        for element in ("reeds", "lily pads"):
            self.assertFalse(gone & set(self.inks_of(self.tried, element)))
        page.get_by_role("button", name="Undo", exact=True).click()
        expect(page.get_by_role("button", name="Stand-ins for 3 missing pads")).to_be_visible()

    def test_what_stays_is_left_alone(self) -> None:
        page = self.strata(self.good, "lantern")
        worn = self.inks_of(self.good, "lantern")
        page.get_by_role("button", name="Colourings from your pads").click()
        page.get_by_role("group", name="What stays").get_by_role("button", name="lantern").click()
        page.get_by_role("list", name="Proposals").get_by_role("button", name="Wear it").first.click()
        self.kept(page)
        self.assertEqual(self.inks_of(self.good, "lantern"), worn)
        self.assertNotEqual(len(self.inks_of(self.good, "water")), 0)

    def test_a_family_by_keyboard_for_several(self) -> None:
        page = self.strata(self.good, "lantern")
        page.keyboard.press("f")
        panel = page.get_by_role("region", name="A family for")
        panel.get_by_role("group", name="Elements to dress").get_by_role("button", name="bud").click()
        expect(panel.get_by_role("heading")).to_have_text("A family for 2 elements")
        family = panel.get_by_role("button", name=re.compile("Sluice Water blue"))
        family.focus()
        page.keyboard.press("Enter")
        self.kept(page)
        for element in ("lantern", "bud"):
            self.assertLessEqual(
                set(self.inks_of(self.good, element)),
                {"thin-ice", "weir-water", "long-pound", "lock-midnight"},
            )
        page.keyboard.press("Escape")
        expect(panel).to_have_count(0)
        page.keyboard.press("Control+z")
        self.kept(page)
        self.assertNotIn("weir-water", self.inks_of(self.good, "bud"))

    def test_a_palette_out_and_in_and_nonsense(self) -> None:
        page = self.strata(self.good, "lantern")
        worn = self.inks_of(self.good, "lantern")
        menu = page.get_by_title("The colourings of this build")
        menu.click()
        with page.expect_download() as coming:
            page.get_by_role("menuitem", name="Everything of its inks (JSON)").click()
        data = coming.value.path().read_bytes()
        page = self.strata(self.tried, "lantern")
        menu = page.get_by_title("The colourings of this build")
        menu.click()
        page.get_by_label("A palette to bring in").set_input_files(
            {"name": "palette.json", "mimeType": "application/json", "buffer": data}
        )
        expect(page.get_by_text("The palette is on.")).to_be_visible()
        self.kept(page)
        self.assertEqual(self.inks_of(self.tried, "lantern"), worn)
        menu.click()
        page.get_by_label("A palette to bring in").set_input_files(
            {"name": "palette.json", "mimeType": "application/json", "buffer": b"{}"}
        )
        expect(page.get_by_text("This is not a palette")).to_be_visible()
