"""A set's changes: made, undone, redone; and the set as the core knows it at any of them."""

from __future__ import annotations

from collections import OrderedDict
from threading import Lock
from typing import Any

from django.db import transaction

from strata.errors import BadValue
from strata.formats.set_file import read_set
from strata.sheets.edits import apply
from strata.sheets.model import LayerSet as CoreSet
from studio.errors import Stale
from studio.sets.models import LayerSet, SetChange

MOST_CHANGES = 2000
# a set: each is small, and none is thrown away that a build may stand on
_KEPT: OrderedDict[object, CoreSet] = OrderedDict()
_LOCK = Lock()
_MOST_KEPT = 32
HEAD = -1


def core_set(row: LayerSet, change_id: int | None = HEAD) -> CoreSet:
    """A row as the core knows it, at its head or at an earlier change (None: as brought in).

    Kept, since its measures are costly; each change is applied to the kept
    set before it.
    """
    at = row.head_id if change_id == HEAD else change_id
    stamp = (row.pk, row.brought)
    waiting: list[SetChange] = []
    parents: dict[int, SetChange] | None = None
    while True:
        found = _kept((stamp, at))
        if found is not None or at is None:
            break
        if parents is None:
            parents = {c.pk: c for c in row.changes.all()}
        waiting.append(parents[at])
        at = parents[at].parent_id
    core = found if found is not None else _keep((stamp, None), read_set(row.geometry))
    for change in reversed(waiting):
        core = _keep((stamp, change.pk), apply(core, change.kind, change.values).layer_set)
    return core


def _kept(key: object) -> CoreSet | None:
    with _LOCK:
        if key in _KEPT:
            _KEPT.move_to_end(key)
            return _KEPT[key]
    return None


def _keep(key: object, fresh: CoreSet) -> CoreSet:
    with _LOCK:
        fresh = _KEPT.setdefault(key, fresh)
        _KEPT.move_to_end(key)
        while len(_KEPT) > _MOST_KEPT:
            _KEPT.popitem(last=False)
    return fresh


def _locked(row: LayerSet, head: int | None) -> LayerSet:
    fresh = LayerSet.objects.get(pk=row.pk)
    if head != fresh.head_id:
        last = fresh.head
        raise Stale(fresh.head_id or 0, last.label if last else "another change", "set")
    return fresh


@transaction.atomic
def edit(row: LayerSet, head: int | None, kind: str, values: dict[str, Any]) -> LayerSet:
    """One change on top of ``head``. Raises Stale when the set has moved on, BadValue as the core does."""
    fresh = _locked(row, head)
    if fresh.changes.count() >= MOST_CHANGES:
        raise BadValue(
            f"This set has been changed {MOST_CHANGES} times; carry it out and bring it in afresh.", "kind"
        )
    edited = apply(core_set(fresh), kind, values)
    fresh.head = SetChange.objects.create(
        layer_set=fresh, parent_id=fresh.head_id, kind=kind, values=values, label=edited.label[:300]
    )
    key = ((fresh.pk, fresh.brought), fresh.head_id)
    # not before it is certain: a number given in a transaction that fails is given again
    transaction.on_commit(lambda: _keep(key, edited.layer_set) and None)
    fresh.save(update_fields=["head", "updated"])
    return fresh


@transaction.atomic
def undo(row: LayerSet, head: int | None) -> LayerSet:
    """Back one change."""
    fresh = _locked(row, head)
    if fresh.head is None:
        raise BadValue("There is nothing to undo.")
    fresh.head = fresh.head.parent
    fresh.save(update_fields=["head", "updated"])
    return fresh


@transaction.atomic
def redo(row: LayerSet, head: int | None) -> LayerSet:
    """Forward to the latest change made from here."""
    fresh = _locked(row, head)
    following = _next(fresh)
    if following is None:
        raise BadValue("There is nothing to redo.")
    fresh.head = following
    fresh.save(update_fields=["head", "updated"])
    return fresh


def _next(row: LayerSet) -> SetChange | None:
    return row.changes.filter(parent_id=row.head_id).last()


def head_json(row: LayerSet) -> dict[str, Any]:
    """Where a set stands."""
    following = _next(row)
    return {
        "head": row.head_id,
        "undo": row.head.label if row.head else None,
        "redo": following.label if following else None,
    }
