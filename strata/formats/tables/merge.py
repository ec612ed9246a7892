"""What is brought in against what is there: new, changed, or the same."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from strata.errors import StrataError
from strata.formats.drawer import ink_json, read_ink, swatch_json
from strata.formats.tables.model import Draft, Problem
from strata.optics.inks import Ink
from strata.optics.swatches import with_readings


@dataclass(frozen=True)
class Match:
    """A draft with what it makes of the drawer: ``key`` of the ink it changes (None: a new one), the whole ink."""

    draft: Draft
    key: str | None
    ink: Ink
    changed: bool


def matched(
    drafts: Sequence[Draft], drawer: Mapping[str, Ink], chemistry: str = "dye"
) -> tuple[list[Match], list[Problem]]:
    """Each draft on top of the ink it means: by its key, else by line and name.

    A draft that cannot make an ink (no colour, and none known) is a problem of its rows.
    """
    by_name = {(i.line.casefold(), i.name.casefold()): k for k, i in reversed(list(drawer.items()))}
    by_bare_name = {i.name.casefold(): k for k, i in reversed(list(drawer.items()))}
    found, problems = [], []
    for draft in drafts:
        key = draft.values.get("key")
        name = str(draft.values.get("name", "")).casefold()
        if key not in drawer:
            line = draft.values.get("line")
            key = by_bare_name.get(name) if line is None else by_name.get((str(line).casefold(), name))
        own = drawer.get(key) if key else None
        try:
            found.append(_on_top(draft, own, chemistry))
        except StrataError as error:
            sentence = error.sentence
            if own is None and not draft.swatches:
                sentence = (
                    f"“{draft.values.get('name')}” is not in the drawer yet, and no colour is given for it."
                )
            problems += [Problem(row, None, sentence) for row in draft.rows]
    return found, problems


def _on_top(draft: Draft, own: Ink | None, chemistry: str) -> Match:
    before: dict[str, Any] = {} if own is None else ink_json(own)
    said = {k: v for k, v in draft.values.items() if k != "key"}
    if own is not None and own.notes and said.get("notes") and said["notes"] not in own.notes:
        # a note of the maker's is never written over
        said["notes"] = f"{own.notes}\n{said['notes']}"
    elif own is not None and own.notes:
        said.pop("notes", None)
    swatches = with_readings(own.swatches if own else (), draft.swatches)
    merged = {"chemistry": chemistry, **before, **said}
    merged["swatches"] = [swatch_json(s) for s in swatches]
    ink = read_ink(own.key if own else str(draft.values.get("key") or draft.values["name"]), merged, "ink")
    return Match(draft, own.key if own else None, ink, own is None or ink_json(ink) != ink_json(own))
