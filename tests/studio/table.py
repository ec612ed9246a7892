"""Somebody at the table, over HTTP."""

from __future__ import annotations

import itertools
from typing import Any

from studio.builds.models import Colouring

BEGIN = 1_700_000_000.0
_numbers = itertools.count(1)


def address(colouring: Colouring) -> str:
    return f"/api/colourings/{colouring.pk}/table"


def event(what: str, at: float = BEGIN, key: str = "", /, **body: Any) -> dict[str, Any]:
    """An event as a device sends it."""
    return {"key": key or f"k{next(_numbers)}", "at": at, "kind": what, "body": body}


def done(step: dict[str, Any], at: float = BEGIN, key: str = "") -> dict[str, Any]:
    """A step ticked off."""
    body = {
        "step": step["key"], "kind": step["kind"], "card": step["card"], "minutes": step["minutes"],
        "masks": step["masks"], "sheet": step["sheet"], "which": step["which"], "who": step["who"],
        "pass": step["pass_key"], "serves": step["serves"], "job": step["job"], "size": step["brush"],
        "sentence": step["sentence"], "clock": step["clock"],
    }  # fmt: skip
    return event("done", at, key, **body)


def tell(client: Any, colouring: Colouring, *events: dict[str, Any], making: int = 1) -> Any:
    """The answer to what happened."""
    return client.post(address(colouring), {"making": making, "events": list(events)}, format="json")


def left(table: dict[str, Any]) -> list[dict[str, Any]]:
    """Steps still to be done."""
    return [s for s in table["steps"] if not s["done"]]


def walk(client: Any, colouring: Colouring, count: int, making: int = 1) -> dict[str, Any]:
    """So many steps ticked off, one after another as they are planned; the table after it."""
    table = client.get(address(colouring)).json()
    at, events = max([BEGIN, *(s["at"] or 0 for s in table["steps"])]), []
    for step in left(table)[:count]:
        at += 60 * step["minutes"]
        events.append(done(step, at))
    found: dict[str, Any] = tell(client, colouring, *events, making=making).json()
    return found
