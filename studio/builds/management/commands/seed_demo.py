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
from django.db import transaction
from django.utils.text import slugify

from strata.formats.build_file import read_plan
from strata.formats.drawer import read_drawer
from strata.formats.set_file import read_set
from strata.guard.child import run_guarded
from strata.panel.things import IMAGE
from strata.sheets.edits import apply
from strata.sheets.model import LayerSet as CoreSet
from studio.accounts.demo import DEMO_NAME
from studio.builds.history import start
from studio.builds.models import Build
from studio.builds.summaries import catch_up
from studio.inks.models import DrawerChange, Ink
from studio.inks.taking import take_in
from studio.sets.models import LayerSet
from studio.sets.services import make_set

DEMO = settings.BASE_DIR / "demo"
OF_CARD = ("stock", "base", "stiffener", "shadow")
THERE = "The demo world is there already; nothing was changed."
LAID = "The Lockside Thursday table is laid."
COMPLETED = "The demo world was only half there; what was missing has been added."


class Command(BaseCommand):
    """``seed_demo`` adds what is missing; ``seed_demo --reset`` starts the demo maker afresh."""

    help = __doc__ or ""

    def add_arguments(self, parser: ArgumentParser) -> None:
        parser.add_argument("--reset", action="store_true", help="remove everything of the demo maker first")

    def handle(self, *args: Any, **options: Any) -> None:
        User = get_user_model()
        read_sets()  # what takes long and may fail, before anything is written
        with transaction.atomic():
            if options["reset"]:
                Build.objects.filter(owner__username=DEMO_NAME).delete()
                User.objects.filter(username=DEMO_NAME).delete()
            maker, new = User.objects.get_or_create(username=DEMO_NAME)
            if new:
                maker.set_unusable_password()
                maker.save()
            added = seed(maker)
        # kept with the builds: the first look at Home waits for nothing
        catch_up()
        self.stdout.write(LAID if new else COMPLETED if added else THERE)


@transaction.atomic
def seed(maker: Any) -> bool:
    """Drawer, sets and builds of the demo world for one maker, each where it is missing; whether any was."""
    added = False
    if not Ink.objects.filter(owner=maker).exists():
        added = True
        for file in sorted((DEMO / "drawer").glob("*.json")):
            take_in(maker, read_drawer(file.read_bytes()))
        # the demo drawer is where the story begins: nobody should undo it away
        DrawerChange.objects.filter(owner=maker).delete()
    known = {row.key: row for row in LayerSet.objects.filter(owner=maker)}
    for key, (core, left_out) in read_sets().items():
        if key not in known:
            added = True
            known[key] = make_set(maker, core, list(left_out), key)
    if not Build.objects.filter(owner=maker).exists():
        added = True
        for file in sorted((DEMO / "builds").glob("*.json")):
            values = json.loads(file.read_text())
            plan = read_plan(_cards_by_key(values))
            sets = values.get("sets", {IMAGE: values.get("set")})
            start(maker, values["name"], {k: known[v] for k, v in sets.items()}, plan)
    return added


def _cards_by_key(value: Any) -> Any:
    """The files of the demo world call cards by their names; in the house they go by keys."""
    if isinstance(value, dict):
        return {
            k: slugify(v) if k in OF_CARD and isinstance(v, str) else _cards_by_key(v)
            for k, v in value.items()
        }
    return [_cards_by_key(v) for v in value] if isinstance(value, list) else value


@lru_cache(maxsize=1)
def read_sets() -> dict[str, tuple[CoreSet, tuple[str, ...]]]:
    """The demo sets by key, each with what was left out in reading it."""
    index = json.loads((DEMO / "sets" / "index.json").read_text())
    return {Path(i["file"]).stem: _read((DEMO / "sets" / i["file"]).read_bytes(), i) for i in index}


def _read(data: bytes, item: dict[str, Any]) -> tuple[CoreSet, tuple[str, ...]]:
    """A demo drawing with what it cannot say: which step is lines, which part is loose, how often a piece is cut."""
    answer = run_guarded("set", [data], {"name": item["name"], "kind": item["kind"]})
    core = read_set(json.loads(answer["set"]))
    for number in item.get("lines", []):
        lines = [o.key for o in core.sheet(number).openings]
        core = apply(core, "role", {"openings": lines, "role": "line"}).layer_set
    for number in item.get("loose", []):
        core = apply(core, "piece", {"sheet": number, "loose": True}).layer_set
    for number, copies in item.get("copies", {}).items():
        core = apply(core, "piece", {"sheet": int(number), "copies": copies}).layer_set
    return core, tuple(answer["left_out"])
