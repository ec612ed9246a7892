"""A set's changes: made, undone, redone; and the set as the core knows it at any of them."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any
from weakref import WeakValueDictionary

import orjson
from django.db import transaction

from strata.errors import BadValue
from strata.formats.set_file import read_set
from strata.kept import Kept
from strata.sheets.asked import as_asked, refuse_slips
from strata.sheets.edits import apply
from strata.sheets.model import LayerSet as CoreSet
from studio.history.contract import check, once
from studio.sets.models import LayerSet, SetChange

MOST_CHANGES = 2000
# a set: each is small, and none is thrown away that a build may stand on
HEAD = -1


@dataclass(frozen=True)
class _Standing:
    """A set as the core knows it, and a digest of what it came from: the drawing and the changes since."""

    core: CoreSet
    content: str


_KEPT: Kept[object, _Standing] = Kept(400_000_000, lambda kept: 4_000 * len(kept.core.openings) + 50_000)
# an opening with its polygon, measures and outline; each is small, and none is let go that a build may stand on
_SAME: WeakValueDictionary[str, CoreSet] = WeakValueDictionary()
# a class works with one set: what is measured on it is measured once, whoever's it is


def _standing(content: bytes, make: Callable[[], CoreSet]) -> _Standing:
    digest = hashlib.sha256(content).hexdigest()
    core = _SAME.get(digest)
    return _Standing(_SAME.setdefault(digest, make()) if core is None else core, digest)


def core_set(row: LayerSet, change_id: int | None = HEAD) -> CoreSet:
    """A row as the core knows it, at its head or at an earlier change (None: as brought in).

    Kept, since its measures are costly; each change is applied to the kept
    set before it. Rows of the same content are one and the same set.
    """
    return _stood(row, change_id).core


def _stood(row: LayerSet, change_id: int | None = HEAD) -> _Standing:
    at = row.head_id if change_id == HEAD else change_id
    stamp = (row.pk, row.key, row.edition)
    waiting: list[SetChange] = []
    parents: dict[int, SetChange] | None = None
    found = _KEPT.seen((stamp, at))
    while found is None and at is not None:
        if parents is None:
            parents = {c.pk: c for c in row.changes.all()}
        waiting.append(parents[at])
        at = parents[at].parent_id
        found = _KEPT.seen((stamp, at))
    if found is None:
        found = _KEPT.get((stamp, None), lambda: _brought_in(row.geometry))
    for change in reversed(waiting):
        found = _KEPT.put((stamp, change.pk), _changed(found, change.kind, change.values))
    return found


def _changed(before: _Standing, kind: str, values: dict[str, Any]) -> _Standing:
    return _standing(_after(before, kind, values), lambda: apply(before.core, kind, values).layer_set)


def _brought_in(geometry: dict[str, Any]) -> _Standing:
    # two megabytes and more: orjson writes them in a tenth of the time
    return _standing(orjson.dumps(geometry, option=orjson.OPT_SORT_KEYS), lambda: read_set(geometry))


def _after(before: _Standing, kind: str, values: dict[str, Any]) -> bytes:
    # not by orjson: what somebody sent may hold numbers beyond 64 bits
    return json.dumps([before.content, kind, values], sort_keys=True).encode()


def _locked(row: LayerSet, revision: int | None) -> LayerSet:
    # its drawing is as large as all else, and seldom asked for: it is kept
    fresh = LayerSet.objects.select_related("head").defer("geometry").get(pk=row.pk)
    check(revision, fresh.revision, fresh.head.label if fresh.head else None, "set")
    return fresh


def _scope(row: LayerSet) -> str:
    return f"set:{row.pk}"


def _moved(fresh: LayerSet, head: SetChange | None) -> LayerSet:
    fresh.head = head
    fresh.revision += 1
    fresh.summary = None
    fresh.save(update_fields=["head", "revision", "summary", "updated"])
    return fresh


def edit(
    row: LayerSet, revision: int | None, kind: str, values: dict[str, Any], edit_key: str = ""
) -> LayerSet:
    """One change on top of ``revision``. Raises Stale when the set has moved on, BadValue as the core does."""
    return once(
        row.owner,
        _scope(row),
        edit_key,
        lambda: _edited(row, revision, kind, values),
        lambda _: _locked(row, None),
    )


def _edited(row: LayerSet, revision: int | None, kind: str, values: dict[str, Any]) -> LayerSet:
    fresh = _locked(row, revision)
    if fresh.changes.count() >= MOST_CHANGES:
        raise BadValue(
            f"This set has been changed {MOST_CHANGES} times; carry it out and bring it in afresh.", "kind"
        )
    before = _stood(fresh)
    values = as_asked(before.core, kind, values)
    edited = apply(before.core, kind, values)
    refuse_slips(before.core, edited.layer_set)
    change = SetChange.objects.create(
        layer_set=fresh, parent_id=fresh.head_id, kind=kind, values=values, label=edited.label[:300]
    )
    key = ((fresh.pk, fresh.key, fresh.edition), change.pk)
    # not before it is certain: a number given in a transaction that fails is given again
    after = _standing(_after(before, kind, values), lambda: edited.layer_set)
    transaction.on_commit(lambda: _KEPT.put(key, after) and None)
    return _moved(fresh, change)


def undo(row: LayerSet, revision: int | None, edit_key: str = "") -> LayerSet:
    """Back one change."""

    def make() -> LayerSet:
        fresh = _locked(row, revision)
        if fresh.head is None:
            raise BadValue("There is nothing to undo.")
        return _moved(fresh, fresh.head.parent)

    return once(row.owner, _scope(row), edit_key, make, lambda _: _locked(row, None))


def redo(row: LayerSet, revision: int | None, edit_key: str = "") -> LayerSet:
    """Forward to the latest change made from here."""

    def make() -> LayerSet:
        fresh = _locked(row, revision)
        following = _next(fresh)
        if following is None:
            raise BadValue("There is nothing to redo.")
        return _moved(fresh, following)

    return once(row.owner, _scope(row), edit_key, make, lambda _: _locked(row, None))


def _next(row: LayerSet) -> SetChange | None:
    return row.changes.filter(parent_id=row.head_id).last()


def head_json(row: LayerSet) -> dict[str, Any]:
    """Where a set stands."""
    following = _next(row)
    return {
        "head": row.head_id,
        "revision": row.revision,
        "undo": row.head.label if row.head else None,
        "redo": following.label if following else None,
    }
