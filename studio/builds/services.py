"""Builds: load, turn into core values, call the core, keep the change."""

from __future__ import annotations

import hashlib
import json
import uuid
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from threading import Lock
from typing import Any, Generic, TypeVar

from django.db import transaction

from strata.advice import Finding, advise
from strata.errors import BadValue, UnknownName
from strata.formats.build_file import read_plan, write_plan
from strata.order import Sequence, dispatch
from strata.picture.album import ALBUM
from strata.picture.panel import Bytes, layers_of
from strata.picture.raster import Raster
from strata.plan import Plan, Scene
from strata.plan.edits import apply
from strata.standins import StandIn, stand_ins
from strata.tones import Rung, Tryout, ladders, try_inks
from studio.builds.models import Build, Change
from studio.errors import Stale
from studio.inks.services import house
from studio.sets.history import core_set
from studio.sets.models import LayerSet

MOST_CHANGES = 400
# of history kept a build


class Outlook:
    """A scene, and its sequence once it is asked for; ``key`` tells what they came from."""

    def __init__(self, key: str, scene: Scene) -> None:
        self.key, self.scene = key, scene
        self._lock = Lock()
        self._sequence: Sequence | None = None

    @property
    def sequence(self) -> Sequence:
        """The order of work, found by the first thread that needs it."""
        with self._lock:
            if self._sequence is None:
                self._sequence = dispatch(self.scene)
            return self._sequence


T = TypeVar("T")


class _Kept(Generic[T]):
    """A few results by key, least recently used dropped; each is made once, by one thread."""

    def __init__(self, most: int) -> None:
        self._most = most
        self._kept: OrderedDict[str, T] = OrderedDict()
        self._lock = Lock()

    def get(self, key: str, make: Callable[[], T]) -> T:
        with self._lock:
            if key in self._kept:
                self._kept.move_to_end(key)
                return self._kept[key]
            made = make()
            self._kept[key] = made
            while len(self._kept) > self._most:
                self._kept.popitem(last=False)
        return made


_OUTLOOKS: _Kept[Outlook] = _Kept(48)
_JUDGED: _Kept[tuple[dict[str, tuple[Rung, ...]], tuple[Finding, ...]]] = _Kept(48)


def plan_of(build: Build) -> Plan:
    """The plan that a build stands at."""
    return read_plan(_stored(build))


def _stored(build: Build) -> Any:
    """The plan a build stands at, as stored; looked up again when it has moved on between two reads."""
    change = build.changes.filter(number=build.head).first()
    if change is None:
        fresh = Build.objects.filter(pk=build.pk).first()
        change = fresh and fresh.changes.filter(number=fresh.head).first()
        if fresh is None or change is None:
            raise UnknownName("That build is no longer here.")
        build.head, build.revision = fresh.head, fresh.revision
    return change.plan


def scene_of(build: Build, plan: Plan | None = None) -> Scene:
    """The build as the core sees it."""
    own = house(build.owner)
    core = core_set(build.layer_set, build.set_change_id)
    return Scene(core, plan or plan_of(build), own.stocks, own.inks, own.tools)


def outlook(build: Build) -> Outlook:
    """The build's scene and sequence; kept until the plan, the set or the drawer changes."""
    stored = _stored(build)
    parts = [
        build.layer_set_id,
        build.layer_set.brought.isoformat(),
        build.set_change_id,
        house(build.owner).stamp,
        stored,
    ]
    key = hashlib.sha256(json.dumps(parts, sort_keys=True).encode()).hexdigest()[:20]

    def make() -> Outlook:
        return Outlook(key, scene_of(build, read_plan(stored)))

    return _OUTLOOKS.get(key, make)


def judged(seen: Outlook) -> tuple[dict[str, tuple[Rung, ...]], tuple[Finding, ...]]:
    """Ladders and findings of an outlook."""

    def make() -> tuple[dict[str, tuple[Rung, ...]], tuple[Finding, ...]]:
        found = dict(ladders(seen.scene, seen.sequence))
        return found, advise(seen.scene, seen.sequence, found)

    return _JUDGED.get(seen.key, make)


def tryouts(build: Build, pass_key: str) -> list[Tryout]:
    """Every ink at hand in the place of a pass; raises UnknownName for a pass that is gone."""
    seen = outlook(build)
    item = seen.scene.plan.find(pass_key)
    rung = next(r for r in judged(seen)[0][item.element] if r.pass_key == pass_key)
    at_hand = house(build.owner).at_hand
    return list(try_inks(seen.scene, item, rung, [k for k in seen.scene.inks if k in at_hand]).values())


def standing_in(build: Build, ink: str, pass_key: str | None) -> tuple[Outlook, list[StandIn]]:
    """What can stand in for an ink, in one pass or the whole build; raises UnknownName where it is not used."""
    seen = outlook(build)
    plan = seen.scene.plan
    passes = [p.key for p in plan.passes if p.ink == ink] if pass_key is None else [plan.find(pass_key).key]
    own = house(build.owner)
    found = stand_ins(seen.scene, seen.sequence, judged(seen)[0], passes, sorted(own.at_hand))
    return seen, list(found)


_ASKED: OrderedDict[int, tuple[int, int | None]] = OrderedDict()
_AHEAD = ThreadPoolExecutor(max_workers=1, thread_name_prefix="ahead")
_MOST_ASKED = 64


def asked(build: Build, width: int, after: int | None) -> None:
    """Remember how a build is being looked at, for ``foresee``."""
    _ASKED[build.pk] = (width, after)
    _ASKED.move_to_end(build.pk)
    while len(_ASKED) > _MOST_ASKED:
        _ASKED.popitem(last=False)


def foresee(build: Build) -> None:
    """Begin the picture that the browser is about to ask for, while the answer is on its way to it."""
    wanted = _ASKED.get(build.pk)
    if wanted is not None:
        width, after = wanted
        _AHEAD.submit(picture, outlook(build), width, after, False)


def picture(seen: Outlook, width: int, after: int | None, wet: bool) -> Bytes:
    """The panel after so many passes of the sequence (all by default), ``width`` px wide.

    ``wet`` shows the last pass as it looks before it has dried back.
    """
    scene = seen.scene
    raster = Raster.of(scene.layer_set.width, scene.layer_set.height, width)
    count = len(seen.sequence.passes) if after is None else after
    done = seen.sequence.passes[:count]
    # plan order: passes that touch keep it in the sequence too, so the picture is the same,
    # and the next one differs from it by few layers
    passes = [p for p in scene.plan.passes if p.key in set(done)]
    layers = layers_of(scene, passes, seen.sequence.wet, raster)
    if wet and done:
        last = scene.plan.find(done[-1])
        factor = scene.ink(last).chemistry.dry_back
        fresh = layers_of(scene, [last], seen.sequence.wet, raster, factor)[0]
        layers = [fresh if p.key == last.key else layer for p, layer in zip(passes, layers, strict=True)]
    return ALBUM.picture(scene.stock, layers, raster)


@transaction.atomic
def start(owner: Any, name: str, layer_set: LayerSet, plan: Plan) -> Build:
    """A new build; the core refuses a plan that points at something missing."""
    own = house(owner)
    Scene(core_set(layer_set), plan, own.stocks, own.inks)
    build = Build.objects.create(owner=owner, name=name, layer_set=layer_set, set_change_id=layer_set.head_id)
    Change.objects.create(build=build, number=0, label="Start", plan=write_plan(plan))
    return build


def _locked(build: Build) -> Build:
    """The row as it stands inside this transaction (IMMEDIATE: nobody else is writing)."""
    row = Build.objects.get(pk=build.pk)
    row.owner = build.owner  # keeps the house that was looked up for this request
    return row


def _check(build: Build, revision: int) -> None:
    if revision != build.revision:
        last = build.changes.filter(number=build.head).first()
        raise Stale(build.revision, last.label if last else "another change")


@transaction.atomic
def edit(build: Build, revision: int, kind: str, values: dict[str, Any], edit_key: str) -> Build:
    """Apply one edit on top of ``revision``.

    Raises Stale when the build has moved on; the same ``edit_key`` twice is
    one edit, so a retry after a lost answer does no harm.
    """
    row = _locked(build)
    if edit_key and row.changes.filter(edit_key=edit_key).exists():
        return row
    _check(row, revision)
    if kind == "add_pass" and not values.get("pass"):
        values = {**values, "pass": uuid.uuid4().hex[:10]}
    if kind == "lay_recipe" and isinstance(values.get("passes"), list):
        keyed = [{"pass": uuid.uuid4().hex[:10], **p} if isinstance(p, dict) else p for p in values["passes"]]
        values = {**values, "passes": keyed}
    plan, label = apply(scene_of(row), kind, values)
    row.changes.filter(number__gt=row.head).delete()
    row.head += 1
    Change.objects.create(build=row, number=row.head, label=label, plan=write_plan(plan), edit_key=edit_key)
    if row.head >= MOST_CHANGES:
        row.changes.filter(number__lte=row.head - MOST_CHANGES).delete()
    return _moved(row)


@transaction.atomic
def undo(build: Build, revision: int) -> Build:
    """Go back one change. Raises BadValue at the beginning, Stale when the build has moved on."""
    return _step(build, revision, -1, "There is nothing to undo.")


@transaction.atomic
def redo(build: Build, revision: int) -> Build:
    """Go forward one change that was undone."""
    return _step(build, revision, 1, "There is nothing to redo.")


def _step(build: Build, revision: int, by: int, nothing: str) -> Build:
    row = _locked(build)
    _check(row, revision)
    if not row.changes.filter(number=row.head + by).exists():
        raise BadValue(nothing)
    row.head += by
    return _moved(row)


def _moved(row: Build) -> Build:
    row.revision += 1
    row.save(update_fields=["head", "revision", "updated"])
    return row


def head_json(build: Build) -> dict[str, Any]:
    """Where a build stands."""
    key = outlook(build).key
    around = {c.number: c.label for c in build.changes.filter(number__in=[build.head, build.head + 1])}
    first = build.changes.filter(number__lt=build.head).exists()
    return {
        "id": build.pk,
        "name": build.name,
        "revision": build.revision,
        "set_id": build.layer_set_id,
        "set_change": build.set_change_id or 0,
        "picture_key": key,
        "undo": around.get(build.head) if first else None,
        "redo": around.get(build.head + 1),
    }
