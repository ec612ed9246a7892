"""Lists ask the database as often for many rows as for few."""

from __future__ import annotations

from django.core.files.uploadedfile import SimpleUploadedFile
from django.db import connection
from django.test.utils import CaptureQueriesContext

from strata.plan import Materials, Plan
from studio.builds.history import edit, start
from studio.inks.models import Ink
from studio.sets.models import LayerSet
from tests import world
from tests.studio.base import StudioTest

MOST = {"builds": 25, "inks": 6, "sets": 2, "imports": 2, "swatch-cards": 6, "stocks": 2, "tools": 2}
BODY = '<g id="a"><rect x="5" y="5" width="30" height="20"/></g>'


class QueryTest(StudioTest):
    def asked(self, path: str) -> int:
        self.client.get(f"/api/{path}")  # warm: what is kept is kept
        self.ada.__dict__.pop("_house", None)
        with CaptureQueriesContext(
            connection,
        ) as queries:
            self.assertEqual(self.client.get(f"/api/{path}").status_code, 200)
        return len(queries)

    def more(self, count: int) -> None:
        """So many more of everything that is listed."""
        inks = Ink.objects.filter(owner=self.ada)[:2]
        sent = [SimpleUploadedFile("set.svg", world.drawing(BODY))]
        for i in range(count):
            one = start(self.ada, f"Card {i}", {"image": self.koi}, Plan(Materials("kraft")))
            edit(one, 1, "add_pass", {"element": "bud", "sheet": 5, "ink": "sloe"}, "")
            fields = [{"passes": [{"ink": ink.key, "coats": 1}]} for ink in inks]
            self.client.post("/api/swatch-cards", {"stock": "kraft", "fields": fields}, format="json")
            self.client.post("/api/stocks", {"name": f"Card {i}", "lab": [90, i, 1]}, format="json")
            self.client.post("/api/tools", {"brush": "small", "count": i}, format="json")
            LayerSet.objects.create(
                owner=self.ada, key=f"set-{count}-{i}", name=f"Set {i}", kind="stencil", width_mm=10, height_mm=10,
                geometry=self.koi.geometry,
            )  # fmt: skip
            if i < 2:
                self.client.post("/api/imports", {"files": sent, "name": "x"}, format="multipart")
                sent[0].seek(0)

    def test_no_list_asks_more_for_twelve_rows_than_for_two(self) -> None:
        self.more(1)
        few = {path: self.asked(path) for path in MOST}
        self.more(10)
        many = {path: self.asked(path) for path in MOST}
        self.assertEqual(many, few)
        for path, most in MOST.items():
            self.assertLessEqual(many[path], most, path)

    def test_an_edit_reads_no_drawing_and_asks_little(self) -> None:
        own = f"/api/colourings/{self.good.pk}"
        self.client.get(own)
        self.ada.__dict__.pop("_house", None)
        with CaptureQueriesContext(connection) as queries:
            self.assertEqual(self.edit(self.good, "set_coats", {"pass": "p1", "coats": 3}).status_code, 200)
        self.assertLessEqual(len(queries), 20)
        with CaptureQueriesContext(connection) as looked:
            self.assertEqual(self.client.get(own).status_code, 200)
        for query in [*queries, *looked]:
            # some hundred kilobytes of JSON, which are kept as what they mean
            self.assertNotIn('"geometry"', query["sql"])
