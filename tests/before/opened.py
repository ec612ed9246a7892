"""Run in a process of its own on a data folder of an earlier version: migrate it, and say what a maker then sees.

``python tests/before/opened.py PICTURES`` with ANASTRATA_DATA set prints JSON and writes one PNG a colouring.
"""

import json
import os
import sys
from pathlib import Path
from typing import Any

sys.path.insert(0, str(Path(__file__).resolve().parents[2]))
os.environ["DJANGO_SETTINGS_MODULE"] = "studio.settings"

import django

django.setup()

from django.core.management import call_command  # noqa: E402
from django.test import Client, override_settings  # noqa: E402
from PIL import Image  # noqa: E402

from studio.builds import history, looking, pictures  # noqa: E402
from studio.builds.models import Colouring  # noqa: E402
from studio.inks.models import Ink, Stock  # noqa: E402


def colouring_seen(row: Colouring, name: str, folder: Path) -> dict[str, Any]:
    seen = looking.outlook(row)
    Image.fromarray(pictures.picture(seen, 160, None, False)).save(folder / f"{row.pk}.png")
    head = history.head_json(row)
    found = {
        "pk": row.pk,
        "passes": len(seen.scene.plan.passes),
        "undo": head["undo"],
        "redo": head["redo"],
        "changes": row.changes.count(),
        "minutes": round(seen.sequence.minutes, 2),
        "undone": [],
    }
    while history.head_json(row)["undo"]:
        found["undone"].append(history.head_json(row)["undo"])
        row = history.undo(row, row.revision)
    found["first"] = len(looking.plan_of(row).passes)
    while history.head_json(row)["redo"]:
        row = history.redo(row, row.revision)
    found["last"] = len(looking.plan_of(row).passes)
    return found


def main() -> None:
    call_command("migrate", verbosity=0)
    folder = Path(sys.argv[1])
    rows = list(Colouring.objects.select_related("build__owner"))
    owner = rows[0].build.owner
    found: dict[str, Any] = {"builds": {r.build.name: colouring_seen(r, r.build.name, folder) for r in rows}}
    found["inks"], found["stocks"] = Ink.objects.count(), Stock.objects.count()
    client = Client()
    client.force_login(owner)
    with override_settings(ALLOWED_HOSTS=["testserver"]):
        found["drawer"] = client.get("/api/drawer/history").json()
        found["table"] = client.get(f"/api/colourings/{rows[-1].pk}/table").json()
        for path in ("/api/builds", "/api/sets", "/api/inks", "/api/imports", "/api/swatch-cards"):
            found[path] = client.get(path).status_code
    print(json.dumps(found))


if __name__ == "__main__":
    main()
