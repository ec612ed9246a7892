"""Laying things on a panel: from what a plan says to the one laid set."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from functools import lru_cache

import shapely
from shapely import MultiPolygon, Polygon
from shapely.geometry.base import BaseGeometry

from strata.errors import BadValue, UnknownName
from strata.panel.laid import FREE, GROUND, PANEL, Laid, Origin, Surface
from strata.panel.lettering import lettering
from strata.panel.shapes import drawn, polygons
from strata.panel.size import PanelSize
from strata.panel.things import BASE, IMAGE, Card, Thing
from strata.sheets.model import LayerSet, Opening, Sheet


@lru_cache(maxsize=96)
def laid_of(
    sets: tuple[tuple[str, LayerSet], ...], things: tuple[Thing, ...], size: PanelSize | None
) -> Laid:
    """The laid set of things on a panel (None: as large as the set it begins with).

    Raises UnknownName for a set that is not there, BadValue for what would lie
    on itself or carry a name twice.
    """
    return _Laying(dict(sets), things, size).laid()


class _Laying:
    def __init__(
        self, sets: Mapping[str, LayerSet], things: tuple[Thing, ...], size: PanelSize | None
    ) -> None:
        self.sets, self.things = sets, things
        self.by_key = {t.key: t for t in things}
        self.size = size or self._size_of_image()
        self.sheets: list[Sheet] = []
        self.origins: dict[int, Origin] = {}
        self.surfaces: list[Surface] = []
        self.sources: dict[str, LayerSet] = {}

    def _size_of_image(self) -> PanelSize:
        image = self.by_key.get(IMAGE)
        if image is None:
            raise BadValue("Say how large the panel is.", "panel")
        own = self.source(image)
        return PanelSize(own.width, own.height)

    def source(self, thing: Thing) -> LayerSet:
        found = self.sets.get(thing.source)
        if found is None:
            raise UnknownName(f"The set of “{thing.name or thing.source}” is not there any more.", "set")
        return found

    def laid(self) -> Laid:
        if len({t.key for t in self.things}) != len(self.things):
            raise BadValue("Two things carry the same key.", "things")
        self._free()
        for thing in self.things:
            self._surface_of(thing)  # refuses what lies on itself
            if thing.kind == "set":
                self._set(thing)
            elif thing.kind in ("words", "piece"):
                self._one_shape(thing)
        image = self.by_key.get(IMAGE)
        first = next((t for t in self.things if t.kind == "set"), None)
        kind = self.source(image or first).kind if image or first else "stencil"  # type: ignore[arg-type]
        made = Laid(
            name="panel",
            kind=kind,
            width=self.size.width,
            height=self.size.height,
            sheets=tuple(self.sheets),
            origins=self.origins,
            surfaces=tuple(self.surfaces),
            masks={t.key: self._mask(t) for t in self.things if t.kind == "mask"},
            sources=self.sources,
            places={t.key: t.place for t in self.things if t.place is not None},
            size=self.size,
        )
        self._refuse_twice(made)
        self._refuse_outside(made)
        return made

    def _refuse_outside(self, made: Laid) -> None:
        panel = shapely.box(0, 0, self.size.width, self.size.height)
        for thing in self.things:
            if thing.kind == "note" or thing.place is None:
                continue
            shapes = [made.masks[thing.key]] if thing.key in made.masks else []
            shapes += [g.shape for g in made.groups.values() if self.origins[g.sheet].thing == thing.key]
            boxes = [shapely.box(*s.bounds) for s in shapes if not s.is_empty]
            if not any(panel.intersects(b) for b in boxes):
                called = thing.name or "That"
                raise BadValue(f"{called} would lie wholly beside the panel.", "place")

    def _refuse_twice(self, made: Laid) -> None:
        owner: dict[str, str] = {}
        for group in made.groups.values():
            thing = self.origins[group.sheet].thing
            if owner.setdefault(group.element, thing) != thing:
                raise BadValue(f"There is something called “{group.element}” already.", "name")

    def _free(self) -> None:
        whole = shapely.box(0, 0, self.size.width, self.size.height)
        opening = Opening("free", FREE, GROUND, whole, "background")
        self.sheets.append(Sheet(FREE, "the bare panel", (opening,)))
        self.origins[FREE] = Origin("", FREE, "free")

    def _surface_of(self, thing: Thing) -> str:
        seen = {thing.key}
        on = thing.on
        while on:
            if on in seen:
                raise BadValue("A piece cannot lie on itself.", "on")
            seen.add(on)
            under = self.by_key.get(on)
            if under is None or under.card is None:
                raise UnknownName("That piece of card is not on the panel.", "on")
            on = under.on
        return thing.on or PANEL

    def _put(self, thing: Thing, shape: BaseGeometry, layer_set: LayerSet | None = None) -> BaseGeometry:
        if thing.place is None:
            return shape
        middle = (layer_set.width / 2, layer_set.height / 2) if layer_set else (0.0, 0.0)
        return thing.place.put(shape, middle)

    def _set(self, thing: Thing) -> None:
        layer_set = self.source(thing)
        used = set(thing.sheets) or {s.number for s in layer_set.sheets}
        if missing := used - {s.number for s in layer_set.sheets}:
            raise UnknownName(f"That set has no sheet {min(missing)}.", "sheets")
        if not all(FREE < number < BASE for number in used):
            raise BadValue(f"The sheets of a set are numbered from 1 to {BASE - 1}.", "sheets")
        if thing.counter:
            self._counter(thing, layer_set, used)
            return
        self.sources[thing.key] = layer_set
        made = [self._sheet(thing, layer_set, sheet) for sheet in layer_set.sheets if sheet.number in used]
        for number in [s.number for s in made]:
            self.origins[number] = Origin(
                thing.key, number - thing.base, layer_set.kind, self._surface_of(thing)
            )
        self.sheets.extend(made)
        self._cut(thing, layer_set.kind, made)

    def _sheet(self, thing: Thing, layer_set: LayerSet, sheet: Sheet) -> Sheet:
        if thing.key == IMAGE and thing.place is None:
            return sheet
        number = thing.base + sheet.number

        def opening(o: Opening) -> Opening:
            key = o.key if thing.key == IMAGE else f"{thing.key}.{o.key}"
            return Opening(
                key, number, thing.element(o.element), self._put(thing, o.polygon, layer_set), o.role, o
            )

        marks = tuple(self._put(thing, m, layer_set) for m in sheet.marks)
        return replace(sheet, number=number, openings=tuple(map(opening, sheet.openings)), marks=marks)

    def _counter(self, thing: Thing, layer_set: LayerSet, used: set[int]) -> None:
        """The other half of a cut: everything of the sheet's plastic that its openings leave."""
        open_there = shapely.union_all(
            [o.polygon for s in layer_set.sheets if s.number in used for o in s.openings]
        )
        half = shapely.box(0, 0, layer_set.width, layer_set.height).difference(open_there)
        self._whole(thing, self._put(thing, half, layer_set), "stencil", "background")

    def _one_shape(self, thing: Thing) -> None:
        if thing.words is not None:
            self._whole(thing, self._put(thing, lettering(thing.words)), "words", "line")
        elif thing.shape is not None:
            self._whole(thing, self._put(thing, drawn(thing.shape)), "card", "ground")

    def _whole(self, thing: Thing, area: BaseGeometry, kind: str, role: str) -> None:
        number = thing.base + 1
        name = thing.element("")
        openings = tuple(
            Opening(f"{thing.key}.{i}", number, name, p, role) for i, p in enumerate(polygons(area))
        )
        if not openings:
            raise BadValue("Nothing of that is left to be inked.", "shape")
        sheet = Sheet(number, name, openings)
        self.sheets.append(sheet)
        self.origins[number] = Origin(thing.key, 1, kind, self._surface_of(thing))
        self._cut(thing, kind, [sheet])

    def _cut(self, thing: Thing, kind: str, made: list[Sheet]) -> None:
        """The pieces of card that a thing is cut from."""
        if thing.card is not None and kind != "die-cut":
            self._piece(thing, thing.key, thing.card, made)
            return
        for sheet in made:
            card = thing.card_of(sheet.number - thing.base)
            if card is not None:
                self._piece(thing, f"{thing.key}/{sheet.number - thing.base}", card, [sheet])

    def _piece(self, thing: Thing, key: str, card: Card, sheets: list[Sheet]) -> None:
        area = shapely.union_all([o.polygon for s in sheets for o in s.openings])
        if card.allowance > 0:
            area = shapely.buffer(area, card.allowance, quad_segs=8)
            area = shapely.union_all([Polygon(p.exterior) for p in polygons(area)])
        outline = MultiPolygon(polygons(area))
        numbers = tuple(s.number for s in sheets)
        self.surfaces.append(Surface(key, thing.key, outline, card, numbers, self._surface_of(thing)))
        for number in numbers:
            self.origins[number] = replace(self.origins[number], surface=key)

    def _mask(self, thing: Thing) -> MultiPolygon:
        shape = thing.shape
        if shape is None:
            raise BadValue("A mask has a shape.", "shape")
        if shape.kind not in ("part", "sheet"):
            return MultiPolygon(polygons(self._put(thing, drawn(shape))))
        area = self._taken(shape.of, shape.elements, whole_sheet=shape.kind == "sheet")
        if shape.allowance:
            area = shapely.buffer(area, shape.allowance, quad_segs=8)
        place = thing.place
        if place is not None and (place.x or place.y or place.turn or place.mirrored):
            centre = shapely.centroid(area)
            moved = replace(place, x=place.x + centre.x, y=place.y + centre.y)
            area = moved.put(area, (centre.x, centre.y))
        return MultiPolygon(polygons(area))

    def _taken(self, key: str, elements: tuple[str, ...], whole_sheet: bool) -> BaseGeometry:
        """What a mask covers that is cut from a part of a set, or is the plastic of its sheets."""
        if key not in self.by_key:
            raise UnknownName("What this mask is cut from is not on the panel any more.", "shape.of")
        wanted = [
            o.polygon
            for s in self.sheets
            if self.origins[s.number].thing == key
            for o in s.openings
            if o.role != "waste" and (not elements or o.element in elements)
        ]
        if not wanted:
            raise UnknownName("What this mask is cut from is not on the panel any more.", "shape.of")
        area = shapely.union_all(wanted)
        if whole_sheet:
            thing = self.by_key[key]
            frame: BaseGeometry = shapely.box(0, 0, self.size.width, self.size.height)
            if thing.kind == "set":
                own = self.source(thing)
                frame = self._put(thing, shapely.box(0, 0, own.width, own.height), own)
            return frame.difference(area)
        return shapely.union_all([Polygon(p.exterior) for p in polygons(area)])
