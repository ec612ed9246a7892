"""Small strict readers for values out of parsed JSON: each refusal names the field."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any

from strata.errors import BadFile, BadValue

MOST_BYTES = 8_000_000


def parse(text: str | bytes) -> Any:
    """Parsed JSON; raises BadFile with one clear sentence."""
    if len(text) > MOST_BYTES:
        raise BadFile("This file is over 8 MB; that is larger than any drawer of inks.")
    try:
        return json.loads(text, parse_constant=_refuse)
    except UnicodeDecodeError as error:
        raise BadFile("This is not a text file in UTF-8.") from error
    except RecursionError as error:
        raise BadFile("This JSON is nested too deeply to be real.") from error
    except json.JSONDecodeError as error:
        where = f"line {error.lineno}, column {error.colno}"
        raise BadFile(f"This is not valid JSON: {error.msg} at {where}.") from error


def _refuse(name: str) -> None:
    raise BadFile(f"This JSON holds {name}, which is not a number.")


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
