"""Photographs taken at the table: kept once with their making, shown in the log, carried with the account."""

from __future__ import annotations

import io
from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile
from PIL import Image

from studio.bench.models import Making, Record, TablePhotograph
from tests.studio.base import StudioTest
from tests.studio.table import BEGIN, address, walk


def picture(size: tuple[int, int] = (400, 300), kind: str = "JPEG") -> bytes:
    data = io.BytesIO()
    Image.new("RGB", size, (200, 120, 80)).save(data, kind)
    return data.getvalue()


class TablePhotographTest(StudioTest):
    def take(self, key: str = "p1", data: bytes | None = None, **more: Any) -> Any:
        file = SimpleUploadedFile("table.jpg", picture() if data is None else data)
        values = {"key": key, "making": 1, "at": BEGIN, "card": 1, "after": "After Campion on koi", **more}
        return self.client.post(f"{address(self.good)}/photographs", {"file": file, **values})

    def test_it_is_kept_once_and_stands_at_the_table(self) -> None:
        first = self.take()
        self.assertEqual(first.status_code, 201)
        self.assertEqual(self.take().json(), first.json())
        [told] = self.client.get(address(self.good)).json()["photographs"]
        self.assertEqual((told["key"], told["card"], told["after"]), ("p1", 1, "After Campion on koi"))
        seen = self.client.get(f"/api/table-photographs/{told['id']}")
        self.assertEqual(seen["Content-Type"], "image/jpeg")
        self.assertEqual(Image.open(io.BytesIO(seen.content)).size, (400, 300))
        narrower = self.client.get(f"/api/table-photographs/{told['id']}?width=160")
        self.assertEqual(Image.open(io.BytesIO(narrower.content)).size, (160, 120))
        # what is narrower already stays as it is
        wider = self.client.get(f"/api/table-photographs/{told['id']}?width=1600")
        self.assertEqual(Image.open(io.BytesIO(wider.content)).size, (400, 300))
        self.refused(self.client.get(f"/api/table-photographs/{told['id']}?width=9"), 400)

    def test_it_is_drawn_anew_and_no_larger_than_is_kept(self) -> None:
        hidden = picture((3000, 1500)) + b"<script>hidden</script>"
        self.take(data=hidden)
        kept = bytes(TablePhotograph.objects.get().content)
        self.assertNotIn(b"hidden", kept)
        self.assertEqual(Image.open(io.BytesIO(kept)).size, (1600, 800))

    def test_what_is_no_picture_or_of_no_making_is_refused(self) -> None:
        self.refused(self.take(data=b"no picture"), 400)
        self.refused(self.take(making=3), 400)
        self.refused(self.take(at="nan"), 400)
        self.refused(self.take(card=-1), 400)
        self.refused(self.client.post(f"{address(self.good)}/photographs", {"key": "x", "making": 1}), 400)
        self.assertEqual(TablePhotograph.objects.count(), 0)

    def test_a_making_keeps_only_so_many(self) -> None:
        making = Making.objects.create(colouring=self.good, number=1)
        TablePhotograph.objects.bulk_create(
            TablePhotograph(making=making, key=f"k{n}", at=n, content=b"j") for n in range(24)
        )
        self.refused(self.take(), 413)
        # what is there already is not refused for want of room
        self.assertEqual(self.take(key="k3").status_code, 201)

    def test_it_is_taken_away(self) -> None:
        [told] = self.take().json()
        self.assertEqual(self.client.delete(f"/api/table-photographs/{told['id']}").status_code, 204)
        self.refused(self.client.get(f"/api/table-photographs/{told['id']}"), 404)

    def test_the_log_has_it_beside_the_card(self) -> None:
        self.take(key="early", at=BEGIN + 5)
        self.take(key="before", at=BEGIN, after="Before the first ink")
        walk(self.client, self.good, 500)
        record = Record.objects.get(making__colouring=self.good)
        found = self.client.get(f"/api/records/{record.pk}").json()
        self.assertEqual([p["key"] for p in found["at_table"]], ["before", "early"])
        # it was taken in the middle of the work: it is not held against the finished card
        self.assertEqual(found["photographs"], [])
        record.making = None
        record.save()
        self.assertEqual(self.client.get(f"/api/records/{record.pk}").json()["at_table"], [])
