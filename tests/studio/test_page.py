"""The one page: what its address will ask for is named in it, and nothing that somebody put into an address."""

from __future__ import annotations

import json
import re
from pathlib import Path
from tempfile import TemporaryDirectory
from unittest import skipUnless

from django.conf import settings
from django.contrib.auth.models import AnonymousUser, User
from django.test import RequestFactory, SimpleTestCase, override_settings

from studio.page import page

MAKER = User(username="ada")
BUILT = settings.WEB_DIST / "ahead.json"
PLACES = [
    {"address": "^/$", "scripts": ["assets/Home-1.js"], "asks": ["/api/builds"]},
    {
        "address": r"^/builds/\d+/colourings/(\d+)(?:/|$)",
        "scripts": ["assets/Shell-2.js", "assets/Slider-3.js"],
        "asks": ["/api/colourings/$1", "/api/colourings/$1/panel"],
    },
    {
        "address": r"^/builds/\d+/colourings/\d+/strata$",
        "scripts": ["assets/Strata-4.js", "assets/Slider-3.js"],
        "asks": [],
    },
]
WHO = "/api/session"


class PageTest(SimpleTestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.dist = Path(folder.name)
        (self.dist / "index.html").write_text("<html><head><title>A</title></head><body></body></html>")
        (self.dist / "ahead.json").write_text(json.dumps(PLACES))

    def named(self, path: str, maker: AnonymousUser | User = MAKER) -> tuple[list[str], list[str]]:
        """(scripts, answers) that the page of an address names."""
        request = RequestFactory().get("/")
        request.path, request.user = path, maker
        with override_settings(PAGES=self.dist):
            told = page(request).content.decode()
        head, _, body = told.partition("</head>")
        self.assertEqual(body, "<body></body></html>")
        return (
            re.findall(r'rel="modulepreload" crossorigin href="([^"]+)"', head),
            re.findall(r'rel="preload" as="fetch" crossorigin href="([^"]+)"', head),
        )

    def test_an_address_names_all_that_belongs_to_it_once(self) -> None:
        scripts, answers = self.named("/builds/4/colourings/31/strata")
        own = ["Shell-2", "Slider-3", "Strata-4"]
        self.assertEqual(scripts, [f"/static/assets/{name}.js" for name in own])
        self.assertEqual(answers, [WHO, "/api/colourings/31", "/api/colourings/31/panel"])
        self.assertEqual(self.named("/"), (["/static/assets/Home-1.js"], [WHO, "/api/builds"]))
        self.assertEqual(
            self.named("/builds/4/colourings/7")[1], [WHO, "/api/colourings/7", "/api/colourings/7/panel"]
        )

    def test_an_address_that_is_not_among_the_main_ones_names_who_is_here(self) -> None:
        for path in (
            "/account",
            "/builds/4/colourings/x/strata",
            '/builds/1/colourings/2"><b/strata',
            "/sets",
        ):
            with self.subTest(path):
                self.assertEqual(self.named(path), ([], [WHO]))

    def test_a_stranger_is_named_nothing_that_she_would_be_refused(self) -> None:
        self.assertEqual(self.named("/builds/4/colourings/31/strata", AnonymousUser()), ([], []))

    def test_a_page_built_without_the_list_is_still_a_page(self) -> None:
        (self.dist / "ahead.json").unlink()
        self.assertEqual(self.named("/"), ([], [WHO]))

    def test_a_page_that_is_not_built_says_how(self) -> None:
        (self.dist / "index.html").unlink()
        request = RequestFactory().get("/")
        with override_settings(PAGES=self.dist):
            self.assertIn("make build", page(request).content.decode())

    @skipUnless(BUILT.exists(), "the pages are not built")
    def test_what_was_built_is_there(self) -> None:
        places = json.loads(BUILT.read_text())
        self.assertGreater(sum(bool(p["scripts"]) for p in places), 8)
        for place in places:
            for script in place["scripts"]:
                self.assertTrue((settings.WEB_DIST / script).is_file(), script)
        first = (settings.WEB_DIST / "index.html").read_text()
        self.assertNotIn('rel="stylesheet"', first)
        self.assertIn("@font-face", first)
