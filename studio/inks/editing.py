"""Changing the drawer: the core refuses impossible values, and every change can be undone.

Each function reads what it changes inside its transaction, changes only the
values it was sent, and refuses one that was decided on an old value (``seen``:
the revision of the drawer it was decided on).
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from datetime import datetime
from typing import Any

from django.utils import timezone

from strata.errors import BadValue, UnknownName
from strata.formats.drawer import ink_json, learned_json, read_ink, read_stock, read_tool, swatch_json
from strata.optics.inks import Ink as CoreInk
from strata.optics.inks import Swatch
from strata.optics.learned import AS_MEASURED, Learned
from strata.optics.stack import Stock as CoreStock
from strata.optics.swatches import named, with_readings
from studio.inks.history import KINDS, Change, R, changing, fresh, unmoved
from studio.inks.models import DrawerRow, Hand, Ink, Stock, Tool
from studio.inks.services import OF_INK, OF_STOCK, core_ink, free_key, values_of

TOGETHER = tuple(name for name in OF_INK if name not in ("name", "depth", "swatches", "learned"))
# what can be changed of many pads at once: a name and a rank belong to one
_TELL_ALIKE = ("chemistry", "dry_minutes", "cleaning")
# of two pads that are alike in these, a change that is sent comes out alike
OF_TOOL = ("brush", "count", "line", "family")


def ink_columns(ink: CoreInk) -> dict[str, Any]:
    """The columns of a row from a core value."""
    plain = {"pad": "felt", "place": "", "state": "full", "notes": "", "dry_minutes": None, "cleaning": ""}
    plain["learned"] = None
    return {**plain, **ink_json(ink)}


def stock_columns(stock: CoreStock) -> dict[str, Any]:
    """The columns of a row from a core value."""
    return {**{name: getattr(stock, name) for name in OF_STOCK}, "lab": list(stock.lab)}


def set_changed(row: DrawerRow, values: dict[str, Any]) -> None:
    """Write the values that differ, and no others."""
    differs = {name: value for name, value in values.items() if getattr(row, name) != value}
    for name, value in differs.items():
        setattr(row, name, value)
    if differs:
        row.save(update_fields=[*differs, "updated"])


def _again(owner: Any, model: type[R]) -> Callable[[str], R]:
    """What a change answers that has arrived before: the row it made."""

    def made(pk: str) -> R:
        row: R = model._default_manager.get(owner=owner, pk=int(pk))
        return row

    return made


def with_cards(owner: Any, values: dict[str, Any]) -> dict[str, Any]:
    """An ink's values, each nameless swatch on the card of the house that has exactly its card's colour."""
    cards = {s.key: (s.lab[0], s.lab[1], s.lab[2]) for s in Stock.objects.filter(owner=owner)}
    core = read_ink("ink", values, "ink")
    return {**values, "swatches": [swatch_json(named(s, cards)) for s in core.swatches]}


def add_ink(owner: Any, values: dict[str, Any], edit_key: str = "") -> Ink:
    """A new pad; the core refuses impossible numbers."""

    def make() -> Ink:
        key = free_key(Ink, owner, str(values.get("name", "")))
        core = read_ink(key, with_cards(owner, values), "ink")
        change = Change(owner, f"Add {core.name}")
        row = Ink.objects.create(owner=owner, key=key, **ink_columns(core))
        change.made(row)
        change.keep()
        return row

    return changing(owner, edit_key, make, _again(owner, Ink))


def change_inks(
    owner: Any, pks: Sequence[int], values: dict[str, Any], seen: int | None = None, edit_key: str = ""
) -> None:
    """The same values for one pad or many; one step to undo. Raises BadValue or Stale, changing nothing."""
    if not pks or not values:
        raise BadValue("Choose the pads, and what to change of them.", "inks")
    if len(pks) > 1 and not set(values) <= set(TOGETHER):
        raise BadValue("A name, a rank or a swatch belongs to one pad only.", "values")
    sent = {k: v for k, v in values.items() if k in OF_INK}

    def make() -> None:
        names, now = _columns_of(sent), timezone.now()
        rows = fresh(owner, Ink, pks, [*names, "name", *_TELL_ALIKE])
        change = Change(owner, f"Change {rows[0].name if len(rows) == 1 else f'{len(rows)} pads'}")
        known: dict[tuple[Any, ...], dict[str, Any]] = {}
        for row in rows:
            unmoved(row, sent, seen)
            change.will_change(row)
            # what is sent comes out alike for pads of one chemistry: others wait for their turn to write meanwhile
            alike = tuple(getattr(row, name) for name in _TELL_ALIKE)
            if alike not in known:
                known[alike] = _changed(owner, Ink.objects.get(pk=row.pk), sent)
            columns = known[alike]
            if any(getattr(row, name) != columns[name] for name in names):
                row.updated = now
            for name in names:
                setattr(row, name, columns[name])
        change.unwritten([*names, "updated"])
        change.keep()

    changing(owner, edit_key, make, lambda _: None)


def _changed(owner: Any, row: Ink, sent: dict[str, Any]) -> dict[str, Any]:
    """The columns of a pad with what was sent; the core refuses what cannot be."""
    merged = {**values_of(row), **sent}
    merged["cleaning"] = merged["cleaning"] or None
    if "swatches" in sent:
        merged = with_cards(owner, merged)
    return ink_columns(read_ink(row.key, merged, "ink"))


def _columns_of(sent: dict[str, Any]) -> list[str]:
    """What a sent value may change: another chemistry has other minutes and another cleaning of its own."""
    more = ("dry_minutes", "cleaning") if "chemistry" in sent else ()
    return list(dict.fromkeys((*sent, *more)))


def put_away(owner: Any, rows: Sequence[DrawerRow], what: str, edit_key: str = "") -> None:
    """Put rows away; builds that use them keep them."""

    def make() -> None:
        _put(owner, rows, f"Put away {what}", timezone.now())

    changing(owner, edit_key, make, lambda _: None)


def bring_back(owner: Any, row: DrawerRow, what: str) -> None:
    """Bring a row back."""

    def make() -> None:
        _put(owner, [row], f"Bring back {what}", None)

    changing(owner, "", make, lambda _: None)


def _put(owner: Any, rows: Sequence[DrawerRow], label: str, gone: datetime | None) -> None:
    """Rows put away, or brought back, as they stand inside this transaction."""
    change, now = Change(owner, label), timezone.now()
    for model in KINDS.values():
        pks = [row.pk for row in rows if isinstance(row, model)]
        for row in fresh(owner, model, pks, ["gone"]) if pks else ():
            change.will_change(row)
            row.gone, row.updated = gone, now
    change.unwritten(["gone", "updated"])
    change.keep()


def keep_readings(
    owner: Any,
    readings: Sequence[tuple[str, Swatch]],
    label: str,
    remove: Sequence[tuple[str, int]] = (),
    edit_key: str = "",
) -> list[Ink]:
    """New readings of inks (by key): each takes the place of the same dab's (``strata.optics.swatches``).

    The one way by which measured colours reach a pad, whether from a reader,
    a swatch card, a value typed in, or what finished cards show.
    """
    keys = {key for key, _ in (*readings, *remove)}

    def make() -> list[Ink]:
        rows = {row.key: row for row in Ink.objects.filter(owner=owner, key__in=keys)}
        if keys - set(rows):
            raise UnknownName("That pad is not in the drawer any more.", "ink")
        change = Change(owner, label)
        for key, row in rows.items():
            row.owner = owner
            change.will_change(row)
            gone = {i for k, i in remove if k == key}
            stay = [s for i, s in enumerate(core_ink(row).swatches) if i not in gone]
            swatches = with_readings(stay, [s for k, s in readings if k == key])
            values = {**values_of(row), "swatches": [swatch_json(s) for s in swatches]}
            read_ink(key, values, "ink")
            # what was learned was learned over the old readings: new ones were made by the same hand
            set_changed(row, {"swatches": values["swatches"], "learned": None})
        change.keep()
        return list(rows.values())

    return changing(owner, edit_key, make, lambda _: list(Ink.objects.filter(owner=owner, key__in=keys)))


def keep_learned(
    owner: Any, inks: Mapping[str, Learned], hands: Mapping[str, float], cards: int, label: str
) -> None:
    """What made cards say of pads (by key) and hands, over their readings; one step to undo. Pads that are gone are passed over."""

    def make() -> None:
        change = Change(owner, label)
        for row in Ink.objects.filter(owner=owner):
            row.owner = owner
            change.will_change(row)
            set_changed(row, {"learned": learned_json(inks.get(row.key, AS_MEASURED))})
        known = {h.hand: h for h in Hand.objects.filter(owner=owner)}
        for name in {*known, *hands}:
            share = hands.get(name, 1.0)
            if name in known:
                change.will_change(known[name])
                set_changed(known[name], {"share": share, "cards": cards, "gone": None})
            else:
                change.made(Hand.objects.create(owner=owner, hand=name, share=share, cards=cards))
        change.keep()

    changing(owner, "", make, lambda _: None)


def add_stock(owner: Any, values: dict[str, Any], edit_key: str = "") -> Stock:
    """A new card stock; the core refuses impossible numbers."""
    if "name" not in values:
        raise BadValue("A card needs a name.", "name")
    core = read_stock(values, "stock")

    def make() -> Stock:
        change = Change(owner, f"Add {core.name}")
        key = free_key(Stock, owner, core.name)
        row = Stock.objects.create(owner=owner, key=key, **stock_columns(core))
        change.made(row)
        change.keep()
        return row

    return changing(owner, edit_key, make, _again(owner, Stock))


def change_stock(
    owner: Any, pk: int, values: dict[str, Any], seen: int | None = None, edit_key: str = ""
) -> Stock:
    """Change some of a card's values. Raises BadValue or Stale, changing nothing."""
    sent = {k: v for k, v in values.items() if k in OF_STOCK}

    def make() -> Stock:
        (row,) = fresh(owner, Stock, [pk])
        unmoved(row, sent, seen)
        change = Change(owner, f"Change {row.name}")
        change.will_change(row)
        columns = stock_columns(read_stock({**{n: getattr(row, n) for n in OF_STOCK}, **sent}, "stock"))
        set_changed(row, {name: columns[name] for name in sent})
        change.keep()
        return row

    return changing(owner, edit_key, make, lambda _: fresh(owner, Stock, [pk])[0])


def take_sheets(owner: Any, counts: Mapping[str, int], label: str) -> dict[str, int]:
    """Sheets of card (by key) that were used up; of cards that are counted. Returns what is taken off each; one step to undo."""
    taken: dict[str, int] = {}

    def make() -> None:
        change = Change(owner, label)
        rows = Stock.objects.filter(owner=owner, key__in=counts, sheets__isnull=False)
        for row in rows:
            row.owner = owner
            change.will_change(row)
            had = row.sheets or 0
            taken[row.key] = min(had, counts[row.key])
            left = had - taken[row.key]
            set_changed(row, {"sheets": left, "state": row.state if left else "used up"})
        change.keep()

    changing(owner, "", make, lambda _: None)
    return {key: count for key, count in taken.items() if count}


def save_tool(
    owner: Any, values: dict[str, Any], pk: int | None = None, seen: int | None = None, edit_key: str = ""
) -> Tool:
    """New brushes, or changed ones (``pk``)."""
    sent = {k: v for k, v in values.items() if k in OF_TOOL}

    def make() -> Tool:
        row = None if pk is None else fresh(owner, Tool, [pk])[0]
        before = {} if row is None else {n: getattr(row, n) for n in OF_TOOL}
        core = read_tool({**before, **sent}, "tool")
        columns = {n: getattr(core, n) for n in OF_TOOL}
        change = Change(owner, f"{'Add' if row is None else 'Change'} {core.brush} brushes")
        if row is None:
            row = Tool.objects.create(owner=owner, **columns)
            change.made(row)
        else:
            unmoved(row, sent, seen)
            change.will_change(row)
            set_changed(row, columns)
        change.keep()
        return row

    return changing(owner, edit_key, make, _again(owner, Tool))
