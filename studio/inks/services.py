"""The drawer: load rows, make core values, keep them as long as nothing changed."""

from __future__ import annotations

import hashlib
from dataclasses import asdict, dataclass, replace
from typing import Any

import orjson
from django.utils.text import slugify

from strata.formats.drawer import read_ink, read_stock
from strata.formats.tables.out import OF_INK as INK_COLUMNS
from strata.kept import Kept
from strata.optics.inks import AT_HAND
from strata.optics.inks import Ink as CoreInk
from strata.optics.stack import Stock as CoreStock
from strata.plan.tools import Tool as CoreTool
from strata.plan.tools import Tools
from studio.inks.models import Drawer, Hand, Ink, Stock, Tool

OF_INK = (*(name for name in INK_COLUMNS if name != "key"), "swatches", "learned")
OF_STOCK = (
    "name",
    "lab",
    "weight_gsm",
    "thickness_mm",
    "finish",
    "place",
    "state",
    "notes",
    "how",
    "when",
    "sheets",
)


@dataclass(frozen=True)
class House:
    """Everything a maker owns that takes or gives colour, put-away pads included.

    A build may still use a pad that was put away or has run dry; ``at_hand``
    are those that can be inked with, ``in_drawer`` all that are not put away;
    ``on_shelf`` the cards that are not. ``hands``: shares of what a hand usually lays.

    ``stamp`` changes with all of it but where things are kept and what is noted
    about them: results are kept by it, so that whoever shows a place or a note
    takes it from the house and never from a kept result.
    """

    stamp: str
    revision: int
    inks: dict[str, CoreInk]
    stocks: dict[str, CoreStock]
    at_hand: frozenset[str]
    in_drawer: frozenset[str]
    on_shelf: frozenset[str]
    tools: Tools
    hands: dict[str, float]

    @property
    def places(self) -> dict[str, str]:
        """Where pads are kept."""
        return {key: ink.place for key, ink in self.inks.items()}

    def cards(self) -> dict[str, CoreStock]:
        """The cards that are not put away."""
        return {key: stock for key, stock in self.stocks.items() if key in self.on_shelf}

    def pads(self) -> list[CoreInk]:
        """The pads that can be inked with."""
        return [ink for key, ink in self.inks.items() if key in self.at_hand]


UNUSED = ("place", "notes")
# what changes no result: where a thing is kept, and what is noted about it

_KEPT: Kept[tuple[int, int, str], House] = Kept(120_000_000, lambda own: 20_000 + 5_000 * len(own.inks))
# an ink with its swatches, their spectra and deposits


def house(owner: Any) -> House:
    """The maker's inks and stocks as core values.

    Looked up once for each owner instance, which lives as long as a request.
    """
    known: House | None = owner.__dict__.get("_house")
    if known is None:
        known = owner.__dict__["_house"] = _current(owner)
    return known


def changed(owner: Any) -> None:
    """Forget what was looked up for this request: the drawer has changed within it."""
    owner.__dict__.pop("_house", None)


def _current(owner: Any) -> House:
    row = Drawer.objects.filter(owner=owner).first() or Drawer(owner=owner, revision=0)
    return _KEPT.get((owner.pk, row.revision, row.token), lambda: _loaded(owner, row.revision))


def _loaded(owner: Any, revision: int) -> House:
    rows, stocks = list(Ink.objects.filter(owner=owner)), list(Stock.objects.filter(owner=owner))
    tools = Tools(tuple(core_tool(t) for t in Tool.objects.filter(owner=owner, gone=None)))
    hands = {h.hand: h.share for h in Hand.objects.filter(owner=owner, gone=None)}
    finishes = {row.key: row.finish for row in stocks}
    said = [[asdict(t) for t in tools.owned], hands, [[_said(row) for row in of] for of in (rows, stocks)]]
    return House(
        f"{owner.pk}:{hashlib.sha256(orjson.dumps(said)).hexdigest()[:32]}",
        revision,
        {row.key: _on_its_cards(core_ink(row), finishes) for row in rows},
        {row.key: core_stock(row) for row in stocks},
        frozenset(row.key for row in rows if row.gone is None and row.state in AT_HAND),
        frozenset(row.key for row in rows if row.gone is None),
        frozenset(row.key for row in stocks if row.gone is None),
        tools,
        hands,
    )


def _said(row: Ink | Stock) -> list[Any]:
    """Of a row everything that a result may use."""
    values = values_of(row)
    return [row.key, row.gone is not None, *(v for name, v in values.items() if name not in UNUSED)]


def _on_its_cards(ink: CoreInk, finishes: dict[str, str]) -> CoreInk:
    """An ink whose swatches know the finish of their cards: it is the card's to say, and may be found out later."""
    known = tuple(replace(s, finish=finishes.get(s.card, s.finish)) for s in ink.swatches)
    return ink if known == ink.swatches else replace(ink, swatches=known)


def core_ink(row: Ink) -> CoreInk:
    """A row as the core knows it."""
    return read_ink(row.key, values_of(row), row.key)


def values_of(row: Ink | Stock) -> dict[str, Any]:
    """A row as the drawer file writes it, but for its key."""
    if isinstance(row, Stock):
        return {name: getattr(row, name) for name in OF_STOCK}
    return {**{name: getattr(row, name) for name in OF_INK}, "cleaning": row.cleaning or None}


def core_stock(row: Stock) -> CoreStock:
    """A row as the core knows it."""
    return read_stock({**values_of(row), "key": row.key}, row.key)


def core_tool(row: Tool) -> CoreTool:
    """A row as the core knows it."""
    return CoreTool(row.brush, row.count, row.line, row.family)


def free_key(model: type[Ink] | type[Stock], owner: Any, name: str, taken: set[str] | None = None) -> str:
    """A key from a name that the maker has not used yet."""
    base = slugify(name)[:100] or "ink"
    if taken is None:
        taken = set(model.objects.filter(owner=owner, key__startswith=base).values_list("key", flat=True))
    key, number = base, 1
    while key in taken:
        number += 1
        key = f"{base}-{number}"
    return key
