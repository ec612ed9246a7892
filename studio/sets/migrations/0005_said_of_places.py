"""What a hand may answer is said of how a photograph stands, and not kept any more with what was read of it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

from django.apps.registry import Apps
from django.db import migrations
from django.db.backends.base.schema import BaseDatabaseSchemaEditor

ONCE = re.compile(
    r"At \d+ places? more there may be an opening: .*"
    r"|At \d+ places? the lamp blinds the camera: .*"
    r"|No opening was found on this sheet\."
)
# as it was written until 0.19


def results(sheet: dict[str, Any]) -> Iterator[dict[str, Any]]:
    """What was read of a sheet, of its own photograph before others were put to it, and of those."""
    if sheet.get("result"):
        yield sheet["result"]
    for other in (sheet.get("alone"), *sheet.get("together", [])):
        if other:
            yield from results(other)


def without(apps: Apps, _: BaseDatabaseSchemaEditor | None = None) -> None:
    for row in apps.get_model("sets", "Import").objects.exclude(sheets=[]).only("sheets").iterator():
        for result in (r for sheet in row.sheets for r in results(sheet)):
            result["warnings"] = [w for w in result.get("warnings", []) if not ONCE.fullmatch(w)]
        row.save(update_fields=["sheets"])


class Migration(migrations.Migration):
    dependencies = [("sets", "0004_measuring")]
    operations = [migrations.RunPython(without, migrations.RunPython.noop)]
