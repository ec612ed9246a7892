"""Somebody who has just arrived, with nothing; and things that go wrong around the page."""

from __future__ import annotations

from django.contrib.auth import get_user_model
from playwright.sync_api import expect

from studio.accounts.invitations import invite
from studio.builds.models import Build
from tests.browser.base import BrowserTest, Line


class NewcomerTest(BrowserTest):
    def sign_in(self) -> None:
        """Nobody is signed in here."""

    def test_an_account_and_its_empty_places(self) -> None:
        page = self.open("/inks")
        # accounts are made by invitation, and the door says so
        expect(page.get_by_text("Accounts are made by invitation here.")).to_be_visible()
        expect(page.get_by_role("button", name="Make an account")).to_have_count(0)
        _, token = invite(self.maker)
        page.goto(f"{self.live_server_url}/join/{token}")
        page.get_by_label("Name").fill("newcomer")
        page.get_by_label("Password").fill("123")
        page.get_by_role("button", name="Make the account").click()
        expect(page.get_by_role("alert")).to_contain_text("too short")
        page.get_by_label("Password").fill("lock-gate-42")
        page.get_by_role("button", name="Make the account").click()
        page.get_by_role("link", name="Inks").click()
        expect(page.get_by_text("The drawer is empty")).to_be_visible()
        page.get_by_role("link", name="Sets").click()
        expect(page.get_by_text("A set carries the picture")).to_be_visible()
        page.get_by_role("link", name="Home", exact=True).click()
        expect(page.get_by_text("A build is one picture on one kind of card")).to_be_visible()
        page.get_by_role("button", name="Start the first build").click()
        expect(page.get_by_text("There is no set yet")).to_be_visible()
        expect(page.get_by_role("button", name="Start", exact=True)).to_be_disabled()

    def test_a_stranger_is_led_to_the_door_and_then_where_they_wanted(self) -> None:
        page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/order")
        page.get_by_label("Name").fill("ada")
        page.get_by_label("Password").fill("thursday-table-9")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("button", name="Seat sheet 1")).to_be_visible()
        self.assertIn("/order", page.url)

    def test_another_makers_build_is_not_shown(self) -> None:
        get_user_model().objects.create_user(username="bo", password="lock-gate-42")
        page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/strata")
        page.get_by_label("Name").fill("bo")
        page.get_by_label("Password").fill("lock-gate-42")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("not here, or it is not yours")


class AroundThePageTest(BrowserTest):
    def test_builds_are_put_away_and_brought_back(self) -> None:
        page = self.open("/")
        page.get_by_role("button", name="Put away First try on kraft").click()
        expect(page.get_by_role("heading", name="First try on kraft")).to_have_count(0)
        page.get_by_role("button", name="Bring it back").click()
        expect(page.get_by_role("heading", name="First try on kraft")).to_be_visible()

    def test_a_double_click_starts_one_build(self) -> None:
        page = self.open("/")
        before = Build.objects.count()
        page.get_by_role("button", name="Start a build").click()
        page.get_by_role("button", name="Start", exact=True).dblclick()
        page.wait_for_url("**/strata")
        self.assertEqual(Build.objects.count(), before + 1)

    def test_a_server_that_is_away_is_said_and_waited_for(self) -> None:
        page = self.page
        line = Line(page, "**/api/builds")
        line.cut()
        with page.expect_event("requestfailed"):
            page.goto(self.live_server_url)
        line.mend()
        expect(page.get_by_role("heading", name="First try on kraft")).to_be_visible()

    def test_a_refused_change_is_told_and_the_page_goes_on(self) -> None:
        line = Line(self.page, "**/edits")
        page = self.strata(self.good, "bud")
        line.answer(400, '{"code": "bad_value", "sentence": "The lock is closed.", "field": null}')
        page.get_by_role("button", name="light first").click()
        expect(page.get_by_role("alert")).to_contain_text("The lock is closed.")
        line.mend()
        page.get_by_role("button", name="All right").click()
        page.get_by_role("button", name="light first").click()
        self.kept()
        expect(page.get_by_role("button", name="deep first")).to_be_visible()

    def test_a_broken_answer_is_a_sentence_not_a_blank_page(self) -> None:
        page = self.page
        line = Line(page, "**/api/sets")
        line.answer(500, "<h1>oops</h1>", "text/html")
        self.open("/sets")
        expect(page.get_by_role("alert")).to_contain_text("Something went wrong on our side")
        line.mend()
        page.get_by_role("button", name="Try again").click()
        expect(page.get_by_role("heading", name="Koi and lantern")).to_be_visible()

    def test_a_plan_changed_while_at_the_table_finds_its_place_again(self) -> None:
        table = self.at_table(self.good)
        for step in range(2, 8):
            table.keyboard.press("Space")
            expect(table.get_by_text(f"{step} of ")).to_be_visible()
        plan = self.strata(self.good, "bud", self.new_page())
        plan.get_by_role("group", name="Core sample").get_by_role("button", name="Bargewoman's Scarf").click()
        plan.get_by_role("button", name="One more coat").click()
        self.kept(plan)
        table.reload()
        # the same steps in the same order: nothing to be told
        expect(table.get_by_text("7 of ")).to_be_visible()
        expect(table.get_by_text("planned anew")).to_have_count(0)
        plan.keyboard.press("Delete")
        self.kept(plan)
        table.reload()
        # what is done is still the beginning of the order: nothing is planned anew
        expect(table.get_by_text("7 of ")).to_be_visible()

    def test_the_order_shows_the_panel_of_any_step(self) -> None:
        page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/order")
        page.get_by_role("button", name="Seat sheet 3").click()
        own = self.page.request.get(f"{self.live_server_url}/api/colourings/{self.good.pk}").json()[
            "sequence"
        ]["steps"]
        third = next(s for s in own if s["kind"] == "place" and s["sheet"] == 3)
        self.assertGreater(third["done_before"], 5)
        expect(page.locator(f"[role=img][data-after='{third['done_before']}']")).to_be_visible()

    def test_inks_are_shown_on_another_card(self) -> None:
        page = self.open("/inks?ink=thin-ice")
        lit = page.get_by_role("button", name="Thin Ice, Sluice Water blue").get_attribute("aria-label")
        page.get_by_label("Shown on").click()
        page.get_by_role("option", name="Kraft").click()
        expect(page.get_by_role("button", name="Thin Ice, Sluice Water blue")).not_to_have_attribute(
            "aria-label", lit or ""
        )
        self.assertIn("card=kraft", page.url)
        page.get_by_label("Find a pad").fill("zzz")
        expect(page.get_by_text("No pad in the drawer answers to")).to_be_visible()
