"""Several photographs of one sheet: put together, and taken apart again."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from strata.errors import BadValue, TooLarge

MOST_TOGETHER = 4
# photographs of one sheet
Sheet = dict[str, Any]
_OWN = ("result", "dropped", "retouches", "corners", "level")
# what is known of a sheet by one photograph


def files_of(sheet: Sheet) -> list[int]:
    """The further photographs that are read with the sheet's own."""
    return [other["file"] for other in sheet.get("together", [])]


def put_together(sheet: Sheet, others: Sequence[Sheet]) -> Sheet:
    """The sheet with more photographs of it; as they were before stays with it, for when they are taken apart.

    Openings are found anew, so that what was mended or left out goes. Raises TooLarge.
    """
    flat = [one for other in others for one in ({**other, "together": []}, *other.get("together", []))]
    together = [*sheet.get("together", []), *flat]
    if len(together) >= MOST_TOGETHER:
        raise TooLarge(f"{MOST_TOGETHER} photographs of one sheet are enough.", "sheets")
    alone = sheet.get("alone") or {k: sheet[k] for k in _OWN if k in sheet}
    return {**sheet, "together": together, "alone": alone, "dropped": [], "retouches": []}


def taken_apart(sheet: Sheet) -> list[Sheet]:
    """The sheet by its own photograph, then the further ones as sheets of their own."""
    others = sheet.get("together", [])
    if not others:
        return [sheet]
    return [{**{k: v for k, v in sheet.items() if k not in ("together", "alone")}, **sheet["alone"]}, *others]


def as_said(sheets: Sequence[Sheet], said: Sequence[dict[str, Any]]) -> list[tuple[dict[str, Any], Sheet]]:
    """What is said of each sheet with that sheet, in the order of use: further photographs are put to it, or taken from it.

    Every sheet is named once, by its place ``at`` or among another's ``also``. Raises BadValue and TooLarge.
    """
    named = [at for s in said for at in (s["at"], *s.get("also", []))]
    if sorted(named) != list(range(len(sheets))):
        raise BadValue("Give every sheet once.", "sheets")
    found: list[tuple[dict[str, Any], Sheet]] = []
    for one in said:
        own = {k: v for k, v in one.items() if k not in ("at", "also", "apart")}
        sheet = sheets[one["at"]]
        if one.get("also"):
            # what is chosen of a reading that is about to be another one means nothing
            own = {k: v for k, v in own.items() if k not in ("dropped", "retouches")}
            found.append((own, put_together(sheet, [sheets[at] for at in one["also"]])))
        elif one.get("apart"):
            own = {k: v for k, v in own.items() if k not in ("dropped", "retouches")}
            first, *others = taken_apart(sheet)
            found += [(own, first), *(({}, other) for other in others)]
        else:
            found.append((own, sheet))
    return found
