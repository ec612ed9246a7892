"""What the schema says of every operation without its view repeating it: the refusals that any of them can give."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from drf_spectacular.types import OpenApiTypes

SAID = {
    "400": "It could not be read, or a value is not possible.",
    "401": "Nobody is signed in.",
    "403": "The request could not be trusted.",
    "404": "It is not here, or it is not yours.",
    "405": "That cannot be done at this address.",
    "406": "It cannot be answered in that form.",
    "409": "It was changed elsewhere meanwhile.",
    "413": "It is more than can be sent or read at once.",
    "414": "The address is too long; said before anything of ours is asked.",
    "415": "It was sent in a form that is not read here.",
    "500": "A fault of ours.",
    "507": "The disk is full.",
}
ALWAYS = ("400", "401", "403", "404", "405", "406", "414", "500")
CHANGING = ("409", "413", "415", "507")
_REF = {"application/json": {"schema": {"$ref": "#/components/schemas/Error"}}}


def files(kinds: Iterable[str]) -> dict[Any, Any]:
    """The responses of an address that gives a file, by its media types: JSON is told as what it is, not as bytes."""
    return {
        (200, kind): OpenApiTypes.OBJECT if kind == "application/json" else OpenApiTypes.BINARY
        for kind in sorted(set(kinds))
    }


def document_refusals(result: dict[str, Any], **_: Any) -> dict[str, Any]:
    """Give every operation the refusals that any request can meet, each in the one shape."""
    for operations in result["paths"].values():
        for method, operation in operations.items():
            codes = ALWAYS if method == "get" else (*ALWAYS, *CHANGING)
            for code in codes:
                ours: dict[str, Any] = {} if code == "414" else {"content": _REF}
                answer = operation["responses"].setdefault(code, ours)
                answer["description"] = answer.get("description") or SAID[code]
    return result
