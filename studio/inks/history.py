"""Changes to the drawer that can be undone: of every row touched, what changed is kept as it was and as it became.

The drawer has one revision; each row remembers at which of them each of its
values last changed. So two changes of *different* values of one row never
stand in each other's way, and one that was decided on an old value is refused.
"""

from __future__ import annotations

import secrets
from collections.abc import Callable, Collection, Mapping, Sequence
from typing import Any, TypeVar

from django.db.models import F, QuerySet
from django.utils import timezone

from strata.errors import BadValue, UnknownName
from studio.history.contract import Stale, check, once
from studio.history.written import write
from studio.inks.models import Drawer, DrawerChange, DrawerRow, Hand, Ink, Stock, Tool
from studio.inks.services import changed

MOST_CHANGES = 200
# kept a maker
SCOPE = "drawer"
KINDS: dict[str, type[DrawerRow]] = {"ink": Ink, "stock": Stock, "tool": Tool, "hand": Hand}
WORDS = {"ink": "pad", "stock": "card", "tool": "line of brushes", "hand": "hand"}
_LEFT_OUT = ("id", "owner", "created", "updated", "touched")
R = TypeVar("R", bound=DrawerRow)
T = TypeVar("T")


def _kind(row: DrawerRow) -> str:
    return next(k for k, model in KINDS.items() if isinstance(row, model))


def _name(row: DrawerRow) -> str:
    return f"{_kind(row)}:{row.pk}"


def snapshot(row: DrawerRow) -> dict[str, Any]:
    """A row's values as JSON, those that were looked up; ``gone`` is whether it is put away."""
    out = {*_LEFT_OUT, *row.get_deferred_fields()}
    values = {f.name: getattr(row, f.name) for f in row._meta.concrete_fields if f.name not in out}
    return {**values, "gone": values["gone"] is not None}


def revision(owner: Any) -> int:
    """Where a maker's drawer stands; 0 for one that was never changed."""
    found = Drawer.objects.filter(owner=owner).values_list("revision", flat=True).first()
    return found or 0


def _moved(owner: Any) -> int:
    """The drawer one revision further."""
    token = secrets.token_hex(8)
    if not Drawer.objects.filter(owner=owner).update(revision=F("revision") + 1, token=token):
        Drawer.objects.create(owner=owner, token=token)
    changed(owner)
    return revision(owner)


def fresh(owner: Any, model: type[R], pks: Sequence[int], columns: Sequence[str] = ()) -> list[R]:
    """The rows as they stand inside this transaction, in the order asked for; raises UnknownName.

    With ``columns`` these alone are looked up: others wait for their turn to
    write while the swatches of 2,000 pads are read.
    """
    rows = {row.pk: row for row in _of(owner, model, pks, columns)}
    if len(rows) != len(set(pks)):
        raise UnknownName("Some of that is not in the drawer any more; look again.", "ids")
    for row in rows.values():
        row.owner = owner
    return [rows[pk] for pk in dict.fromkeys(pks)]


def _of(owner: Any, model: type[R], pks: Sequence[int], columns: Collection[str]) -> QuerySet[R]:
    """Rows with these columns (none: all), and with what a change of them needs to know."""
    rows = model._default_manager.filter(owner=owner, pk__in=pks)
    return rows.only(*columns, "gone", "touched") if columns else rows


def unmoved(row: DrawerRow, values: Mapping[str, Any], seen: int | None) -> None:
    """Raise Stale when one of ``values`` was changed since revision ``seen`` of the drawer (None: not asked)."""
    if seen is None:
        return
    for name in values:
        at = row.touched.get(name, 0)
        if at > seen and getattr(row, name) != values[name]:
            said = getattr(row, name)
            shown = (
                f"its {name.replace('_', ' ')} is “{said}” now"
                if isinstance(said, (str, int, float))
                else f"its {name}"
            )
            raise Stale(at, shown, WORDS[_kind(row)])


class Change:
    """Collects what a change touches. ``will_change`` before a row is changed, ``made`` for a new one."""

    def __init__(self, owner: Any, label: str) -> None:
        self.owner, self.label = owner, label
        self.before: dict[str, Any] = {}
        self._rows: dict[str, DrawerRow] = {}
        self._unwritten: list[str] = []

    def unwritten(self, names: Sequence[str]) -> None:
        """Columns that are set on the rows and are to be written with the rest, all rows at once."""
        self._unwritten = [*names]

    def will_change(self, row: DrawerRow) -> None:
        """Remember a row as it is."""
        self.before.setdefault(_name(row), snapshot(row))
        self._rows[_name(row)] = row

    def made(self, row: DrawerRow) -> None:
        """Remember that a row was not there."""
        self.before.setdefault(_name(row), None)
        self._rows[_name(row)] = row

    def keep(self, onto: DrawerChange | None = None) -> DrawerChange | None:
        """Write it down (onto the last change, which it goes on); nothing when no row came out different."""
        after = {name: snapshot(row) for name, row in self._rows.items()}
        differs = [n for n in after if after[n] != self.before[n]]
        if not differs:
            return onto
        now, names = _moved(self.owner), {n: _fields(self.before[n], after[n]) for n in differs}
        _touch([self._rows[n] for n in differs], names, now, self._unwritten)
        before, after = _parts(self.before, names), _parts(after, names)
        if onto is not None and onto == last_change(self.owner):
            onto.before, onto.after = _over(before, onto.before), _over(onto.after, after)
            onto.save(update_fields=["before", "after"])
            return onto
        DrawerChange.objects.filter(owner=self.owner, undone=True).delete()
        row = DrawerChange.objects.create(
            owner=self.owner, label=self.label[:300], before=before, after=after
        )
        old = DrawerChange.objects.filter(owner=self.owner).order_by("-pk").values_list("pk", flat=True)
        DrawerChange.objects.filter(pk__in=list(old[MOST_CHANGES:])).delete()
        return row


def _fields(before: Mapping[str, Any] | None, after: Mapping[str, Any]) -> list[str]:
    return [name for name in after if before is None or before.get(name) != after[name]]


def _parts(states: Mapping[str, Any], names: Mapping[str, Sequence[str]]) -> dict[str, Any]:
    """Of each row the values that changed, and whether it is put away; None for one that was not there."""
    return {
        name: None if states[name] is None else {f: states[name][f] for f in (*fields, "gone")}
        for name, fields in names.items()
    }


def _over(under: Mapping[str, Any], over: Mapping[str, Any]) -> dict[str, Any]:
    """Two sets of states, value by value: where both tell of one, ``over`` holds."""
    both = {n: {**under[n], **over[n]} for n in over if under.get(n) is not None and over[n] is not None}
    return {**under, **over, **both}


def _touch(
    rows: Sequence[DrawerRow], names: Mapping[str, Sequence[str]], now: int, more: Sequence[str] = ()
) -> None:
    """Note at which revision these values last changed, with one statement a kind of row; write ``more`` columns with it."""
    for model in KINDS.values():
        own = [row for row in rows if isinstance(row, model)]
        for row in own:
            row.touched = {**row.touched, **dict.fromkeys(names[_name(row)], now)}
        write(model, own, [*more, "touched"])


def _restore(owner: Any, states: Mapping[str, Any], others: Mapping[str, Any]) -> None:
    now, at = timezone.now(), _moved(owner)
    rows: list[DrawerRow] = []
    names: dict[str, list[str]] = {}
    for kind, model in KINDS.items():
        pks = [int(name.split(":")[1]) for name in states if name.startswith(f"{kind}:")]
        columns = {name for pk in pks for name in states[f"{kind}:{pk}"] or ()}
        found: list[Any] = list(_of(owner, model, pks, columns))
        for row in found:
            values, was = states[_name(row)], others.get(_name(row))
            row.updated = now
            row.gone = now if values is None or values["gone"] else None
            for name, value in (values or {}).items():
                if name != "gone":
                    setattr(row, name, value)
            names[_name(row)] = ["gone"] if values is None else _fields(was, values)
            row.touched = {**row.touched, **dict.fromkeys(names[_name(row)], at)}
        write(model, found, sorted({*columns, "gone", "updated", "touched"}))
        rows += found


def last_change(owner: Any) -> DrawerChange | None:
    """The change that undo would take back."""
    return DrawerChange.objects.filter(owner=owner, undone=False).defer("before", "after").last()


def _next(owner: Any) -> DrawerChange | None:
    return DrawerChange.objects.filter(owner=owner, undone=True).defer("before", "after").first()


def changing(owner: Any, edit_key: str, make: Callable[[], T], again: Callable[[str], T]) -> T:
    """One change to the drawer by the contract: made once for a key, in one transaction."""
    try:
        return once(owner, SCOPE, edit_key, make, again)
    finally:
        changed(owner)


def undo(owner: Any, seen: int | None = None, edit_key: str = "") -> str:
    """Take the last change back; returns its label. Raises BadValue where there is none, Stale by the contract."""
    return _step(owner, seen, edit_key, last_change, "There is nothing to undo in the drawer.", undone=True)


def redo(owner: Any, seen: int | None = None, edit_key: str = "") -> str:
    """Make the change again that was taken back last."""
    return _step(owner, seen, edit_key, _next, "There is nothing to redo in the drawer.", undone=False)


def _step(
    owner: Any,
    seen: int | None,
    edit_key: str,
    which: Callable[[Any], DrawerChange | None],
    nothing: str,
    undone: bool,
) -> str:
    def make() -> str:
        last = last_change(owner)
        check(seen, revision(owner), last.label if last else None, "drawer")
        change = which(owner)
        if change is None:
            raise BadValue(nothing)
        back, forth = change.before, change.after
        _restore(owner, back if undone else forth, forth if undone else back)
        change.undone = undone
        change.save(update_fields=["undone"])
        return change.label

    return changing(owner, edit_key, make, lambda _: "")


def history_json(owner: Any) -> dict[str, Any]:
    """What can be undone and redone, in words, and the revision to say with it."""
    back, forth = last_change(owner), _next(owner)
    return {
        "revision": revision(owner),
        "undo": back.label if back else None,
        "redo": forth.label if forth else None,
    }
