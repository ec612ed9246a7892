"""Sets on their way in, for tests: files sent, a reading waited for, everything let go afterwards."""

from __future__ import annotations

from typing import Any

from django.core.files.uploadedfile import SimpleUploadedFile

from strata.camera import Shot, jpeg, photograph
from studio.sets import imports
from studio.sets.models import Import
from tests import world
from tests.studio.base import StudioTest


def photo(sheet: int = 1, **values: Any) -> bytes:
    """A small photograph of a sheet of the demo stencil."""
    koi = world.koi()
    shapes = [*(o.polygon for o in koi.sheet(sheet).openings), *koi.sheet(sheet).marks]
    shot = Shot(width=1200, height=1500, tilt_x=0.08, tilt_y=0.05, seed=sheet, **values)
    return jpeg(photograph(shapes, koi.width, koi.height, shot), 85)


def all_let_go() -> None:
    """Nothing that was on its way in stays behind."""
    for row in Import.objects.all():
        imports.let_go(row)


class ImportCase(StudioTest):
    """Ada brings sets in; readings are done at once."""

    SIZE = {"width_mm": 107.95, "height_mm": 139.7}
    # of the sheets that ``photo`` shows

    def begin(self, *files: tuple[str, bytes], **options: Any) -> Any:
        sent = [SimpleUploadedFile(name, data) for name, data in files]
        return self.client.post(
            "/api/imports", {"files": sent, "name": "Given", **options}, format="multipart"
        )

    def ready(self, answer: Any) -> dict[str, Any]:
        self.assertEqual(answer.status_code, 201, answer.content)
        body: dict[str, Any] = answer.json()
        self.assertEqual((body["state"], body["sentence"]), ("ready", ""))
        return body

    def say(self, pk: int, *sheets: dict[str, Any]) -> Any:
        """What is said of the sheets of an import, in the order of use."""
        return self.client.post(f"/api/imports/{pk}/again", {"sheets": list(sheets)}, format="json")

    def tearDown(self) -> None:
        all_let_go()
