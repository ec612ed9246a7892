"""A layer set from SVG: a sheet for each layer, each colour or each file.

Layers are an editor's layer groups, else the outermost groups; a group's
``data-name``, label or id names the sheet. ``data-element`` on a shape or a
group around it names the element, ``data-role="mark"`` sets register marks
apart.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
import shapely
from shapely import Polygon
from shapely.geometry.base import BaseGeometry

from strata.errors import BadFile, BadValue
from strata.formats.painted import Plate, pieces, plates
from strata.formats.svg import Drawing, read_drawing
from strata.formats.svg.geometry import both, union
from strata.optics.colour import lab_of_hex
from strata.optics.words import colour_words
from strata.sheets.elements import propose
from strata.sheets.model import LEAST_AREA, MOST_OPENINGS, LayerSet, Opening, Sheet

SAME_SIZE = 0.5
# mm by which the files of one set may differ in size


@dataclass(frozen=True)
class Reading:
    """The set and what the reader left out or took for granted, one sentence each."""

    layer_set: LayerSet
    left_out: tuple[str, ...]


def read(data: bytes, name: str, kind: str = "stencil", width_mm: float | None = None) -> Reading:
    """A layer set from one SVG file with a group per sheet; see ``read_files``."""
    return read_files([data], name, kind, width_mm)


def read_files(
    files: Sequence[bytes],
    name: str,
    kind: str = "stencil",
    width_mm: float | None = None,
    by: str = "layer",
    only_visible: bool = False,
    titles: Sequence[str] = (),
    opened: Callable[[], None] = lambda: None,
) -> Reading:
    """A layer set from one file, by layer or by colour, or from several with one sheet each.

    ``width_mm`` gives the size when the files do not; ``titles`` names the
    sheets of several files; ``opened`` is called when all drawings are read
    and their sheets are still to be made. Raises BadFile, TooLarge or BadValue, each with
    a sentence for the maker.
    """
    drawings, notes = _at_size(files, width_mm)
    opened()
    left_out: dict[str, None] = {}
    for drawing in drawings:
        left_out.update(dict.fromkeys(drawing.left_out))
    left_out.update(dict.fromkeys(notes))
    if len(drawings) == 1:
        found = plates(drawings[0], by, only_visible)
        left_out.update(dict.fromkeys(_missing(drawings[0], found, by)))
        sheets = _sheets([replace(p, key=_called(p.key)) for p in found])
    else:
        sheets = _sheets(
            [_whole(d, t) for d, t in zip(drawings, _titles(titles, len(drawings)), strict=True)]
        )
        if any(abs(d.width - drawings[0].width) > SAME_SIZE for d in drawings):
            left_out["The files differ in size; each lies with its top left corner on that of the first."] = (
                None
            )
    width, height = max(d.width for d in drawings), max(d.height for d in drawings)
    if not any(s.openings for s in sheets):
        raise BadValue("Nothing is painted in this drawing, so there is no opening.", "sheets")
    made = LayerSet(name, kind, round(width, 3), round(height, 3), _named_alike(sheets))
    return Reading(propose(made), tuple(left_out))


def _named_alike(sheets: Sequence[Sheet]) -> tuple[Sheet, ...]:
    """LANTERN on one sheet and lantern on another are one part: as it is written first."""
    first: dict[str, str] = {}
    for opening in (o for s in sheets for o in s.openings):
        first.setdefault(opening.element.casefold(), opening.element)
    return tuple(
        replace(s, openings=tuple(replace(o, element=first[o.element.casefold()]) for o in s.openings))
        for s in sheets
    )


def _at_size(files: Sequence[bytes], width_mm: float | None) -> tuple[list[Drawing], list[str]]:
    """The drawings, all to one scale, and what had to be taken for granted of their sizes.

    A typed width is that of the first drawing that says how large it is (of
    the first, where none does); the others are enlarged as much as that one.
    A drawing that says nothing of its size is as wide as that one.
    """
    if len(files) == 1:
        drawing = read_drawing(files[0], width_mm)
        if width_mm is None and not drawing.sized:
            raise BadFile("This drawing does not say how large it is; give its width.", "width")
        return [drawing], []
    natural = [read_drawing(data) for data in files]
    lead = next((d for d in natural if d.sized), natural[0])
    if width_mm is None and not lead.sized:
        raise BadFile("These drawings do not say how large they are; give the width of the first.", "width")
    wide = lead.natural if width_mm is None else width_mm
    found, notes = list[Drawing](), list[str]()
    for n, (data, drawing) in enumerate(zip(files, natural, strict=True), start=1):
        own = drawing.natural * wide / lead.natural if drawing.sized else wide
        found.append(drawing if abs(own - drawing.width) < 1e-9 else read_drawing(data, own))
        if not drawing.sized and drawing is not lead:
            notes.append(f"Sheet {n} does not say how large it is; it was taken to be {wide:.4g} mm wide.")
    return found, notes


def _called(key: str) -> str:
    """A sheet of one colour by the word for it, with its code: two greens are two sheets."""
    if not re.fullmatch(r"#[0-9a-f]{6}", key):
        return key
    word = colour_words(lab_of_hex(key))
    return f"{word[:1].upper()}{word[1:]} {key}"


def _missing(drawing: Drawing, found: Sequence[Plate], by: str) -> list[str]:
    """Layers of which no sheet comes."""
    if by != "layer":
        return []
    there = {p.key for p in found if not p.shape.is_empty}
    return [
        f"The layer “{name[:60]}” shows nothing (it is hidden, empty or covered) and makes no sheet."
        for name in drawing.layers
        if name not in there
    ]


def _titles(given: Sequence[str], count: int) -> list[str]:
    return [given[i] if i < len(given) and given[i].strip() else f"Sheet {i + 1}" for i in range(count)]


def _whole(drawing: Drawing, title: str) -> Plate:
    """All of one drawing as one sheet."""
    inked = union([p.shape for p in drawing.painted if not p.mark])
    return Plate(title, inked, drawing.painted, union([p.shape for p in drawing.painted if p.mark]))


def _sheets(found: Sequence[Plate]) -> tuple[Sheet, ...]:
    sheets: list[Sheet] = []
    # before anything is asked of each
    count = sum(int((shapely.area(pieces(plate.shape)) >= LEAST_AREA).sum()) for plate in found)
    if count > MOST_OPENINGS:
        raise BadValue(f"{count} openings are more than a set can have ({MOST_OPENINGS}).", "sheets")
    for plate in found:
        number = len(sheets) + 1
        openings = _openings(plate, number)
        if openings:
            marks = tuple(p for p in pieces(plate.marks) if p.area >= LEAST_AREA)
            sheets.append(Sheet(number, plate.key, openings, marks))
    return tuple(sheets)


def _openings(plate: Plate, number: int) -> tuple[Opening, ...]:
    """Openings of a sheet in the order of the file; what overlaps is one hole in the plastic.

    The part that gives most of an opening names it.
    """
    parts = [p for p in plate.parts if not p.mark]
    whole = [p for p in pieces(plate.shape) if p.area >= LEAST_AREA]
    if not whole:
        return ()
    names: list[dict[str, float]] = [{} for _ in whole]
    first = [len(parts)] * len(whole)
    at, of = shapely.STRtree([p.shape for p in parts]).query(whole, predicate="intersects")
    alone, within = (np.bincount(side) == 1 for side in (at, of))
    for i, j in zip(at.tolist(), of.tolist(), strict=True):
        # what only one part lies in is of that part, and a part that lies in one opening lies in it whole: no need to cut
        if alone[i]:
            area = whole[i].area
        else:
            area = parts[j].shape.area if within[j] else _shared(whole[i], parts[j].shape)
        if area > 1e-4 * min(whole[i].area, parts[j].shape.area):
            first[i] = min(first[i], j)
            names[i][parts[j].element] = names[i].get(parts[j].element, 0.0) + area
    order = sorted(range(len(whole)), key=lambda i: (first[i], whole[i].bounds[1], whole[i].bounds[0]))
    return tuple(
        Opening(
            f"{number}.{n}", number, max(names[i], key=names[i].__getitem__, default=""), _plain(whole[i])
        )
        for n, i in enumerate(order, start=1)
    )


def _shared(whole: Polygon, part: BaseGeometry) -> float:
    """mm2; of a large opening only what lies around the part is asked."""
    return float(both(shapely.clip_by_rect(whole, *part.bounds), part).area)


def _plain(shape: Polygon) -> Polygon:
    """The shape without points that say nothing: 0.001 mm is finer than any cutter."""
    simple = shapely.simplify(shape, 0.001)
    return simple if simple.is_valid and isinstance(simple, Polygon) and simple.area >= LEAST_AREA else shape
