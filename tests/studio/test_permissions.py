"""Who may do what: every address of the API as a stranger, as another maker, as the owner."""

from __future__ import annotations

import re
import shutil
from typing import Any

import numpy as np
from django.conf import settings
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import override_settings
from django.urls import get_resolver
from django.utils import timezone
from rest_framework.test import APIClient

from studio.accounts.invitations import invite
from studio.bench.models import Making, Photograph, Record, TablePhotograph
from studio.builds.models import Share
from studio.builds.pictures import jpeg
from studio.inks.models import Stock, SwatchCard, Tool
from studio.sets.models import Import
from tests.studio.base import StudioTest

OPEN = {
    "session", "session/demo", "accounts", "invitations/{}", "health", "shared/{}", "shared/{}/picture", "shared/{}/plan.pdf",
}  # fmt: skip
# answered to everybody: they are how one comes in, or are opened by a link (tests/studio/test_shares.py)

TRY = {"edits": [{"kind": "set_stock", "values": {"stock": "kraft"}}], "width": 80}
EDIT = {"revision": 1, "kind": "set_cards", "values": {"cards": 2}}
SWATCH = {"on": {"lab": [95, 0, 2]}, "coats": 1, "lab": [60, 20, 10]}
RECORD: dict[str, Any] = {
    "format": "anastrata-record", "version": 1, "plan": {"materials": {"stock": "kraft"}, "passes": []},
    "cards": 1, "spoilt": 0, "began": 0.0, "ended": 60.0, "inks": {}, "stocks": {}, "used": [], "steps": [], "told": [], "notes": [],
}  # fmt: skip
HAPPENED = {"making": 1, "events": []}
# (method, address, body, status for the owner)
CALLS: list[tuple[str, str, Any, set[int]]] = [
    ("patch", "preferences", {"units": "mm"}, {200}),
    ("post", "session/password", {"old": "wrong", "new": "lock-gate-42"}, {400}),
    ("get", "house", None, {200}),
    ("post", "house/invitations", {"said": "Wren"}, {201}),
    ("delete", "house/invitations/{invitation}", None, {204}),
    ("post", "accounts/gone", {"password": "wrong"}, {400}),
    ("get", "inks", None, {200}),
    ("post", "inks", {"name": "New", "chemistry": "dye", "swatches": [SWATCH]}, {201}),
    ("get", "inks/{ink}", None, {200}),
    ("patch", "inks/{ink}", {"name": "Renamed"}, {200}),
    ("delete", "inks/{ink}", None, {204}),
    ("post", "inks/{ink}/back", None, {204}),
    ("post", "recipes", {"stock": "kraft", "hex": "#40a060", "max_pads": 2}, {200}),
    ("get", "stocks", None, {200}),
    ("post", "stocks", {"name": "Cream", "lab": [92, 1, 10]}, {201}),
    ("patch", "stocks/{stock}", {"place": "shelf"}, {200}),
    ("delete", "stocks/{stock}", None, {204}),
    ("patch", "inks", {"ids": ["{ink}"], "values": {"place": "desk"}}, {200}),
    ("get", "inks/{ink}/opened", None, {200}),
    ("post", "inks/{ink}/swatches", {"stock": "kraft", "coats": 1, "lab": [40, 9, 9], "how": "typed"}, {200}),
    ("delete", "inks/{ink}/swatches/0", None, {200}),
    ("get", "gaps", None, {200}),
    ("get", "sectors", None, {200}),
    ("get", "tools", None, {200}),
    ("post", "tools", {"brush": "small", "count": 1}, {201}),
    ("patch", "tools/{tool}", {"count": 2}, {200}),
    ("delete", "tools/{tool}", None, {204}),
    ("get", "drawer/history", None, {200}),
    ("post", "drawer/undo", None, {200}),
    ("post", "drawer/redo", None, {200}),
    ("get", "drawer/out/drawer.csv", None, {200}),
    ("post", "ink-imports", None, {400}),
    ("get", "ink-imports/{coming}", None, {200}),
    ("patch", "ink-imports/{coming}", {"line": "Quay"}, {200}),
    ("get", "ink-imports/{coming}/problems", None, {200}),
    ("post", "ink-imports/{coming}/keep", None, {200}),
    ("delete", "ink-imports/{coming}", None, {204}),
    ("get", "swatch-cards", None, {200}),
    ("post", "swatch-cards", None, {400}),
    ("get", "swatch-cards/{card}", None, {200}),
    ("get", "swatch-cards/{card}/pdf", None, {200}),
    ("get", "swatch-cards/{card}/sample", {"seed": "x"}, {400}),
    ("post", "swatch-cards/{card}/photograph", None, {400}),
    ("post", "swatch-cards/{card}/keep", {"keep": [0]}, {400}),
    ("delete", "swatch-cards/{card}", None, {204}),
    ("post", "reader", {"ink": "{ink}", "stock": "kraft", "coats": 1, "times": 1}, {200}),
    ("post", "reader/tile", None, {204}),
    ("post", "readings", None, {400}),
    ("get", "sets", None, {200}),
    ("get", "sets/{set}", None, {200}),
    ("get", "sets/{set}/preview", None, {200}),
    (
        "post",
        "sets/{set}/edits",
        {"revision": 1, "kind": "rename", "values": {"element": "bud", "to": "flower"}},
        {200},
    ),
    ("post", "sets/{set}/undo", {"revision": 1}, {409}),
    ("post", "sets/{set}/redo", {"revision": 1}, {409}),
    ("get", "sets/{set}/measures", None, {200}),
    ("post", "sets/{set}/measures", None, {202}),
    ("get", "sets/{set}/trim", {"width": 90, "height": 120}, {200}),
    ("get", "sets/{set}/mask.svg", {"element": "upper koi", "sheet": "1"}, {200}),
    ("get", "sets/{set}/drawing.svg", None, {200}),
    ("get", "sets/{set}/bundle.zip", None, {200}),
    ("get", "sets/{set}/pictures/none.jpg", None, {404}),
    ("get", "imports", None, {200}),
    ("post", "imports", None, {400}),
    ("get", "imports/{brought}", None, {200}),
    ("post", "imports/{brought}/stop", None, {200}),
    ("post", "imports/{brought}/again", {"options": {"name": "x"}}, {200}),
    ("post", "imports/{brought}/fit", {"sheet": 0, "points": [[1, 1], [9, 1], [9, 9]]}, {400}),
    ("post", "imports/{brought}/photographs", None, {400}),
    ("post", "imports/{brought}/keep", None, {400}),
    ("get", "imports/{brought}/photos/0", None, {404}),
    ("delete", "imports/{brought}", None, {204}),
    ("delete", "sets/{set}", None, {204}),
    ("post", "sets/{set}/back", None, {204}),
    ("get", "builds", None, {200}),
    ("post", "builds", {"name": "x", "set_id": "{set}", "stock": "kraft"}, {201}),
    ("get", "builds/{build}", None, {200}),
    ("patch", "builds/{build}", {"name": "Other name"}, {200}),
    ("post", "builds/{build}/colourings", {"copy": "{colouring}", "name": "In rose"}, {201}),
    ("get", "colourings/{colouring}", None, {200}),
    ("patch", "colourings/{colouring}", {"name": "In blue"}, {200}),
    ("post", "colourings/{colouring}/edits", EDIT, {200}),
    ("post", "colourings/{colouring}/undo", {"revision": 2}, {200}),
    ("post", "colourings/{colouring}/redo", {"revision": 3}, {200}),
    ("get", "colourings/{colouring}/picture", None, {200}),
    ("get", "colourings/{colouring}/painting", {"width": 80}, {200}),
    ("get", "colourings/{colouring}/build-up", {"width": 80}, {200}),
    ("get", "colourings/{colouring}/panel", None, {200}),
    ("get", "colourings/{colouring}/cut/image", None, {404}),
    ("post", "colourings/{colouring}/try", TRY, {200}),
    ("post", "colourings/{colouring}/lay-out-others", None, {200}),
    ("post", "colourings/{colouring}/proposals", {"mood": "named"}, {200}),
    ("get", "colourings/{colouring}/against/{colouring}", None, {200}),
    ("get", "colourings/{colouring}/order", None, {200}),
    ("delete", "colourings/{colouring}/order/search", None, {200}),
    ("put", "colourings/{colouring}/order/taken", {"taken": True}, {400}),
    ("get", "colourings/{colouring}/order/why/1", None, {200}),
    ("post", "colourings/{colouring}/order/search", None, {200}),
    ("post", "colourings/{colouring}/palette", None, {400}),
    ("get", "colourings/{colouring}/palette.csv", None, {200}),
    ("post", "picture-colours", None, {400}),
    ("get", "evening", None, {400}),
    ("get", "formats", None, {200}),
    ("get", "colourings/{colouring}/finish", None, {200}),
    ("get", "colourings/{colouring}/plan.pdf", None, {200}),
    ("get", "records", None, {200}),
    ("get", "records/{record}", None, {200}),
    ("patch", "records/{record}", {"person": "Odile"}, {200}),
    ("get", "records/{record}/picture", None, {200}),
    ("post", "records/{record}/photographs", None, {400}),
    ("post", "records/{record}/photographs/simulated", {"seed": 0}, {400}),
    ("get", "records/{record}/photographs/{photograph}", None, {200}),
    ("get", "records/{record}/photographs/{photograph}/reading", None, {200}),
    ("post", "records/{record}/photographs/{photograph}/reading", {"around": "no such card"}, {400, 404}),
    ("get", "records/{record}/photographs/{photograph}/straight", None, {400}),
    ("delete", "records/{record}/photographs/{photograph}", None, {204}),
    ("post", "records/{record}/again", None, {201}),
    ("get", "account", None, {200}),
    ("post", "account/out", None, {200}),
    ("post", "account/in", None, {400}),
    ("get", "account/archive.zip", None, {200, 404}),
    ("get", "lesson", None, {200}),
    ("post", "lesson", None, {400}),
    ("post", "lesson/keep", None, {400}),
    ("post", "lesson/forget", None, {200}),
    ("delete", "records/{record}", None, {204}),
    ("post", "records/{record}/back", None, {204}),
    ("get", "colourings/{colouring}/supplies.csv", None, {200}),
    ("get", "colourings/{colouring}/supplies.pdf", None, {200}),
    ("get", "postal-rates", None, {200}),
    ("put", "postal-rates", {"rates": []}, {200}),
    ("get", "colourings/{colouring}/file", None, {200}),
    ("get", "colourings/{colouring}/class", {"people": 4}, {200}),
    ("get", "colourings/{colouring}/class.csv", {"people": 4}, {200}),
    ("get", "colourings/{colouring}/shares", None, {200}),
    ("post", "colourings/{colouring}/shares", None, {201}),
    ("delete", "colourings/{colouring}/shares/{share}", None, {204}),
    ("get", "colourings/{colouring}/passes/p1/tryouts", None, {200}),
    ("get", "colourings/{colouring}/stand-ins", {"ink": "thin-ice"}, {200}),
    ("get", "colourings/{colouring}/table", None, {200}),
    ("post", "colourings/{colouring}/table", HAPPENED, {200}),
    ("post", "colourings/{colouring}/table/wrong", {"what": "spoilt", "card": 1}, {200}),
    ("post", "colourings/{colouring}/table/photographs", None, {400}),
    ("get", "table-photographs/{taken}", None, {200}),
    ("delete", "table-photographs/{taken}", None, {204}),
    ("get", "colourings/{colouring}/table/painting", None, {200}),
    ("get", "colourings/{colouring}/table/build-up", None, {200}),
    ("delete", "colourings/{colouring}", None, {204}),
    ("post", "colourings/{colouring}/back", None, {204}),
    ("post", "session/everywhere", None, {204}),
    ("delete", "builds/{build}", None, {204}),
    ("post", "builds/{build}/back", None, {204}),
]


def addresses() -> set[str]:
    """Every address under api/ that the resolver knows, parameters as {}."""
    found = set()
    for resolver in get_resolver().url_patterns:
        for pattern in getattr(resolver, "url_patterns", []):
            found.add(re.sub(r"<[^>]+>", "{}", str(pattern.pattern)))
    return found


@override_settings(JOBS_AT_ONCE=True)
class EveryAddress(StudioTest):
    """One row of every kind, so that every address has something to answer with."""

    def setUp(self) -> None:
        super().setUp()
        # without its files: reading it again fails with a sentence, which is an answer like any other
        shutil.rmtree(settings.IMPORTS_DIR, ignore_errors=True)
        self.brought = Import.objects.create(owner=self.ada, options={"source": "bundle"})
        table = SimpleUploadedFile("i.csv", b"name,L,a,b\nNewcomer,50,1,2\n")
        self.coming = self.client.post("/api/ink-imports", {"file": table}).json()["id"]
        fields = [{"passes": [["campion", 1]], "label": "Campion"}]
        self.card = SwatchCard.objects.create(owner=self.ada, code=0, title="", stock="kraft", fields=fields)
        self.ivory = Stock.objects.get(owner=self.ada, key="ivory")
        drawn, now = jpeg(np.zeros((4, 3, 3), np.uint8)), timezone.now()
        self.record = Record.objects.create(
            owner=self.ada, build=self.good.build, name="Made", made=now, body=RECORD, picture=drawn
        )
        self.photograph = Photograph.objects.create(record=self.record, content=b"j")
        making = Making.objects.create(colouring=self.good, number=1)
        self.taken = TablePhotograph.objects.create(making=making, key="k", at=1.0, content=b"j")
        self.invitation, _ = invite(self.ada)
        self.share = Share.objects.create(colouring=self.good, token="x")
        tool = Tool.objects.filter(owner=self.ada).first()
        assert tool is not None
        self.tool = tool

    def call(self, client: APIClient, method: str, address: str, body: Any) -> Any:
        ids = {
            "ink": self.ink.pk,
            "set": self.koi.pk,
            "build": self.good.build_id,
            "colouring": self.good.pk,
            "brought": self.brought.pk,
            "coming": self.coming,
            "card": self.card.pk,
            "stock": self.ivory.pk,
            "tool": self.tool.pk,
            "record": self.record.pk,
            "photograph": self.photograph.pk,
            "share": self.share.pk,
            "taken": self.taken.pk,
            "invitation": self.invitation.pk,
        }
        path = "/api/" + address.format(**ids)
        if isinstance(body, dict):
            body = {k: v.format(**ids) if isinstance(v, str) else v for k, v in body.items()}
            if body.get("ids"):
                body["ids"] = [ids["ink"]]
        if method == "get":
            return client.get(path, body)
        return getattr(client, method)(path, body, format="json")


class PermissionTest(EveryAddress):
    def test_the_table_names_every_address(self) -> None:
        named = {
            re.sub(r"\{\w+\}", "{}", address)
            .replace("passes/p1", "passes/{}")
            .replace("none.jpg", "{}")
            .replace("photos/0", "photos/{}")
            .replace("swatches/0", "swatches/{}")
            .replace("out/drawer.csv", "out/{}")
            .replace("cut/image", "cut/{}")
            .replace("palette.csv", "palette.{}")
            .replace("why/1", "why/{}")
            for _, address, _, _ in CALLS
        }
        self.assertEqual(addresses() - OPEN, named)

    def test_a_stranger_gets_nothing(self) -> None:
        stranger = APIClient()
        for method, address, body, _ in CALLS:
            answer = self.call(stranger, method, address, body)
            self.refused(answer, 401)

    def test_another_maker_finds_nothing_of_adas(self) -> None:
        bo = APIClient()
        bo.force_authenticate(self.makers["bo"])
        for method, address, body, _ in CALLS:
            if "{" in address or (body and ("{set}" in str(body) or "{ink}" in str(body))):
                if address == "inks":
                    continue  # many at once refuse with what is missing: tests/studio/test_drawer.py
                status = 403 if address.startswith("house") else 404
                self.refused(self.call(bo, method, address, body), status)
        self.good.refresh_from_db()
        self.assertEqual((self.good.revision, self.good.gone, self.good.build.gone), (1, None, None))

    def test_lists_hold_only_ones_own(self) -> None:
        from studio.builds.models import Build

        own = {b["id"] for b in self.client.get("/api/builds").json()}
        self.assertEqual(own, set(Build.objects.filter(owner=self.ada).values_list("pk", flat=True)))

    def test_the_owner_may(self) -> None:
        for method, address, body, expected in CALLS:
            answer = self.call(self.client, method, address, body)
            self.assertIn(
                answer.status_code, expected, f"{method} {address}: {getattr(answer, 'content', b'')[:200]!r}"
            )

    def test_a_foreign_token_is_refused_and_csrf_is_asked_for(self) -> None:
        careful = APIClient(enforce_csrf_checks=True)
        careful.force_login(self.ada)
        self.refused(careful.patch("/api/preferences", {"units": "mm"}, format="json"), 403)
        answer = careful.post("/api/session", {"name": "ada", "password": "x"}, format="json")
        self.assertEqual(answer.status_code, 403)
