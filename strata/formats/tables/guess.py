"""What the columns of a stranger's table are likely to be, by their names."""

from __future__ import annotations

import re
from collections.abc import Sequence

from strata.formats.tables.model import FIELDS

_WORDS: dict[str, str] = {
    "key": "key id code inkid",
    "name": "name ink inkname color colour colorname colourname pad inkpad samplename title",
    "line": "line range collection series inkline productline",
    "family": "family colorfamily colourfamily huefamily group colourgroup colorgroup",
    "depth": "depth rank level step inkdepth",
    "chemistry": "chemistry type inktype kind inkkind inkchemistry sort",
    "character": "character inkcharacter",
    "pad": "padtype format inkpadtype",
    "place": "place location drawer shelf where inkplace",
    "state": "state status condition howfull stock inkstate",
    "notes": "notes note comment comments remark remarks inknotes",
    "dry_minutes": "dryminutes dryingminutes drytime dryingtime inkdryminutes",
    "cleaning": "cleaning cleaningclass inkcleaning",
    "card": "card cardname paper cardstock substrate inkcard",
    "card_L": "cardl paperl cardlabl",
    "card_a": "carda papera cardlaba",
    "card_b": "cardb paperb cardlabb",
    "coats": "coats coat layers passes inkcoats",
    "L": "l labl lstar l* ciel cielabl lightness",
    "a": "a laba astar a* ciea cielaba",
    "b": "b labb bstar b* cieb cielabb",
    "X": "x xyzx ciex",
    "Y": "y xyzy ciey",
    "Z": "z xyzz ciez",
    "hex": "hex hexcode rgbhex html htmlcode srgb colourcode colorcode",
    "R": "r red rgbr",
    "G": "g green rgbg",
    "B": "blue rgbb",
    "how": "how method measuredby instrument inkhow",
    "when": "when date measured measuredon measuredat inkwhen",
    "spread": "spread stdde inkspread",
}
_BY_WORD = {word: field for field, words in _WORDS.items() for word in words.split()}
_WAVELENGTH = re.compile(r"(?:spectral_?|spec_?|nm_?|r_?|spectral_nm_?)?(\d{3})(?:[._]0+)?(?:_?nm)?", re.I)


def wavelength(column: str) -> float | None:
    """The wavelength in nm that a column's name tells, if it does."""
    found = _WAVELENGTH.fullmatch(column.strip())
    if found is None or not 300 <= int(found[1]) <= 900:
        return None
    return float(found[1])


def guess(columns: Sequence[str]) -> list[str]:
    """For every column what it is likely to be (a key of FIELDS), or empty; no meaning is given twice."""
    taken: set[str] = set()
    found = []
    for column in columns:
        plain = re.sub(r"[^a-z0-9*]", "", column.lower())
        field = column if column in FIELDS and column not in ("note", "nm") else _BY_WORD.get(plain, "")
        if wavelength(column) is not None:
            field = "nm"
        if field != "nm" and field in taken:
            field = ""
        taken.add(field)
        found.append(field)
    red_green = {"R", "G"} <= set(found)
    if red_green and "B" not in found and "b" in found and "L" not in found:
        # r, g, b in small letters: the last is blue, not b*
        found[found.index("b")] = "B"
    return found
