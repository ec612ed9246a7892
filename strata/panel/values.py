"""Things on a panel as JSON values, read back identical."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import MISSING, asdict, fields
from typing import Any

from strata import readings
from strata.errors import BadValue, TooLarge
from strata.panel.shapes import MOST_POINTS, Shape
from strata.panel.size import PanelSize, panel_for
from strata.panel.things import MOST_THINGS, Card, Note, Place, Thing, Wear, Words

PARTS: dict[str, type[Any]] = {
    "place": Place,
    "wear": Wear,
    "card": Card,
    "words": Words,
    "note": Note,
}
# parts of a thing that are flat values of their own
MOST_SHEETS = 200


def _without_defaults(value: Any) -> dict[str, Any]:
    plain = {f.name: f.default for f in fields(value) if f.default is not MISSING}
    return {k: v for k, v in asdict(value).items() if k not in plain or v != plain[k]}


def write_thing(thing: Thing) -> dict[str, Any]:
    """A thing as JSON values, without what is as usual."""
    found = _without_defaults(thing)
    for name in (*PARTS, "shape"):
        part = getattr(thing, name)
        if part is not None:
            found[name] = _without_defaults(part)
    if thing.shape is not None and thing.shape.points:
        found["shape"]["points"] = [list(p) for p in thing.shape.points]
    if thing.shape is not None and thing.shape.elements:
        found["shape"]["elements"] = list(thing.shape.elements)
    if thing.sheets:
        found["sheets"] = list(thing.sheets)
    if thing.cards:
        found["cards"] = [{"sheet": sheet, **_without_defaults(card)} for sheet, card in thing.cards]
    return found


def read_things(value: Any) -> tuple[Thing, ...]:
    """Things from a list; raises BadValue or TooLarge."""
    items = readings.listing(value, "things")
    if len(items) > MOST_THINGS:
        raise TooLarge(f"A panel can hold {MOST_THINGS} things, not {len(items)}.", "things")
    return tuple(read_thing(item, f"things[{i}]") for i, item in enumerate(items))


def read_thing(value: Any, field: str = "thing") -> Thing:
    """One thing; raises BadValue for what it does not know."""
    item = dict(readings.mapping(value, field))
    known = {f.name for f in fields(Thing)}
    if unknown := set(item) - known:
        raise BadValue(f"A thing has no “{min(unknown)}”.", field)
    number = item.get("number", 0)
    if isinstance(number, bool) or not isinstance(number, int) or not 0 <= number <= 9999:
        raise BadValue("number must be a whole number.", f"{field}.number")
    item["number"] = number
    for name, part in PARTS.items():
        if item.get(name) is not None:
            item[name] = read_part(part, item[name], f"{field}.{name}")
    if item.get("shape") is not None:
        item["shape"] = read_shape(item["shape"], f"{field}.shape")
    item["sheets"] = read_sheets(item.get("sheets", []), f"{field}.sheets")
    item["cards"] = read_cards(item.get("cards", []), f"{field}.cards")
    for name in ("key", "kind"):
        item[name] = readings.text(readings.needed(item, name, field), f"{field}.{name}", 60)
    for name in ("name", "source", "on"):
        if not isinstance(item.get(name, ""), str):
            raise BadValue(f"{name} must be text.", f"{field}.{name}")
    if not isinstance(item.get("counter", False), bool):
        raise BadValue("counter is yes or no.", f"{field}.counter")
    return Thing(**item)


def read_part(part: type[Any], value: Any, field: str) -> Any:
    """A flat part of a thing; raises BadValue for what it does not know."""
    item = readings.mapping(value, field)
    known = {f.name for f in fields(part)}
    if unknown := set(item) - known:
        raise BadValue(f"There is no “{min(unknown)}” here.", field)
    try:
        return part(**item)
    except TypeError as error:
        raise BadValue("Something is missing here.", field) from error


def read_shape(value: Any, field: str = "shape") -> Shape:
    """A shape; raises BadValue."""
    item = dict(readings.mapping(value, field))
    points = readings.listing(item.pop("points", []), f"{field}.points")
    if len(points) > MOST_POINTS:
        raise TooLarge(f"An outline can have {MOST_POINTS} points.", f"{field}.points")
    pairs = [readings.listing(p, f"{field}.points") for p in points]
    if any(len(p) != 2 for p in pairs):
        raise BadValue("A point has two figures.", f"{field}.points")
    elements = readings.listing(item.pop("elements", []), f"{field}.elements")
    if not all(isinstance(e, str) for e in elements) or not isinstance(item.get("of", ""), str):
        raise BadValue("Parts are named.", f"{field}.elements")
    known = {f.name for f in fields(Shape)}
    if unknown := set(item) - known:
        raise BadValue(f"A shape has no “{min(unknown)}”.", field)
    try:
        return Shape(**item, points=tuple((p[0], p[1]) for p in pairs), elements=tuple(elements))
    except TypeError as error:
        raise BadValue("A shape has a kind.", field) from error


def read_sheets(value: Any, field: str) -> tuple[int, ...]:
    """Numbers of sheets, each once, in their order; raises BadValue."""
    items = readings.listing(value, field)
    if len(items) > MOST_SHEETS or not all(isinstance(n, int) and not isinstance(n, bool) for n in items):
        raise BadValue("sheets are named by their numbers.", field)
    return tuple(sorted(set(items)))


def read_cards(value: Any, field: str) -> tuple[tuple[int, Card], ...]:
    """The cards of single sheets, in the order of the sheets; raises BadValue."""
    found = []
    for entry in readings.listing(value, field):
        item = dict(readings.mapping(entry, field))
        (sheet,) = read_sheets([item.pop("sheet", None)], field)
        found.append((sheet, read_part(Card, item, field)))
    return tuple(sorted(found, key=lambda card: card[0]))


def write_size(size: PanelSize) -> dict[str, float]:
    """A panel's size as JSON values."""
    return asdict(size)


def read_size(value: Any) -> PanelSize | None:
    """A panel's size: in mm, or by ``format`` (``lying``, ``whole``); None where nothing is said."""
    if value is None:
        return None
    item: Mapping[str, Any] = readings.mapping(value, "panel")
    if "format" in item:
        if unknown := set(item) - {"format", "lying", "whole", "trim"}:
            raise BadValue(f"A format has no “{min(unknown)}”.", "panel")
        lying, whole = item.get("lying", False), item.get("whole", False)
        return panel_for(item["format"], lying is True, whole is True, item.get("trim", 0.0))
    found: PanelSize = read_part(PanelSize, item, "panel")
    return found
