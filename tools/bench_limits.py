"""A house at its limits: 2,000 pads, 300 builds, a set of 2,000 openings on 12 sheets with 60 passes. ``make bench``.

Seconds of processor of each answer, first and again, beside the bar; and how long another maker's change waits while
one changes every pad.
"""

from __future__ import annotations

import json
import os
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator
from copy import copy
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "studio.settings")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
PADS, BUILDS, OPENINGS, SHEETS, PASSES, MADE = 2000, 300, 2000, 12, 60, 500
WIDE, HIGH = 150.0, 200.0
# mm


def _leaf(rng: Any, x: float, y: float, long: float) -> Any:
    """A leaf of 48 points about a place."""
    import numpy as np
    import shapely.affinity

    way = np.linspace(0, 2 * np.pi, 48, endpoint=False)
    ring = np.c_[long * np.cos(way), 0.4 * long * np.sin(way) * (1 + 0.2 * np.cos(7 * way))]
    turned = shapely.affinity.rotate(shapely.Polygon(ring), rng.uniform(0, 360))
    return shapely.affinity.translate(turned, x, y)


def large_set() -> Any:
    """Leaves in rows, each sheet's in places of its own, in five elements that lie on one another from sheet to sheet."""
    import numpy as np

    from strata.sheets.model import LayerSet, Opening, Sheet

    rng, own = np.random.default_rng(5), OPENINGS // SHEETS + 1
    sheets = []
    for number in range(1, SHEETS + 1):
        openings = []
        for i in range(min(own, OPENINGS - (number - 1) * own)):
            x, y = 8 + 11 * (i % 13), 8 + 14 * (i // 13)
            shape = _leaf(rng, x + rng.uniform(-1, 1), y + rng.uniform(-1, 1), 4.2 - 0.2 * number)
            openings.append(Opening(f"{number}.{i + 1}", number, f"Branch {i % 5 + 1}", shape))
        sheets.append(Sheet(number, f"Sheet {number}", tuple(openings)))
    return LayerSet("A hedge", "stencil", WIDE, HIGH, tuple(sheets))


def as_brought_in() -> Any:
    """As many openings, nested from sheet to sheet and without names: the parts are those that are proposed."""
    from dataclasses import replace

    import shapely.affinity

    from strata.sheets.elements import propose

    plain = large_set()
    first = plain.sheets[0].openings
    sheets = [
        replace(
            s,
            openings=tuple(
                replace(o, element="", polygon=shapely.affinity.scale(u.polygon, *[1 - 0.05 * s.number] * 2))
                for o, u in zip(s.openings, first, strict=False)
            ),
        )
        for s in plain.sheets
    ]
    return propose(replace(plain, sheets=tuple(sheets)))


def _pads(owner: Any) -> None:
    """The demo's pads again and again, each a little lighter or darker."""
    from django.db.models import F

    from studio.inks.models import Drawer, Ink
    from studio.inks.services import changed

    known = list(Ink.objects.filter(owner=owner))
    made = []
    for n in range(PADS - len(known)):
        like = known[n % len(known)]
        values = {f.name: getattr(like, f.name) for f in Ink._meta.concrete_fields if f.name != "id"}
        shift = (n * 37 % 100) / 25 - 2
        dabs = [
            {**s, "lab": [min(99.0, max(1.0, s["lab"][0] + shift)), *s["lab"][1:]]} for s in like.swatches
        ]
        family = f"{like.family} {n // 160}" if like.family else ""
        told = {
            "key": f"{like.key}-{n}",
            "name": f"{like.name} {n}",
            "line": f"Quay {n % 25}",
            "family": family,
        }
        made.append(Ink(**{**values, **told, "swatches": dabs}))
    Ink.objects.bulk_create(made)
    Drawer.objects.filter(owner=owner).update(revision=F("revision") + 1)
    changed(owner)


def _house() -> tuple[Any, Any]:
    """A maker with all of it, and the colouring of the large set."""
    from django.contrib.auth import get_user_model
    from django.core.management import call_command

    from strata.plan import Materials, Plan
    from studio.builds import history
    from studio.builds.looking import plan_of
    from studio.builds.management.commands.seed_demo import seed
    from studio.builds.models import Colouring
    from studio.inks.models import Ink
    from studio.sets.services import make_set

    call_command("migrate", verbosity=0)
    owner = get_user_model().objects.create(username="one")
    seed(owner)
    begun = list(Colouring.objects.filter(build__owner=owner).select_related("build"))
    for n in range(BUILDS - len(begun)):
        first = begun[n % len(begun)]
        history.begin_again(first.build, f"{first.build.name} {n}", plan_of(first), "Start")
    _pads(owner)
    _log(owner)
    row = make_set(owner, large_set(), [])
    wide = history.start(owner, "All of it", {"image": row}, Plan(Materials("white-smooth")))
    inks = list(Ink.objects.filter(owner=owner, key__contains="-1", chemistry="dye")[:20])
    for n in range(PASSES):
        values = {"element": f"Branch {n % 5 + 1}", "sheet": n // 5 + 1, "ink": inks[n % 20].key}
        wide = history.edit(wide, wide.revision, "add_pass", values, "")
    return owner, wide


def _log(owner: Any) -> None:
    """Many made cards in the log."""
    from studio.bench.management.commands.seed_log import Made, write
    from studio.bench.models import Record

    first = write(owner, Made("First try on kraft", datetime(2026, 3, 12, tzinfo=UTC), "Odile", "", 2))
    assert first is not None
    first.pk = first.making = first.summary = None
    Record.objects.bulk_create(copy(first) for _ in range(MADE - 1))


def _waiting(other: Any, until: threading.Event) -> Callable[[], float]:
    """The longest that changes of another maker's pad take, one after another, until the event."""
    from django.db import connection

    from studio.inks import editing
    from studio.inks.models import Ink

    pad, longest = Ink.objects.filter(owner=other).values_list("pk", flat=True)[0], [0.0]

    def run() -> None:
        n = 0
        while not until.is_set():
            began = time.perf_counter()
            editing.change_inks(other, [pad], {"place": f"shelf {n}"})
            longest[0] = max(longest[0], time.perf_counter() - began)
            n += 1
            until.wait(0.02)
        connection.close()

    thread = threading.Thread(target=run)
    thread.start()

    def ended() -> float:
        until.set()
        thread.join()
        return longest[0]

    return ended


def _followed(client: Any, path: str) -> Any:
    """The answer once its job is done, looked for as a browser looks."""
    while (answer := client.get(path)).status_code == 202 and answer.json()["state"] in ("queued", "running"):
        time.sleep(0.3)
    return answer


def _set_rows(
    client: Any, own: int, element: str, what: str
) -> Iterator[tuple[str, float, Callable[[], Any]]]:
    """What is asked of a set."""
    the_set = f"/api/sets/{own}"
    rename = json.dumps(
        {"revision": 1, "kind": "rename", "values": {"element": element, "to": "The long branch"}}
    )
    yield f"{what}: opened, first", 0.6, lambda: client.get(the_set)
    yield f"{what}: measures, first (clock)", 10, lambda: _followed(client, f"{the_set}/measures")
    yield f"{what}: measures", 0.2, lambda: client.get(f"{the_set}/measures")
    yield f"{what}: bundle", 1.5, lambda: client.get(f"{the_set}/bundle.zip")
    yield (
        f"{what}: an edit",
        0.5,
        lambda: client.post(f"{the_set}/edits", rename, content_type="application/json"),
    )


def _rows(client: Any, owner: Any, wide: Any) -> Iterator[tuple[str, float, Callable[[], Any]]]:
    """What is asked, its bar in seconds, and the asking."""
    from studio.inks.models import Ink
    from studio.sets.services import make_set

    pads = list(Ink.objects.filter(owner=owner, gone=None).values_list("pk", flat=True))
    own, pass_key = wide.pk, wide.changes.latest("number").plan["passes"][0]["key"]
    ink = wide.changes.latest("number").plan["passes"][0]["ink"]
    (placed,) = wide.build.placed_sets.all()

    def patch(path: str, body: Any) -> Any:
        return client.patch(f"/api/{path}", json.dumps(body), content_type="application/json")

    yield "Home, first", 0, lambda: client.get("/api/builds")
    yield "Home", 0.2, lambda: client.get("/api/builds")
    yield "a pad changed", 0, lambda: patch("inks", {"ids": pads[:1], "values": {"place": "shelf"}})
    yield "Home after it", 0.5, lambda: client.get("/api/builds")
    yield "drawer, after it", 0.5, lambda: client.get("/api/inks")
    yield "drawer", 0.5, lambda: client.get("/api/inks")
    yield "pad opened", 0.5, lambda: client.get(f"/api/inks/{pads[7]}/opened")
    yield "all pads changed", 2, lambda: patch("inks", {"ids": pads, "values": {"place": "attic"}})
    yield "that undone", 2, lambda: client.post("/api/drawer/undo", "{}", content_type="application/json")
    yield "log, first", 0, lambda: client.get("/api/records")
    yield "log", 0, lambda: client.get("/api/records")
    yield "a card looked for in it", 0, lambda: client.get("/api/records?q=kraft")
    yield from _set_rows(client, placed.layer_set_id, "Branch 1", "set")
    yield from _set_rows(client, make_set(owner, as_brought_in(), []).pk, "part 1", "set as brought in")
    yield "colouring of 60 passes, first", 0, lambda: client.get(f"/api/colourings/{own}")
    yield "its picture, first", 0, lambda: client.get(f"/api/colourings/{own}/picture?width=800")
    yield "tryouts", 0.6, lambda: client.get(f"/api/colourings/{own}/passes/{pass_key}/tryouts")
    yield "stand-ins", 2, lambda: client.get(f"/api/colourings/{own}/stand-ins?ink={ink}")
    yield "chart", 1.5, lambda: client.get("/api/drawer/out/chart.pdf")


def limits() -> None:
    """Print the figures."""
    os.environ["ANASTRATA_DATA"] = tempfile.mkdtemp(prefix="bench-")
    import django

    django.setup()
    from django.conf import settings
    from django.contrib.auth import get_user_model
    from django.test import Client

    from strata.optics.colour import difference
    from studio.builds.management.commands.seed_demo import seed
    from studio.starting import seldom_collected

    settings.ALLOWED_HOSTS = ["*"]
    seldom_collected()
    owner, wide = _house()
    other = get_user_model().objects.create(username="other")
    seed(other)
    client = Client(headers={"accept-encoding": "gzip"})
    client.force_login(owner, backend=settings.AUTHENTICATION_BACKENDS[-1])
    difference((50.0, 0.0, 0.0), (51.0, 0.0, 0.0))
    client.get("/api/health")
    print(
        f"{PADS} pads, {BUILDS} builds, {MADE} made cards, {OPENINGS} openings on {SHEETS} sheets, {PASSES} passes: CPU s (bar)"
    )
    for name, bar, ask in _rows(client, owner, wide):
        ended = _waiting(other, threading.Event()) if name == "all pads changed" else None
        clock = time.perf_counter if "clock" in name else time.process_time
        began = clock()
        answer = ask()
        took = clock() - began
        size = len(answer.content) / 1000 if hasattr(answer, "content") else 0
        more = f"   another's change waited {ended():.2f} s (0.3)" if ended else ""
        said = f"({bar:g})" if bar else ""
        print(f"  {name:36s} {took:6.2f} {said:6s} {answer.status_code} {size:8.0f} kB{more}", flush=True)


if __name__ == "__main__":
    limits()
