"""Bring in the demo world from demo/, by the same readers that a maker's files go through."""

from __future__ import annotations

import json
from argparse import ArgumentParser
from functools import lru_cache
from pathlib import Path
from typing import Any

from django.conf import settings
from django.contrib.auth import get_user_model
from django.core.management.base import BaseCommand
from django.utils.text import slugify

from strata.formats.build_file import read_plan
from strata.formats.drawer import read_drawer
from strata.formats.guarded import run_guarded
from strata.formats.set_file import read_set
from strata.sheets.edits import apply
from strata.sheets.model import LayerSet as CoreSet
from studio.accounts.demo import DEMO_NAME
from studio.builds.models import Build
from studio.builds.services import start
from studio.inks.editing import take_in
from studio.inks.models import DrawerChange
from studio.sets.models import LayerSet
from studio.sets.services import make_set

DEMO = settings.BASE_DIR / "demo"


class Command(BaseCommand):
    """``seed_demo`` adds what is missing; ``seed_demo --reset`` starts the demo maker afresh."""

    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--reset", action="store_true", help="remove everything of the demo maker first")

    def handle(self, *args: Any, **options: Any) -> None:
        User = get_user_model()
        if options["reset"]:
            maker = User.objects.filter(username=DEMO_NAME).first()
            if maker is not None:
                Build.objects.filter(owner=maker).delete()
                maker.delete()
        if User.objects.filter(username=DEMO_NAME).exists():
            self.stdout.write("The demo world is there already; nothing was changed.")
            return
        maker = User.objects.create_user(username=DEMO_NAME)
        seed(maker)
        self.stdout.write("The Lockside Thursday table is laid.")


def seed(maker: Any) -> None:
    """Drawer, sets and builds of the demo world for one maker."""
    for file in sorted((DEMO / "drawer").glob("*.json")):
        take_in(maker, read_drawer(file.read_bytes()))
    # the demo drawer is where the story begins: nobody should undo it away
    DrawerChange.objects.filter(owner=maker).delete()
    sets = {}
    for item in json.loads((DEMO / "sets" / "index.json").read_text()):
        key = Path(item["file"]).stem
        data = (DEMO / "sets" / item["file"]).read_bytes()
        sets[key] = lay_out(maker, data, key, item)
    for file in sorted((DEMO / "builds").glob("*.json")):
        values = json.loads(file.read_text())
        plan = read_plan({**values, "stock": slugify(values["stock"])})
        start(maker, values["name"], sets[values["set"]], plan)


def lay_out(maker: Any, data: bytes, key: str, item: dict[str, Any]) -> LayerSet:
    """A demo set of a maker's."""
    core, left_out = _read(data, json.dumps(item))
    return make_set(maker, core, list(left_out), key)


@lru_cache(maxsize=8)
def _read(data: bytes, item_json: str) -> tuple[CoreSet, tuple[str, ...]]:
    """A demo drawing with what it cannot say: which step is lines, which part is loose, how often a piece is cut."""
    item = json.loads(item_json)
    answer = run_guarded("set", [data], {"name": item["name"], "kind": item["kind"]})
    core = read_set(answer["set"])
    for number in item.get("lines", []):
        lines = [o.key for o in core.sheet(number).openings]
        core = apply(core, "role", {"openings": lines, "role": "line"}).layer_set
    for number in item.get("loose", []):
        core = apply(core, "piece", {"sheet": number, "loose": True}).layer_set
    for number, copies in item.get("copies", {}).items():
        core = apply(core, "piece", {"sheet": int(number), "copies": copies}).layer_set
    return core, tuple(answer["left_out"])
