"""A whole drawer taken in: what is known is updated, nothing doubled."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from django.utils.text import slugify

from strata.formats.drawer import Drawer
from strata.optics.colour import Lab
from strata.optics.inks import Ink as CoreInk
from strata.optics.swatches import named
from studio.inks.editing import ink_columns, set_changed, stock_columns
from studio.inks.history import Change, changing
from studio.inks.models import DrawerChange, Ink, Stock, Tool


def take_in(
    owner: Any, drawer: Drawer, label: str = "Bring in a drawer", onto: DrawerChange | None = None
) -> tuple[tuple[int, int, int], DrawerChange | None]:
    """Put a drawer's inks, stocks and tools in the house.

    Inks by key, stocks by name, tools by size and family. Swatches follow the
    cards: to the key that a card of the file has in the house, and a nameless
    one to the card of exactly its colour. Returns the numbers of inks, stocks
    and tools, and the change that undoes it.
    """

    def make() -> DrawerChange | None:
        change = Change(owner, label)
        keys = _stocks(owner, drawer, change)
        cards = {s.key: (s.lab[0], s.lab[1], s.lab[2]) for s in Stock.objects.filter(owner=owner)}
        _inks(owner, [_on_our_cards(ink, keys, cards) for ink in drawer.inks], change)
        kept = {(t.brush, t.line, t.family): t for t in Tool.objects.filter(owner=owner)}
        for tool in drawer.tools:
            values = {"brush": tool.brush, "count": tool.count, "line": tool.line, "family": tool.family}
            _upsert(Tool, owner, change, kept.get((tool.brush, tool.line, tool.family)), values)
        return change.keep(onto)

    done = changing(owner, "", make, lambda _: onto)
    return (len(drawer.inks), len(drawer.stocks), len(drawer.tools)), done


def _stocks(owner: Any, drawer: Drawer, change: Change) -> dict[str, str]:
    """Take the cards in; the key that each card of the file has in the house."""
    by_name = {s.name.casefold(): s for s in Stock.objects.filter(owner=owner)}
    taken = {s.key for s in by_name.values()}
    keys = {}
    for stock in drawer.stocks:
        row = by_name.get(stock.name.casefold())
        base = slugify(stock.name) or "card"
        key, number = base, 1
        while row is None and key in taken:
            number += 1
            key = f"{base}-{number}"
        key = row.key if row else key
        taken.add(key)
        keys[stock.key or base] = key
        _upsert(Stock, owner, change, row, {**stock_columns(stock), "key": key})
    return keys


def _on_our_cards(ink: CoreInk, keys: Mapping[str, str], cards: Mapping[str, Lab]) -> CoreInk:
    swatches = [replace(s, card=keys.get(s.card, s.card if s.card in cards else "")) for s in ink.swatches]
    return replace(ink, swatches=tuple(named(s, cards) for s in swatches))


def _inks(owner: Any, inks: Sequence[CoreInk], change: Change) -> None:
    known = {row.key: row for row in Ink.objects.filter(owner=owner)}
    new = []
    for ink in inks:
        columns = ink_columns(ink)
        row = known.get(ink.key)
        if row is None:
            new.append(Ink(owner=owner, key=ink.key, **columns))
        else:
            _upsert(Ink, owner, change, row, columns)
    # one by one this would be most of the time that a long list takes
    for row in Ink.objects.bulk_create(new):
        change.made(row)


def _upsert(model: Any, owner: Any, change: Change, row: Any, values: dict[str, Any]) -> None:
    if row is None:
        change.made(model.objects.create(owner=owner, **values))
        return
    change.will_change(row)
    set_changed(row, {**values, "gone": None})
