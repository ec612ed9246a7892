"""What every change to a set is made of: values that may be wrong, and the set after it."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from strata.errors import BadValue
from strata.sheets.model import LayerSet, Opening

LONGEST_NAME = 120
Values = Mapping[str, Any]


@dataclass(frozen=True)
class Edited:
    """The set after a change, and what was done."""

    layer_set: LayerSet
    label: str


def a_name(values: Values, field: str) -> str:
    """A name, spaces tidied."""
    text = values.get(field)
    if not isinstance(text, str) or not text.strip():
        raise BadValue("A name is missing.", field)
    return " ".join(text.split())[:LONGEST_NAME]


def a_number(values: Values, field: str) -> int:
    """A whole number."""
    value = values.get(field)
    if isinstance(value, bool) or not isinstance(value, int):
        raise BadValue(f"{field} must be a whole number.", field)
    return value


def chosen(layer_set: LayerSet, values: Values) -> list[Opening]:
    """The openings named in ``openings``."""
    keys = values.get("openings")
    if not isinstance(keys, Sequence) or isinstance(keys, str) or not keys:
        raise BadValue("Choose an opening first.", "openings")
    return [layer_set.opening(k) for k in dict.fromkeys(map(str, keys))]


def count(openings: Sequence[Opening]) -> str:
    """How many, in words."""
    return "an opening" if len(openings) == 1 else f"{len(openings)} openings"


def fresh_key(layer_set: LayerSet, sheet: int) -> Callable[[], str]:
    """Gives keys that no opening of the set has."""
    number = len(layer_set.openings)

    def fresh() -> str:
        nonlocal number
        while True:
            number += 1
            key = f"{sheet}.{number}"
            if key not in layer_set.openings:
                return key

    return fresh
