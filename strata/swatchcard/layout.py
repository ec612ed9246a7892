"""Where marks and fields lie on a swatch card, in mm from the top left of the paper.

The marks are squares of the 5 x 5 dictionary of S. Garrido-Jurado et al.,
"Automatic generation and detection of highly reliable fiducial markers under
occlusion", Pattern Recognition 47 (2014). Each mark's number says which card
it is on and where, so that a photograph tells the card, which way up it lies,
and which corner is missing.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from strata.errors import BadValue, TooLarge, finite

Floats = NDArray[np.float64]
Box = tuple[float, float, float, float]
# left, top, width, height

PAPERS = {"letter": (215.9, 279.4), "A4": (210.0, 297.0)}
MARK = 14.0
# mm, the black square; 7 modules of 2 mm
MARGIN = 11.0
# mm of paper outside the marks: more than printers leave white
NARROW = 6.0
# mm of paper outside the marks half-way down
MARKS_A_CARD = 6
MOST_CARDS = 166
# codes that 1000 marks allow
HEAD, FOOT = 36.0, 29.0
# mm kept free of fields at the top (title, marks) and at the foot (marks)
SIDE = 16.0
GRIDS = ((3, 4), (4, 6), (6, 8))
# columns, rows: the first that holds the fields is taken
MOST_FIELDS = 48
GUTTER, LABEL = 8.0, 7.5
# mm of bare card beside a field, and above it for its name
CORNERS = ("top left", "top right", "middle left", "middle right", "bottom left", "bottom right")


@dataclass(frozen=True)
class Field:
    """One field: passes (ink key, coats) bottom first, and what is printed beside it."""

    passes: tuple[tuple[str, int], ...]
    label: str = ""

    def __post_init__(self) -> None:
        if not 1 <= len(self.passes) <= 6:
            raise BadValue("A field takes 1 to 6 passes.", "passes")
        for _, coats in self.passes:
            finite(coats, "coats", 1, 6)


@dataclass(frozen=True)
class CardLayout:
    """A card of ``count`` fields with a code 0..165 on a paper; raises BadValue or TooLarge."""

    code: int
    count: int
    paper: str = "A4"

    def __post_init__(self) -> None:
        if self.paper not in PAPERS:
            raise BadValue(f"Paper is {' or '.join(PAPERS)}.", "paper")
        finite(self.code, "code", 0, MOST_CARDS - 1)
        if self.count < 1:
            raise BadValue("Choose the pads for the card first.", "fields")
        if self.count > MOST_FIELDS:
            raise TooLarge(f"A card has {MOST_FIELDS} fields at most, not {self.count}.", "fields")

    @property
    def size(self) -> tuple[float, float]:
        """Paper width and height, mm."""
        return PAPERS[self.paper]

    @property
    def grid(self) -> tuple[int, int]:
        """Columns and rows."""
        return next(g for g in GRIDS if g[0] * g[1] >= self.count)

    @cached_property
    def marks(self) -> dict[int, Floats]:
        """The corners (4, 2) of each mark by its number: clockwise from its own top left."""
        width, height = self.size
        right, middle, bottom = width - MARGIN - MARK, (height - MARK) / 2, height - MARGIN - MARK
        places = [(x, y) for y in (MARGIN, middle, bottom) for x in (MARGIN, right)]
        square = np.array([(0, 0), (MARK, 0), (MARK, MARK), (0, MARK)])
        # the middle marks stand in the side margins, narrower than a mark: half size
        found = {}
        for i, place in enumerate(places):
            scale = 0.5 if i in (2, 3) else 1.0
            x = {2: NARROW, 3: width - NARROW - MARK / 2}.get(i, place[0])
            found[MARKS_A_CARD * self.code + i] = scale * square + np.array([x, place[1]])
        return found

    @cached_property
    def fields(self) -> tuple[Box, ...]:
        """The box of each field, row by row."""
        columns, rows = self.grid
        width, height = self.size
        cell_w = (width - 2 * SIDE) / columns
        cell_h = (height - HEAD - FOOT) / rows
        return tuple(
            (
                SIDE + (i % columns) * cell_w + GUTTER / 2,
                HEAD + (i // columns) * cell_h + LABEL,
                cell_w - GUTTER,
                cell_h - LABEL - 3,
            )
            for i in range(self.count)
        )

    @cached_property
    def bare(self) -> tuple[Box, ...]:
        """Patches of paper that stay bare: beside every cell, and a row above the fields."""
        columns, rows = self.grid
        width, height = self.size
        cell_w = (width - 2 * SIDE) / columns
        cell_h = (height - HEAD - FOOT) / rows
        beside = [
            (SIDE + c * cell_w - 1.5, HEAD + r * cell_h + LABEL + k * (cell_h - LABEL) / 3, 3.0, 4.0)
            for r in range(rows)
            for c in range(columns + 1)
            for k in range(3)
        ]
        foot = [(SIDE + c * cell_w + cell_w / 2 - 2, height - FOOT + 2, 4.0, 3.0) for c in range(columns)]
        return tuple(beside + foot)


def code_of(mark: int) -> tuple[int, int]:
    """(card code, place 0..5) of a mark's number."""
    return divmod(mark, MARKS_A_CARD)
