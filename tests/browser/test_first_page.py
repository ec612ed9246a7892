"""The first page of an address: what it needs is fetched once, ahead of the script that asks for it."""

from __future__ import annotations

from collections import Counter
from typing import Any

from django.core.signals import request_started
from playwright.sync_api import expect

from tests.browser.base import BrowserTest


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
