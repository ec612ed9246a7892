"""The drawer: load rows, make core values, keep them as long as nothing changed."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import dataclass
from threading import Lock
from typing import Any

from django.db import transaction
from django.db.models import Count, Max
from django.utils.text import slugify

from strata.errors import BadValue
from strata.formats.drawer import Drawer, read_ink, read_stock, write_drawer
from strata.optics.inks import Ink as CoreInk
from strata.optics.stack import Stock as CoreStock
from studio.inks.models import Ink, Stock


@dataclass(frozen=True)
class House:
    """Everything a maker owns that takes or gives colour, put-away pads included.

    A build may still use a pad that was put away; ``at_hand`` are the others.
    """

    stamp: str
    inks: dict[str, CoreInk]
    stocks: dict[str, CoreStock]
    at_hand: frozenset[str]


_KEPT: OrderedDict[int, House] = OrderedDict()
_LOCK = Lock()
_MOST_KEPT = 32


def stamp(owner: Any) -> str:
    """Changes whenever any ink or stock of the maker does."""
    parts = []
    for model in (Ink, Stock):
        seen = model.objects.filter(owner=owner).aggregate(n=Count("pk"), at=Max("updated"))
        parts.append(f"{seen['n']}@{seen['at']}")
    return f"{owner.pk}:" + "|".join(parts)


def house(owner: Any) -> House:
    """The maker's inks and stocks as core values.

    Looked up once for each owner instance, which lives as long as a request.
    """
    known: House | None = owner.__dict__.get("_house")
    if known is None:
        known = owner.__dict__["_house"] = _current(owner)
    return known


def _current(owner: Any) -> House:
    now = stamp(owner)
    with _LOCK:
        kept = _KEPT.get(owner.pk)
    if kept is not None and kept.stamp == now:
        return kept
    rows = list(Ink.objects.filter(owner=owner))
    fresh = House(
        now,
        {row.key: core_ink(row) for row in rows},
        {row.key: core_stock(row) for row in Stock.objects.filter(owner=owner)},
        frozenset(row.key for row in rows if row.gone is None),
    )
    with _LOCK:
        _KEPT[owner.pk] = fresh
        _KEPT.move_to_end(owner.pk)
        while len(_KEPT) > _MOST_KEPT:
            _KEPT.popitem(last=False)
    return fresh


def core_ink(row: Ink) -> CoreInk:
    """A row as the core knows it."""
    return read_ink(row.key, values_of(row), row.key)


def values_of(row: Ink) -> dict[str, Any]:
    """A row as the drawer file writes it."""
    return {
        "name": row.name,
        "line": row.line,
        "family": row.family,
        "depth": row.depth,
        "character": row.character,
        "chemistry": row.chemistry,
        "swatches": row.swatches,
    }


def core_stock(row: Stock) -> CoreStock:
    """A row as the core knows it."""
    return CoreStock(tuple(row.lab), row.name, row.weight_gsm, row.thickness_mm)


def free_key(model: type[Ink] | type[Stock], owner: Any, name: str) -> str:
    """A key from a name that the maker has not used yet."""
    base = slugify(name)[:100] or "ink"
    taken = set(model.objects.filter(owner=owner, key__startswith=base).values_list("key", flat=True))
    key, number = base, 1
    while key in taken:
        number += 1
        key = f"{base}-{number}"
    return key


@transaction.atomic
def take_in(owner: Any, drawer: Drawer) -> tuple[int, int]:
    """Put a drawer's inks and stocks in the house; a known key is updated. Returns (inks, stocks)."""
    values = write_drawer(drawer)
    for key, ink in values["inks"].items():
        Ink.objects.update_or_create(owner=owner, key=key, defaults={**ink, "gone": None})
    for stock in values["stocks"]:
        Stock.objects.update_or_create(
            owner=owner, key=slugify(stock["name"]), defaults={**stock, "gone": None}
        )
    return len(values["inks"]), len(values["stocks"])


def add_ink(owner: Any, values: dict[str, Any]) -> Ink:
    """A new pad; the core refuses impossible numbers."""
    key = free_key(Ink, owner, str(values.get("name", "")))
    read_ink(key, values, "ink")
    return Ink.objects.create(owner=owner, key=key, **_columns(values))


def change_ink(row: Ink, values: dict[str, Any]) -> Ink:
    """Change some of a pad's values; the core refuses impossible numbers."""
    merged = {**values_of(row), **values}
    read_ink(row.key, merged, "ink")
    for name, value in _columns(merged).items():
        setattr(row, name, value)
    row.save()
    return row


def _columns(values: dict[str, Any]) -> dict[str, Any]:
    names = ("name", "line", "family", "depth", "character", "chemistry", "swatches")
    return {name: values[name] for name in names if name in values}


def add_stock(owner: Any, values: dict[str, Any]) -> Stock:
    """A new card stock; the core refuses impossible numbers."""
    core = read_stock(values, "stock")
    if "name" not in values:
        raise BadValue("A card needs a name.", "name")
    return Stock.objects.create(
        owner=owner,
        key=free_key(Stock, owner, core.name),
        name=core.name,
        lab=list(core.lab),
        weight_gsm=core.weight_gsm,
        thickness_mm=core.thickness_mm,
    )
