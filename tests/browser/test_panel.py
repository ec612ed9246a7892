"""The whole card laid out with real clicks, keys and drags: none of it needs a drawing made elsewhere."""

from __future__ import annotations

from typing import Any

from playwright.sync_api import Page, expect

from studio.builds.models import Colouring
from tests.browser.base import AXE, BrowserTest


class PanelTest(BrowserTest):
    def panel(self, build: Colouring, query: str = "") -> Page:
        return self.open(f"/builds/{build.build_id}/colourings/{build.pk}/panel{query}")

    def plan(self, build: Colouring) -> dict[str, Any]:
        build.refresh_from_db()
        return build.changes.get(number=build.head).plan

    def lay(self, kind: str, *choices: str) -> None:
        page = self.page
        page.get_by_role("button", name=kind, exact=True).click()
        for choice in choices:
            page.get_by_role("dialog").get_by_role("button", name=choice).first.click()
        expect(page.get_by_role("dialog")).to_have_count(0)
        self.kept()

    def thing(self, build: Colouring, name: str) -> dict[str, Any]:
        return next(t for t in self.plan(build)["things"] if t.get("name") == name)

    def test_a_card_from_an_empty_panel_with_everything_on_it(self) -> None:
        page = self.open("/")
        page.get_by_role("button", name="Start a build").click()
        page.get_by_label("What is it for?").fill("For the lock keeper")
        page.get_by_role("radio", name="None yet").click()
        page.get_by_role("button", name="Start", exact=True).click()
        expect(page.get_by_role("heading", name="For the lock keeper")).to_be_visible()
        build = Colouring.objects.get(build__name="For the lock keeper")
        self.lay("A set", "Hedgehog in ferns", "All of it")
        self.lay("A set", "Lockside greetings", "1 Thank you")
        self.lay("A mask", "Punched disc")
        self.lay("A mask", "Wavy horizon")
        self.lay("A mask", "Tape")
        self.lay("A mask", "Cut out Hedgehog")
        self.lay("Card", "Strip for words")
        self.lay("Words", "Lay it on")
        page.get_by_role("button", name="A note", exact=True).click()
        page.get_by_label("What is it?").fill("a gem on the nose")
        page.get_by_role("button", name="Lay it on").click()
        self.kept()
        kinds = [t["kind"] for t in self.plan(build)["things"]]
        self.assertEqual(kinds, ["set", "set", "mask", "mask", "mask", "mask", "piece", "words", "note"])
        listed = page.get_by_role("list", name="On the panel, the topmost first")
        listed.get_by_role("button", name="hill line").click()
        page.get_by_role("button", name="Another edge").click()
        self.kept()
        page.get_by_role("button", name="Lay it aside").click()
        self.kept()
        self.assertTrue(self.thing(build, "hill line")["wear"]["off"])
        listed.get_by_role("button", name="strip").click()
        page.get_by_label("Its card").click()
        page.get_by_role("option", name="Kraft").click()
        self.kept()
        page.get_by_role("button", name="2 mm").click()
        self.kept()
        self.assertEqual(self.thing(build, "strip")["card"], {"stock": "kraft", "foam": 2})
        listed.get_by_role("button", name="greeting").first.click()
        page.get_by_role("combobox", name="Lies on").click()
        page.get_by_role("option", name="strip").click()
        self.kept()
        page.keyboard.press("Control+z")
        self.kept()
        self.assertNotIn("on", self.plan(build)["things"][-2])

    def test_a_thing_is_pushed_by_hand_and_by_keys_turned_and_turned_over(self) -> None:
        build = Colouring.objects.get(build__name="Koi at dusk")
        page = self.panel(build, "?thing=moon")
        before = self.thing(build, "moon")["place"]
        shape = page.locator("path[data-thing=moon]").first.bounding_box()
        assert shape
        middle = (shape["x"] + shape["width"] / 2, shape["y"] + shape["height"] / 2)
        page.mouse.move(*middle)
        page.mouse.down()
        page.mouse.move(middle[0] + 15, middle[1] + 40, steps=6)
        page.mouse.up()
        self.kept()
        after = self.thing(build, "moon")["place"]
        self.assertTrue(after["x"] > before["x"] and after["y"] > before["y"] + 4, after)
        for key in ("ArrowRight", "Shift+ArrowDown", "]", "m"):
            page.keyboard.press(key)
            self.kept()
        last = self.thing(build, "moon")["place"]
        self.assertAlmostEqual(last["x"] - after["x"], 0.5)
        self.assertAlmostEqual(last["y"] - after["y"], 5)
        self.assertEqual((last["turn"], last["mirrored"]), (1, True))
        page.keyboard.press("Delete")
        self.kept()
        self.assertNotIn("moon", [t.get("name") for t in self.plan(build)["things"]])
        page.get_by_role("button", name="Undo").click()
        self.kept()
        self.assertIn("moon", [t.get("name") for t in self.plan(build)["things"]])

    def test_an_outline_is_drawn_point_by_point(self) -> None:
        page = self.panel(self.good)
        page.get_by_role("button", name="A mask", exact=True).click()
        page.get_by_role("dialog").get_by_role("button", name="Draw an outline").click()
        expect(page.get_by_role("dialog")).to_have_count(0)
        box = page.locator("svg[data-easel]").bounding_box()
        assert box
        for x, y in ((0.3, 0.3), (0.7, 0.3), (0.5, 0.6)):
            page.mouse.click(box["x"] + x * box["width"], box["y"] + y * box["height"])
        page.keyboard.press("Enter")
        listed = page.get_by_role("list", name="On the panel, the topmost first")
        expect(listed.get_by_role("button", name="outline")).to_be_visible()
        self.kept()
        shape = self.thing(self.good, "outline")["shape"]
        self.assertEqual((shape["kind"], len(shape["points"])), ("outline", 3))

    def test_the_ground_is_inked_with_the_drawer_beside_the_picture(self) -> None:
        page = self.strata(self.good, "free ground")
        page.get_by_role("button", name="give an ink on the bare panel").click()
        drawer = page.get_by_role("region", name="An ink for free ground")
        picture = page.locator("[role=img][data-picture]")
        a, b = drawer.bounding_box(), picture.bounding_box()
        assert a
        assert b
        self.assertGreaterEqual(a["x"], b["x"] + b["width"], "never over it")
        drawer.get_by_role("button", name="Weir Water").hover()
        expect(page.locator("[role=img][data-trying=true]")).to_be_visible()
        drawer.get_by_role("button", name="Weir Water").click()
        self.kept()
        page.get_by_role("radio", name="Around a pale middle").click()
        self.kept()
        own = next(p for p in self.plan(self.good)["passes"] if p["on"]["thing"] == "")
        self.assertEqual((own["ink"], own["form"]["kind"]), ("weir-water", "around"))

    def test_other_ways_than_ink(self) -> None:
        page = self.strata(self.good, "lantern")
        page.get_by_role("button", name="Other ways").click()
        page.get_by_role("menuitem", name="Lift colour off").click()
        self.kept()
        page.get_by_role("button", name="Other ways").click()
        page.get_by_role("menuitem", name="Pen lights on every shape").click()
        page.get_by_role("region", name="A pen for the lights").get_by_role(
            "button", name="Chalk Pen"
        ).click()
        self.kept()
        page.get_by_role("button", name="Other ways").click()
        page.get_by_role("menuitem", name="Spatter water").click()
        self.kept()
        media = [p.get("medium", "ink") for p in self.plan(self.good)["passes"]]
        self.assertGreaterEqual(media.count("lights"), 4)
        self.assertEqual((media.count("lift"), media.count("spatter")), (1, 1))
        page.get_by_role("group", name="Core sample").get_by_role("button", name="Lamp Haze").first.click()
        page.get_by_role("button", name="large brush").click() if page.get_by_role(
            "button", name="large brush"
        ).count() else page.get_by_role("button", name="brush").first.click()
        page.get_by_role("menuitem", name="foam dome").click()
        self.kept()
        self.assertIn("foam-dome", [p["brush"] for p in self.plan(self.good)["passes"]])

    def test_format_and_stock_are_chosen_beside_the_picture(self) -> None:
        page = self.open(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/materials")
        page.get_by_label("Panel for").click()
        page.get_by_role("option", name="5 x 7 in").click()
        self.kept()
        page.get_by_label("Wide, in").fill("4 1/2")
        page.keyboard.press("Enter")
        self.kept()
        width = self.plan(self.good)["materials"]["panel"]["width"]
        self.assertAlmostEqual(width, 4.5 * 25.4, places=2)
        page.get_by_label("Wide, in").fill("0")
        page.keyboard.press("Enter")
        self.kept()
        self.assertEqual(self.plan(self.good)["materials"]["panel"]["width"], width)
        page.get_by_role("radio", name="Black").hover()
        expect(page.locator("[role=img][data-trying=true]")).to_be_visible()

    def test_nothing_for_axe_to_find(self) -> None:
        build = Colouring.objects.get(build__name="Koi at dusk")
        for query in ("", "?thing=moon", "?thing=image", "?thing=words"):
            page = self.panel(build, query)
            page.evaluate(AXE.read_text())
            found = page.evaluate("axe.run().then(r => r.violations.map(v => `${v.id}: ${v.nodes[0].html}`))")
            self.assertEqual(found, [], query)
