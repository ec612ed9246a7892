"""Small strict readers for values out of parsed JSON: each refusal names the field."""

from __future__ import annotations

import json
import math
from collections.abc import Mapping
from typing import Any

from strata.errors import BadFile, BadValue

MOST_BYTES = 8_000_000


def parse(text: str | bytes, most: int = MOST_BYTES) -> Any:
    """Parsed JSON that can be kept and written again; raises BadFile with one clear sentence.

    Refused with it: half of a surrogate pair (no UTF-8 can hold it), numbers
    past what a float holds, and numbers of thousands of digits.
    """
    if len(text) > most:
        raise BadFile(f"This file is over {most // 1_000_000} MB, more than is read.")
    try:
        found = json.loads(text, parse_constant=_refuse, parse_float=_float)
    except UnicodeDecodeError as error:
        raise BadFile("This is not a text file in UTF-8.") from error
    except RecursionError as error:
        raise BadFile("This JSON is nested too deeply to be real.") from error
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise BadFile(f"This is not valid JSON: {error.msg} at {where}.") from error
    except ValueError as error:  # Python's own limit on the digits of a whole number
        raise BadFile("This JSON holds a number too long to be real.") from error
    # halves of pairs come only from \u escapes: the text itself was UTF-8
    escaped = rb"\u" in text if isinstance(text, bytes) else r"\u" in text
    if escaped:
        _refuse_halves(found)
    return found


def not_newer(top: Mapping[str, Any], known: int) -> None:
    """Raises BadFile for a file of a later version of its format than the ``known`` one; none at all is the first."""
    version = top.get("version", 1)
    if isinstance(version, (int, float)) and not isinstance(version, bool) and version > known:
        raise BadFile(
            "This file was written by a newer Anastrata. Bring this one up to date first.", "version"
        )


def _refuse(name: str) -> None:
    raise BadFile(f"This JSON holds {name}, which is not a number.")


def _float(digits: str) -> float:
    value = float(digits)
    if math.isinf(value):
        raise BadFile(f"This JSON holds {digits[:20]}, a number too large to be real.")
    return value


def _refuse_halves(value: Any) -> None:
    queue = [value]
    while queue:
        item = queue.pop()
        if isinstance(item, dict):
            queue += [*item.keys(), *item.values()]
        elif isinstance(item, list):
            queue += item
        elif isinstance(item, str):
            try:
                item.encode()
            except UnicodeEncodeError:
                raise BadFile("This JSON holds half of a character, which cannot be kept.") from None


def mapping(value: Any, field: str) -> Mapping[str, Any]:
    """``value`` as an object; raises BadValue naming the field."""
    if not isinstance(value, dict):
        raise BadValue(f"{field} must be an object with named values.", field)
    return value


def listing(value: Any, field: str) -> list[Any]:
    """``value`` as a list; raises BadValue naming the field."""
    if not isinstance(value, list):
        raise BadValue(f"{field} must be a list.", field)
    return value


def text(value: Any, field: str, longest: int = 200) -> str:
    """``value`` as non-empty text; raises BadValue naming the field."""
    if not isinstance(value, str) or not value.strip():
        raise BadValue(f"{field} must be a name.", field)
    if len(value) > longest:
        raise BadValue(f"{field} is longer than {longest} characters.", field)
    return value.strip()


def needed(source: Mapping[str, Any], key: str, field: str) -> Any:
    """The value under ``key``; raises BadValue when it is missing."""
    if key not in source:
        raise BadValue(f"{field}.{key} is missing.", f"{field}.{key}")
    return source[key]
