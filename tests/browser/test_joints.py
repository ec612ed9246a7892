"""What lies between the screens: warnings that move with the element, refusals that are said, colourings, a full disk."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import expect

from strata.plan import Materials, Plan
from studio.builds.history import start
from studio.builds.models import Colouring
from studio.sets.models import LayerSet
from tests.browser.base import BrowserTest, Line

FULL = '{"code": "disk_full", "sentence": "The disk of the workshop computer is full.", "field": null}'


class WarningTest(BrowserTest):
    def test_no_warning_stays_behind_when_one_walks_through_the_elements(self) -> None:
        koi = LayerSet.objects.get(key="koi-and-lantern")
        empty = start(self.maker, "Nothing yet", {"image": koi}, Plan(Materials("white-smooth")))
        page = self.open(f"/builds/{empty.build_id}/colourings/{empty.pk}/strata")
        page.get_by_role("button", name="more about other elements").click()
        state = self.context.request.get(f"{self.live_server_url}/api/colourings/{empty.pk}").json()
        count = len(state["findings"])
        self.assertEqual(len({f["key"] for f in state["findings"]}), count)
        # the first four of them in sight, the rest folded
        page.get_by_role("button", name="more, of less weight").click()
        for _ in range(6):
            expect(page.locator("[data-finding]")).to_have_count(count)
            page.keyboard.press("ArrowRight")

    def test_a_warning_left_alone_stays_left_and_can_be_looked_at_again(self) -> None:
        page = self.strata(self.tried, "upper koi")
        own = page.get_by_role("list", name="Warnings").locator("[data-finding]")
        before = own.count()
        page.get_by_role("button", name="I know, leave it").first.click()
        self.kept()
        expect(own).to_have_count(before - 1)
        page.reload()
        page.get_by_role("button", name="1 left as it is").click()
        page.get_by_role("button", name="Look again").first.click()
        self.kept()
        expect(own).to_have_count(before)


class RefusedTest(BrowserTest):
    def test_what_cannot_be_put_away_is_said(self) -> None:
        line = Line(self.page, "**/api/builds/*")
        page = self.open("/")
        line.answer(507, FULL)
        page.get_by_role("button", name="Put away First try on kraft").click()
        expect(page.get_by_text("The disk of the workshop computer is full.")).to_be_visible()
        expect(page.get_by_role("heading", name="First try on kraft")).to_be_visible()

    def test_on_a_full_disk_the_change_waits_here(self) -> None:
        line = Line(self.page, "**/edits")
        page = self.strata(self.good, "bud")
        page.get_by_role("group", name="Core sample").get_by_role(
            "button", name="Blush Ribbon", exact=True
        ).click()
        line.answer(507, FULL)
        page.get_by_role("button", name="Deepen").click()
        expect(page.get_by_text("1 change kept here: The disk of the workshop computer")).to_be_visible()
        self.assertTrue(page.evaluate("Object.keys(localStorage).some(k => k.includes('changes'))"))
        line.mend()
        self.kept()
        self.assertEqual(self.inks_of(self.good, "bud")[0], "campion")

    def test_home_is_fresh_after_an_edit(self) -> None:
        page = self.open("/")
        card = page.get_by_role("listitem").filter(has=page.get_by_role("heading", name="Thank-you"))
        before = card.inner_text()
        card.get_by_role("link", name="Open", exact=True).click()
        page.wait_for_url("**/strata**")
        page.get_by_role("link", name="Materials").click()
        page.get_by_role("radio", name="by eye").or_(page.get_by_role("button", name="by eye")).first.click()
        self.kept()
        page.get_by_role("link", name="Anastrata").first.click()
        expect(page.get_by_role("heading", name="Thank-you")).to_be_visible()
        expect(card).not_to_have_text(before)


class ColouringTest(BrowserTest):
    def menu(self, page: Any, item: str) -> None:
        page.get_by_title("The colourings of this build").click()
        page.get_by_role("menuitem", name=item).click()

    def test_another_one_is_begun_named_and_let_go(self) -> None:
        page = self.strata(self.good, "bud")
        self.menu(page, "Another one, begun from this")
        page.get_by_label("What it is called").fill("At night")
        page.get_by_role("button", name="Begin it").dblclick()
        expect(page.get_by_title("The colourings of this build")).to_have_text("At night")
        self.assertEqual(Colouring.objects.filter(build=self.good.build).count(), 2)
        other = Colouring.objects.get(build=self.good.build, name="At night")
        self.assertIn(f"/colourings/{other.pk}/", page.url)
        page.get_by_role("link", name="Materials").click()
        page.get_by_role("radio", name="Black").or_(page.get_by_role("button", name="Black")).first.click()
        self.kept()
        self.good.refresh_from_db()
        self.assertEqual(self.good.revision, 1)
        self.menu(page, "Another name")
        page.get_by_label("What it is called").fill("By moonlight")
        page.keyboard.press("Enter")
        expect(page.get_by_title("The colourings of this build")).to_have_text("By moonlight")
        self.menu(page, "Let this one go")
        expect(page.get_by_text("“By moonlight” is let go.")).to_be_visible()
        expect(page.get_by_title("The colourings of this build")).not_to_have_text("By moonlight")
        page.get_by_role("button", name="Bring it back").click()
        page.get_by_title("The colourings of this build").click()
        page.get_by_role("menuitem", name="By moonlight").click()
        expect(page.get_by_title("The colourings of this build")).to_have_text("By moonlight")


class SliderTest(BrowserTest):
    def test_every_press_counts_however_quickly_they_come(self) -> None:
        page = self.strata(self.good, "lantern")
        page.get_by_role("group", name="Core sample").get_by_role(
            "button", name="Peach Tin", exact=True
        ).click()
        slider = page.get_by_role("slider", name="How far")
        before, step = float(slider.input_value()), float(slider.get_attribute("step") or 1)
        slider.focus()
        for _ in range(6):
            page.keyboard.press("ArrowRight")
        self.kept()
        expect(slider).to_have_value(str(before + 6 * step).removesuffix(".0"))
