"""What a trimmed panel keeps of the image, and which register marks would show on it."""

from __future__ import annotations

from dataclasses import dataclass

import shapely

from strata.errors import finite
from strata.sheets.model import LayerSet


@dataclass(frozen=True)
class Trim:
    """A panel of ``width`` x ``height`` mm, its middle ``dx``, ``dy`` mm from the set's.

    ``kept`` is the share of the inked area that stays, ``cut`` what each
    element that loses something keeps, ``marks`` the numbers of sheets whose
    marks lie on the panel.
    """

    box: tuple[float, float, float, float]
    kept: float
    cut: dict[str, float]
    marks: tuple[int, ...]

    @property
    def how(self) -> str:
        """How it came."""
        return "The inked areas of all sheets laid together, cut by the panel's outline."


def trim(layer_set: LayerSet, width: float, height: float, dx: float = 0.0, dy: float = 0.0) -> Trim:
    """Raises BadValue for a panel that is none."""
    finite(width, "width", 5, 2000)
    finite(height, "height", 5, 2000)
    finite(dx, "dx", -2000, 2000)
    finite(dy, "dy", -2000, 2000)
    x, y = layer_set.width / 2 + dx, layer_set.height / 2 + dy
    box = (x - width / 2, y - height / 2, x + width / 2, y + height / 2)
    panel = shapely.box(*box)
    areas: dict[str, list[shapely.Geometry]] = {}
    for group in layer_set.groups.values():
        areas.setdefault(group.element, []).append(group.shape)
    whole = {element: shapely.union_all(shapes) for element, shapes in areas.items()}
    kept = {element: float(shape.intersection(panel).area / shape.area) for element, shape in whole.items()}
    every = shapely.union_all(list(whole.values()))
    marks = tuple(s.number for s in layer_set.sheets if any(m.intersects(panel) for m in s.marks))
    cut = {element: share for element, share in kept.items() if share < 0.9995}
    return Trim(box, float(every.intersection(panel).area / every.area), cut, marks)
