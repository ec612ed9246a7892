"""Builds begun, colourings changed, undone, redone, copied: by the contract of ``studio.history.contract``."""

from __future__ import annotations

import uuid
from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from django.db import transaction
from django.utils import timezone

from strata.errors import BadValue, UnknownName
from strata.formats.build_file import MATERIALS, write_materials, write_passes
from strata.order.wishes import work_for
from strata.plan import Plan, Scene
from strata.plan.edits import apply
from studio.builds.looking import first_set, key_of, layout_key, remember, scene_of, stored
from studio.builds.models import Build, Change, Colouring, PlacedSet
from studio.history.contract import check, once
from studio.inks.services import house
from studio.sets.history import core_set
from studio.sets.models import LayerSet

MOST_CHANGES = 400
# of history kept a colouring
MOST_COLOURINGS = 24
FIRST = "First colouring"


@transaction.atomic
def start(owner: Any, name: str, sets: Mapping[str, LayerSet], plan: Plan) -> Colouring:
    """A new build with its first colouring; ``sets`` by the name under which the plan's things ask for them.

    The core refuses a plan that points at something missing.
    """
    own = house(owner)
    _ = Scene({k: core_set(s) for k, s in sets.items()}, plan, own.stocks, own.inks).layer_set
    build = Build.objects.create(owner=owner, name=name, materials=write_materials(plan.materials))
    for key, layer_set in sets.items():
        PlacedSet.objects.create(build=build, key=key, layer_set=layer_set, set_change_id=layer_set.head_id)
    first = Colouring.objects.create(build=build, name=FIRST)
    Change.objects.create(colouring=first, number=0, label="Start", plan=_own(plan, build))
    return first


@transaction.atomic
def begin_again(build: Build, name: str, plan: Plan, label: str) -> Colouring:
    """A build of its own with a plan that was made on another: on the same sets, as they stood for that."""
    made = Build.objects.create(owner=build.owner, name=name[:200], materials=write_materials(plan.materials))
    for placed in build.placed_sets.all():
        PlacedSet.objects.create(
            build=made, key=placed.key, layer_set_id=placed.layer_set_id, set_change_id=placed.set_change_id
        )
    first = Colouring.objects.create(build=made, name=FIRST)
    Change.objects.create(colouring=first, number=0, label=label, plan=_own(plan, made))
    return first


def _own(plan: Plan, build: Build) -> dict[str, Any]:
    """What a colouring has of its own: its passes, and the materials in which it differs from its build."""
    now = write_materials(plan.materials)
    differs = {name: now.get(name) for name in MATERIALS if now.get(name) != build.materials.get(name)}
    return {**write_passes(plan), "materials": differs}


def locked(colouring: Colouring) -> Colouring:
    """The row as it stands inside this transaction (IMMEDIATE: nobody else is writing)."""
    row = Colouring.objects.select_related("build").get(pk=colouring.pk)
    row.build.owner = colouring.build.owner  # keeps the house that was looked up for this request
    return row


def _scope(colouring: Colouring) -> str:
    return f"colouring:{colouring.pk}"


def _check(row: Colouring, revision: int) -> None:
    if revision == row.revision:
        return
    last = row.changes.filter(number=row.head).defer("plan").first()
    check(revision, row.revision, last.label if last else None, "build")


def edit(colouring: Colouring, revision: int, kind: str, values: dict[str, Any], edit_key: str) -> Colouring:
    """Apply one edit on top of ``revision``; raises Stale when the colouring has moved on."""

    def make() -> Colouring:
        row = locked(colouring)
        _check(row, revision)
        asked = _prepared(row, kind, values)  # before the scene: it may lend the build a set
        scene = scene_of(row)
        plan, label = apply(scene, kind, asked)
        if set(plan.order.pins) - set(scene.plan.order.pins):
            # an order that the craft forbids is refused with the chain that shows it
            work_for(scene.with_plan(plan), strict=True)
        row.changes.filter(number__gt=row.head).delete()
        row.head += 1
        own = _own(plan, row.build)
        remember(row, Change.objects.create(colouring=row, number=row.head, label=label[:300], plan=own))
        if row.head >= MOST_CHANGES:
            row.changes.filter(number__lte=row.head - MOST_CHANGES).delete()
        return _moved(row)

    owner = colouring.build.owner
    return once(owner, _scope(colouring), edit_key, make, lambda _: locked(colouring))


def _prepared(row: Colouring, kind: str, values: dict[str, Any]) -> dict[str, Any]:
    """An edit's values as the core takes them: sets by the plan's names for them, and keys for what is new."""
    if kind == "several" and isinstance(values.get("edits"), list):
        edits = [
            {**e, "values": _prepared(row, str(e.get("kind")), e["values"])}
            if isinstance(e, dict) and isinstance(e.get("values"), dict)
            else e
            for e in values["edits"]
        ]
        return {**values, "edits": edits}
    return _with_set(row, kind, _keyed(kind, values))


def _with_set(row: Colouring, kind: str, values: dict[str, Any]) -> dict[str, Any]:
    """A set that is laid on the panel is lent to the build as it stands now; ``set_id`` becomes the plan's name for it."""
    thing = values.get("thing")
    if kind != "add_thing" or not isinstance(thing, dict) or "set_id" not in thing:
        return values
    number = thing["set_id"]
    rows = LayerSet.objects.filter(owner=row.build.owner, gone=None).defer("geometry")
    layer_set = rows.filter(pk=number).first() if isinstance(number, int) and abs(number) < 2**62 else None
    if layer_set is None:
        raise UnknownName("That set is not in the library any more.", "set_id")
    key = f"set-{layer_set.pk}-{layer_set.head_id or 0}"
    PlacedSet.objects.get_or_create(
        build=row.build, key=key, defaults={"layer_set": layer_set, "set_change_id": layer_set.head_id}
    )
    row.build.__dict__.pop("_placed", None)
    rest = {k: v for k, v in thing.items() if k != "set_id"}
    return {**values, "thing": {"name": layer_set.name[:40], **rest, "source": key}}


def _keyed(kind: str, values: dict[str, Any]) -> dict[str, Any]:
    """New passes get a key of their own where the sender gave none."""
    if kind == "add_thing" and isinstance(values.get("thing"), dict) and not values["thing"].get("key"):
        return {**values, "thing": {**values["thing"], "key": uuid.uuid4().hex[:10]}}
    if kind in ("copy_thing", "lay_join", "touch_all", "add_job") and not values.get("key"):
        return {**values, "key": uuid.uuid4().hex[:10]}
    if kind == "add_pass" and not values.get("pass"):
        return {**values, "pass": uuid.uuid4().hex[:10]}
    if kind == "lay_recipe" and isinstance(values.get("passes"), list):
        passes = [
            {"pass": uuid.uuid4().hex[:10], **p} if isinstance(p, dict) else p for p in values["passes"]
        ]
        return {**values, "passes": passes}
    return values


def undo(colouring: Colouring, revision: int, edit_key: str = "") -> Colouring:
    """Go back one change. Raises BadValue at the beginning, Stale when the colouring has moved on."""
    return _step(colouring, revision, edit_key, -1, "There is nothing to undo.")


def redo(colouring: Colouring, revision: int, edit_key: str = "") -> Colouring:
    """Go forward one change that was undone."""
    return _step(colouring, revision, edit_key, 1, "There is nothing to redo.")


def _step(colouring: Colouring, revision: int, edit_key: str, by: int, nothing: str) -> Colouring:
    def make() -> Colouring:
        row = locked(colouring)
        _check(row, revision)
        change = row.changes.filter(number=row.head + by).first()
        if change is None:
            raise BadValue(nothing)
        row.head += by
        remember(row, change)
        return _moved(row)

    owner = colouring.build.owner
    return once(owner, _scope(colouring), edit_key, make, lambda _: locked(colouring))


def _moved(row: Colouring) -> Colouring:
    row.revision += 1
    row.save(update_fields=["head", "revision"])
    row.build.save(update_fields=["updated"])
    return row


@transaction.atomic
def rename_build(build: Build, name: str) -> Build:
    """Another name for a build."""
    row = Build.objects.get(pk=build.pk)
    row.name = name
    row.revision += 1
    row.save(update_fields=["name", "revision", "updated"])
    return row


@transaction.atomic
def copy(colouring: Colouring, name: str) -> Colouring:
    """Another colouring of the same build that begins where this one stands."""
    row = locked(colouring)
    if row.build.colourings.filter(gone=None).count() >= MOST_COLOURINGS:
        raise BadValue(f"A build can have {MOST_COLOURINGS} colourings; let one of them go first.", "name")
    made = Colouring.objects.create(build=row.build, name=name)
    Change.objects.create(colouring=made, number=0, label=f"Copy of {row.name}"[:300], plan=stored(row))
    return made


@transaction.atomic
def rename(colouring: Colouring, name: str) -> Colouring:
    """Another name for a colouring."""
    row = locked(colouring)
    row.name = name
    row.save(update_fields=["name"])
    return row


@transaction.atomic
def lay_out_others(colouring: Colouring) -> list[Colouring]:
    """Every other colouring of the build laid out as this one: each a step in its own history."""
    row = locked(colouring)
    scene = scene_of(row)
    places = {t.key: asdict(t.place) for t in scene.plan.things if t.place is not None}
    values = {"places": places, "panel": asdict(scene.layer_set.size)}
    others = Colouring.objects.filter(build=row.build, gone=None).exclude(pk=row.pk).select_related("build")
    changed = []
    for other in others:
        other.build.owner = row.build.owner
        changed.append(edit(other, other.revision, "take_layout", values, ""))
    return changed


@transaction.atomic
def let_go(colouring: Colouring) -> None:
    """Put a colouring away; the last one of a build stays."""
    row = locked(colouring)
    if not row.build.colourings.filter(gone=None).exclude(pk=row.pk).exists():
        raise BadValue("This is the build's only colouring; put the build away instead.")
    row.gone = timezone.now()
    row.save(update_fields=["gone"])


def head_json(colouring: Colouring) -> dict[str, Any]:
    """Where a colouring stands."""
    build = colouring.build
    around = {
        c.number: c.label
        for c in colouring.changes.filter(number__range=(colouring.head - 1, colouring.head + 1)).defer(
            "plan"
        )
    }
    return {**head_values(colouring, around), "name": build.name}


def head_values(colouring: Colouring, around: dict[int, str]) -> dict[str, Any]:
    """The same from the labels of the changes before, at and after its head, by number."""
    build = colouring.build
    placed = first_set(build, stored(colouring))
    return {
        "id": colouring.pk,
        "build_id": build.pk,
        "name": build.name,
        "colouring": colouring.name,
        "revision": colouring.revision,
        "set_id": placed.layer_set_id if placed else None,
        "set_change": (placed.set_change_id or 0) if placed else 0,
        "picture_key": key_of(colouring),
        "layout_key": layout_key(colouring),
        "undo": around.get(colouring.head) if colouring.head - 1 in around else None,
        "redo": around.get(colouring.head + 1),
    }
