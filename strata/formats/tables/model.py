"""A table as it was read, what its columns may mean, and what came of its rows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from strata.optics.inks import Swatch

FIELDS: dict[str, str] = {
    "key": "key",
    "name": "name of the ink",
    "line": "line",
    "family": "family",
    "depth": "rank of depth",
    "chemistry": "chemistry",
    "character": "character",
    "pad": "pad type",
    "place": "place in the drawer",
    "state": "how full it is",
    "notes": "notes",
    "dry_minutes": "minutes to dry",
    "cleaning": "cleaning",
    "card": "card (by name)",
    "card_L": "card L*",
    "card_a": "card a*",
    "card_b": "card b*",
    "coats": "coats",
    "L": "L*",
    "a": "a*",
    "b": "b*",
    "X": "X (D50)",
    "Y": "Y (D50)",
    "Z": "Z (D50)",
    "hex": "hex code",
    "R": "red 0 to 255",
    "G": "green 0 to 255",
    "B": "blue 0 to 255",
    "nm": "reflectance at a wavelength",
    "how": "how it was measured",
    "when": "when it was measured",
    "spread": "spread of the readings",
    "note": "goes to the notes",
}
# what a column can be; a column that is none of these is left out
MOST_ROWS, MOST_COLUMNS = 20_000, 400


@dataclass(frozen=True)
class Table:
    """Columns by name and rows of text as they stand; ``numbers`` are their lines in the file.

    ``notes`` say in a sentence each how the file was taken.
    """

    kind: str
    columns: tuple[str, ...]
    rows: tuple[tuple[str, ...], ...]
    numbers: tuple[int, ...]
    notes: tuple[str, ...] = ()


@dataclass(frozen=True)
class Problem:
    """Why a row was not taken: its line in the file, the column's name where one is at fault, a sentence."""

    row: int
    column: str | None
    sentence: str


@dataclass(frozen=True)
class Draft:
    """One ink as a file has it: only what the file says. ``values`` as in the drawer file, without swatches."""

    rows: tuple[int, ...]
    values: Mapping[str, Any]
    swatches: tuple[Swatch, ...]


@dataclass(frozen=True)
class Interpreted:
    """What a table comes to: the inks, and the rows that could not be taken."""

    drafts: tuple[Draft, ...]
    problems: tuple[Problem, ...]
