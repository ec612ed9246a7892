"""The first page of an address: what it needs is fetched once, ahead of the script that asks for it; nothing of it jumps."""

from __future__ import annotations

import io
import re
from collections import Counter
from datetime import UTC, datetime
from typing import Any

from django.core.signals import request_started
from PIL import Image
from playwright.sync_api import expect

from studio.bench.management.commands.seed_log import PHOTOGRAPHS, Made, write
from studio.bench.models import Photograph
from studio.builds import history
from studio.builds.looking import plan_of
from studio.sets.models import LayerSet
from tests.browser.base import BrowserTest, Line


class FirstPageTest(BrowserTest):
    def setUp(self) -> None:
        super().setUp()
        self.asked: Counter[str] = Counter()
        request_started.connect(self._count)
        self.addCleanup(request_started.disconnect, self._count)

    def _count(self, sender: object, environ: dict[str, Any] | None = None, **_: object) -> None:
        query = (environ or {}).get("QUERY_STRING")
        self.asked[(environ or {}).get("PATH_INFO", "") + (f"?{query}" if query else "")] += 1

    def answers(self, path: str) -> dict[str, int]:
        """How often each answer was asked of the server until the address stood on the screen."""
        self.asked.clear()
        self.open(path)
        expect(self.page.get_by_role("heading").first).to_be_visible()
        return {address: times for address, times in self.asked.items() if address.startswith("/api/")}

    def test_a_build_asks_for_each_answer_once(self) -> None:
        own = f"/api/colourings/{self.good.pk}"
        for tab in ("strata", "materials", "table"):
            asked = self.answers(f"/builds/{self.good.build_id}/colourings/{self.good.pk}/{tab}")
            for address in ("/api/session", own, f"{own}/panel"):
                self.assertEqual(asked.get(address), 1, (tab, address, asked))

    def test_the_drawer_comes_once_on_the_first_card(self) -> None:
        asked = self.answers("/inks")
        self.assertEqual(asked.get("/api/inks"), 1, asked)
        self.assertEqual(asked.get("/api/stocks"), 1, asked)
        self.assertEqual([a for a in asked if a.startswith("/api/inks?")], [])

    def test_home_asks_for_the_builds_once(self) -> None:
        self.assertEqual(self.answers("/").get("/api/builds"), 1)

    def test_pictures_far_down_a_list_wait_until_they_are_near(self) -> None:
        """Each is drawn by the server: three hundred at once would keep it busy for minutes."""
        for n in range(60):
            history.begin_again(self.good.build, f"Another {n}", plan_of(self.good), "Start")
        for path in ("/", "/evening"):
            self.asked.clear()
            self.open(path)
            last = self.page.locator("li", has_text=re.compile("^Another 0")).locator("img")
            expect(last).to_have_js_property("naturalWidth", 0)
            self.page.wait_for_load_state("networkidle")
            drawn = {a.split("?")[0] for a in self.asked if "/picture?" in a}
            self.assertGreater(len(drawn), 2, path)
            self.assertLess(len(drawn), 55, path)
            # and come when they are
            last.scroll_into_view_if_needed()
            expect(last).not_to_have_js_property("naturalWidth", 0)

    def test_sets_far_down_the_library_wait_until_they_are_near(self) -> None:
        row = LayerSet.objects.get(name="Koi and lantern")
        for n in range(40):
            row.pk, row.key, row.name = None, f"another-{n}", f"Z{n:02d} another"
            row.save()
        asked = self.answers("/sets")
        self.page.wait_for_load_state("networkidle")
        asked = {a: n for a, n in self.asked.items() if "/preview?" in a}
        self.assertEqual(set(asked.values()), {1})
        self.assertLess(len(asked), 30)
        last = self.page.get_by_role("img", name="Z39 another, all sheets")
        expect(last.locator("path")).to_have_count(0)
        last.scroll_into_view_if_needed()
        expect(last.locator("path")).to_have_count(5)

    def test_a_made_card_comes_with_its_readings_and_keeps_room_for_its_pictures(self) -> None:
        record = write(self.maker, Made("First try on kraft", datetime(2026, 3, 12, tzinfo=UTC), "", "", 2))
        assert record is not None
        photograph = (PHOTOGRAPHS / "first-try-on-kraft.jpg").read_bytes()
        found = {"told": [], "off_mm": 0.1, "alike": 1.0, "uneven": 1.1, "patches": 3}
        Photograph.objects.create(record=record, content=photograph, reading=found, straight=photograph)
        self.page.set_viewport_size({"width": 390, "height": 844})
        # whether the pictures ever come must not change where anything stands
        Line(self.page, "**/picture").hold()
        Line(self.page, "**/straight").hold()
        reading = Line(self.page, "**/reading")
        reading.hold()
        self.page.goto(f"{self.live_server_url}/log/{record.pk}")
        expect(self.page.get_by_text("Looking it up")).to_be_visible()
        expect(self.page.get_by_role("heading", name=record.name)).to_have_count(0)
        reading.mend()
        self.page.reload()
        box = self.page.get_by_alt_text("As predicted").bounding_box()
        assert box is not None
        width, height = Image.open(io.BytesIO(record.picture)).size
        self.assertAlmostEqual(box["height"] / box["width"], height / width, delta=0.01)

    def test_a_sets_parts_come_in_the_order_in_which_they_stand(self) -> None:
        """They come one after another: one that stands under another and comes before it is pushed down."""
        self.page.set_viewport_size({"width": 390, "height": 844})
        self.open(f"/sets/{LayerSet.objects.get(name='Koi and lantern').pk}")
        self.page.get_by_role("region", name="The sheets").wait_for()
        places = self.page.evaluate(
            "[...document.querySelector('#main h1').closest('main > div').children].map(e => e.getBoundingClientRect().top)"
        )
        self.assertEqual(len(places), 4)
        self.assertEqual(places, sorted(places))
