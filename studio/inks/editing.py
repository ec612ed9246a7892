"""Changing the drawer: the core refuses impossible values, and every change can be undone."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

from django.db import transaction
from django.utils import timezone
from django.utils.text import slugify

from strata.errors import BadValue, UnknownName
from strata.formats.drawer import Drawer, ink_json, read_ink, read_stock, read_tool, swatch_json
from strata.formats.tables.rows import same_place
from strata.optics.inks import Ink as CoreInk
from strata.optics.inks import Swatch
from strata.optics.stack import Stock as CoreStock
from studio.inks.history import Change
from studio.inks.models import DrawerChange, Ink, Stock, Tool
from studio.inks.services import OF_INK, OF_STOCK, changed, core_ink, free_key, values_of
from studio.owned import Owned

TOGETHER = tuple(name for name in OF_INK if name not in ("name", "depth", "swatches"))
# what can be changed of many pads at once: a name and a rank belong to one


def ink_columns(ink: CoreInk) -> dict[str, Any]:
    """The columns of a row from a core value."""
    plain = {"pad": "felt", "place": "", "state": "full", "notes": "", "dry_minutes": None, "cleaning": ""}
    return {**plain, **ink_json(ink)}


def stock_columns(stock: CoreStock) -> dict[str, Any]:
    """The columns of a row from a core value."""
    return {**{name: getattr(stock, name) for name in OF_STOCK}, "lab": list(stock.lab)}


def _set(row: Owned, values: dict[str, Any]) -> None:
    for name, value in values.items():
        setattr(row, name, value)
    row.save()


@transaction.atomic
def add_ink(owner: Any, values: dict[str, Any]) -> Ink:
    """A new pad; the core refuses impossible numbers."""
    key = free_key(Ink, owner, str(values.get("name", "")))
    core = read_ink(key, values, "ink")
    change = Change(owner, f"Add {core.name}")
    row = Ink.objects.create(owner=owner, key=key, **ink_columns(core))
    change.made(row)
    change.keep()
    changed(owner)
    return row


@transaction.atomic
def change_inks(owner: Any, rows: Sequence[Ink], values: dict[str, Any]) -> list[Ink]:
    """The same values for one pad or many; one step to undo. Raises BadValue, changing nothing."""
    if not rows or not values:
        raise BadValue("Choose the pads, and what to change of them.", "inks")
    if len(rows) > 1 and not set(values) <= set(TOGETHER):
        raise BadValue("A name, a rank or a swatch belongs to one pad only.", "values")
    names = rows[0].name if len(rows) == 1 else f"{len(rows)} pads"
    change = Change(owner, f"Change {names}")
    for row in rows:
        change.will_change(row)
        merged = {**values_of(row), **{k: v for k, v in values.items() if k in OF_INK}}
        merged["cleaning"] = merged["cleaning"] or None
        _set(row, ink_columns(read_ink(row.key, merged, "ink")))
    change.keep()
    changed(owner)
    return list(rows)


@transaction.atomic
def put_away(owner: Any, rows: Sequence[Owned], what: str) -> None:
    """Put rows away; builds that use them keep them."""
    change = Change(owner, f"Put away {what}")
    for row in rows:
        change.will_change(row)
        row.gone = timezone.now()
        row.save(update_fields=["gone", "updated"])
    change.keep()
    changed(owner)


@transaction.atomic
def bring_back(owner: Any, row: Owned, what: str) -> None:
    """Bring a row back."""
    change = Change(owner, f"Bring back {what}")
    change.will_change(row)
    row.gone = None
    row.save(update_fields=["gone", "updated"])
    change.keep()
    changed(owner)


@transaction.atomic
def keep_readings(
    owner: Any, readings: Sequence[tuple[str, Swatch]], label: str, remove: Sequence[tuple[str, int]] = ()
) -> list[Ink]:
    """New readings of inks (by key): each takes the place of the one on the same card in as many coats.

    The one way by which measured colours reach a pad, whether from a reader,
    a swatch card, a value typed in, or what finished cards show.
    """
    keys = {key for key, _ in (*readings, *remove)}
    rows = {row.key: row for row in Ink.objects.filter(owner=owner, key__in=keys)}
    missing = keys - set(rows)
    if missing:
        raise UnknownName("That pad is not in the drawer any more.", "ink")
    change = Change(owner, label)
    for key, row in rows.items():
        change.will_change(row)
        core = core_ink(row)
        gone = {i for k, i in remove if k == key}
        swatches = {same_place(s): s for i, s in enumerate(core.swatches) if i not in gone}
        swatches |= {same_place(s): s for k, s in readings if k == key}
        values = {**values_of(row), "swatches": [swatch_json(s) for s in swatches.values()]}
        read_ink(key, values, "ink")
        row.swatches = values["swatches"]
        row.save()
    change.keep()
    changed(owner)
    return list(rows.values())


@transaction.atomic
def add_stock(owner: Any, values: dict[str, Any]) -> Stock:
    """A new card stock; the core refuses impossible numbers."""
    if "name" not in values:
        raise BadValue("A card needs a name.", "name")
    core = read_stock(values, "stock")
    change = Change(owner, f"Add {core.name}")
    row = Stock.objects.create(owner=owner, key=free_key(Stock, owner, core.name), **stock_columns(core))
    change.made(row)
    change.keep()
    changed(owner)
    return row


@transaction.atomic
def change_stock(owner: Any, row: Stock, values: dict[str, Any]) -> Stock:
    """Change some of a card's values."""
    change = Change(owner, f"Change {row.name}")
    change.will_change(row)
    merged = {**{n: getattr(row, n) for n in OF_STOCK}, **values}
    _set(row, stock_columns(read_stock(merged, "stock")))
    change.keep()
    changed(owner)
    return row


@transaction.atomic
def save_tool(owner: Any, values: dict[str, Any], row: Tool | None = None) -> Tool:
    """New brushes, or changed ones."""
    before = {} if row is None else {n: getattr(row, n) for n in ("brush", "count", "line", "family")}
    core = read_tool({**before, **values}, "tool")
    columns = {"brush": core.brush, "count": core.count, "line": core.line, "family": core.family}
    change = Change(owner, f"{'Add' if row is None else 'Change'} {core.brush} brushes")
    if row is None:
        row = Tool.objects.create(owner=owner, **columns)
        change.made(row)
    else:
        change.will_change(row)
        _set(row, columns)
    change.keep()
    changed(owner)
    return row


@transaction.atomic
def take_in(
    owner: Any, drawer: Drawer, label: str = "Bring in a drawer", onto: DrawerChange | None = None
) -> tuple[tuple[int, int, int], DrawerChange | None]:
    """Put a drawer's inks, stocks and tools in the house; what is known is updated, nothing doubled.

    Inks by key, stocks by name, tools by size and family. Returns the numbers
    of inks, stocks and tools, and the change that undoes it.
    """
    change = Change(owner, label)
    _inks(owner, drawer.inks, change)
    by_name = {s.name.casefold(): s for s in Stock.objects.filter(owner=owner)}
    for stock in drawer.stocks:
        row = by_name.get(stock.name.casefold())
        key = slugify(stock.name) or "card"
        _upsert(Stock, owner, change, row, {**stock_columns(stock), "key": row.key if row else key})
    kept = {(t.brush, t.line, t.family): t for t in Tool.objects.filter(owner=owner)}
    for tool in drawer.tools:
        values = {"brush": tool.brush, "count": tool.count, "line": tool.line, "family": tool.family}
        _upsert(Tool, owner, change, kept.get((tool.brush, tool.line, tool.family)), values)
    kept_change = change.keep(onto)
    changed(owner)
    return (len(drawer.inks), len(drawer.stocks), len(drawer.tools)), kept_change


def _inks(owner: Any, inks: Sequence[CoreInk], change: Change) -> None:
    known = {row.key: row for row in Ink.objects.filter(owner=owner)}
    fresh = []
    for ink in inks:
        columns = ink_columns(ink)
        row = known.get(ink.key)
        if row is None:
            fresh.append(Ink(owner=owner, key=ink.key, **columns))
        else:
            _upsert(Ink, owner, change, row, columns)
    # one by one this would be most of the time that a long list takes
    for row in Ink.objects.bulk_create(fresh):
        change.made(row)


def _upsert(model: Callable[..., Any], owner: Any, change: Change, row: Any, values: dict[str, Any]) -> None:
    if row is None:
        change.made(model.objects.create(owner=owner, **values))  # type: ignore[attr-defined]
        return
    change.will_change(row)
    before = {name: getattr(row, name) for name in values}
    if before != values or row.gone is not None:
        _set(row, {**values, "gone": None})
