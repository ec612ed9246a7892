"""How large a panel is: by the formats that cards are made in, or free."""

from __future__ import annotations

from dataclasses import dataclass

from strata.errors import BadValue, finite
from strata.sheets.model import LEAST_SIDE, MOST_SIDE
from strata.units import MM_PER_INCH

MOST_TRIM = 40.0


@dataclass(frozen=True)
class PanelSize:
    """The card that the image is made on: width and height in mm as it is cut, ``trim`` mm cut off each side later."""

    width: float
    height: float
    trim: float = 0.0

    def __post_init__(self) -> None:
        finite(self.width, "panel.width", LEAST_SIDE, MOST_SIDE)
        finite(self.height, "panel.height", LEAST_SIDE, MOST_SIDE)
        finite(self.trim, "panel.trim", 0, MOST_TRIM)
        if min(self.width, self.height) - 2 * self.trim < LEAST_SIDE:
            raise BadValue("So much trim leaves nothing of the panel.", "panel.trim")


@dataclass(frozen=True)
class Format:
    """A size that cards, sheets of stock or envelopes come in: mm upright, and in which units people know it."""

    key: str
    label: str
    width: float
    height: float
    units: str


def in_inches(key: str, label: str, width: float, height: float) -> Format:
    """A format that is known by its inches."""
    return Format(key, label, width * MM_PER_INCH, height * MM_PER_INCH, "in")


FORMATS: dict[str, Format] = {
    f.key: f
    for f in (
        in_inches("a2", "A2 card, 4 1/4 x 5 1/2 in", 4.25, 5.5),
        in_inches("5x7", "5 x 7 in", 5, 7),
        in_inches("slimline", "Slimline, 3 1/2 x 8 1/2 in", 3.5, 8.5),
        in_inches("mini-slimline", "Mini slimline, 3 1/2 x 6 in", 3.5, 6),
        in_inches("square-5", "Square, 5 1/4 in", 5.25, 5.25),
        in_inches("square-6", "Square, 6 in", 6, 6),
        Format("a6", "A6, 105 x 148 mm", 105, 148, "mm"),
        Format("dl", "DL, 99 x 210 mm", 99, 210, "mm"),
        Format("square-135", "Square, 135 mm", 135, 135, "mm"),
        Format("square-150", "Square, 150 mm", 150, 150, "mm"),
    )
}
MARGIN = MM_PER_INCH / 4
# mm that a panel is smaller than its card, both ways: one visible margin of 1/8 in


def panel_for(key: str, lying: bool = False, whole: bool = False, trim: float = 0.0) -> PanelSize:
    """The panel of a format: smaller than the card by MARGIN, or all of it (``whole``); raises BadValue."""
    if not isinstance(key, str) or key not in FORMATS:
        raise BadValue(f"“{key}” is not a format; use one of {', '.join(FORMATS)}.", "format")
    found, less = FORMATS[key], 0.0 if whole else MARGIN
    width, height = found.width - less, found.height - less
    if lying:
        width, height = height, width
    return PanelSize(round(width + 2 * trim, 4), round(height + 2 * trim, 4), trim)
