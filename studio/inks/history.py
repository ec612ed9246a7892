"""Changes to the drawer that can be undone: every row touched is kept as it was and as it became."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from strata.errors import BadValue
from studio.inks.models import DrawerChange, Ink, Stock, Tool
from studio.owned import Owned

MOST_CHANGES = 200
# kept a maker
KINDS: dict[str, type[Owned]] = {"ink": Ink, "stock": Stock, "tool": Tool}
_LEFT_OUT = ("id", "owner", "created", "updated")


def _name(row: Owned) -> str:
    kind = next(k for k, model in KINDS.items() if isinstance(row, model))
    return f"{kind}:{row.pk}"


def snapshot(row: Owned) -> dict[str, Any]:
    """A row's values as JSON; ``gone`` is whether it is put away."""
    values = {f.name: getattr(row, f.name) for f in row._meta.concrete_fields if f.name not in _LEFT_OUT}
    return {**values, "gone": values["gone"] is not None}


class Change:
    """Collects what a change touches. ``will_change`` before a row is changed, ``made`` for a new one."""

    def __init__(self, owner: Any, label: str) -> None:
        self.owner, self.label = owner, label
        self.before: dict[str, Any] = {}
        self._rows: dict[str, Owned] = {}

    def will_change(self, row: Owned) -> None:
        """Remember a row as it is."""
        self.before.setdefault(_name(row), snapshot(row))
        self._rows[_name(row)] = row

    def made(self, row: Owned) -> None:
        """Remember that a row was not there."""
        self.before.setdefault(_name(row), None)
        self._rows[_name(row)] = row

    def keep(self, onto: DrawerChange | None = None) -> DrawerChange | None:
        """Write it down (onto a change begun before); nothing when no row came out different."""
        after = {name: snapshot(row) for name, row in self._rows.items()}
        differs = [n for n in after if after[n] != self.before[n]]
        before, after = {n: self.before[n] for n in differs}, {n: after[n] for n in differs}
        if onto is not None:
            onto.before, onto.after = {**before, **onto.before}, {**onto.after, **after}
            onto.save(update_fields=["before", "after"])
            return onto
        if not differs:
            return None
        DrawerChange.objects.filter(owner=self.owner, undone=True).delete()
        row = DrawerChange.objects.create(
            owner=self.owner, label=self.label[:300], before=before, after=after
        )
        old = DrawerChange.objects.filter(owner=self.owner).order_by("-pk").values_list("pk", flat=True)
        DrawerChange.objects.filter(pk__in=list(old[MOST_CHANGES:])).delete()
        return row


def _restore(states: dict[str, Any]) -> None:
    now = timezone.now()
    for name, values in states.items():
        kind, pk = name.split(":")
        rows = KINDS[kind]._default_manager.filter(pk=int(pk))  # type: ignore[attr-defined]
        if values is None:
            rows.update(gone=now, updated=now)
        else:
            rows.update(**{**values, "gone": now if values["gone"] else None, "updated": now})


def last_change(owner: Any) -> DrawerChange | None:
    """The change that undo would take back."""
    return DrawerChange.objects.filter(owner=owner, undone=False).last()


def _next(owner: Any) -> DrawerChange | None:
    return DrawerChange.objects.filter(owner=owner, undone=True).first()


@transaction.atomic
def undo(owner: Any) -> str:
    """Take the last change back; returns its label. Raises BadValue where there is none."""
    change = last_change(owner)
    if change is None:
        raise BadValue("There is nothing to undo in the drawer.")
    _restore(change.before)
    change.undone = True
    change.save(update_fields=["undone"])
    return change.label


@transaction.atomic
def redo(owner: Any) -> str:
    """Make the change again that was taken back last."""
    change = _next(owner)
    if change is None:
        raise BadValue("There is nothing to redo in the drawer.")
    _restore(change.after)
    change.undone = False
    change.save(update_fields=["undone"])
    return change.label


def history_json(owner: Any) -> dict[str, Any]:
    """What can be undone and redone, in words."""
    back, forth = last_change(owner), _next(owner)
    return {"undo": back.label if back else None, "redo": forth.label if forth else None}
