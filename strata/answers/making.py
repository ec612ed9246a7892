"""The request and the answer of ``python -m strata making``; documented in ``docs/formats/making.md``."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any

from strata import readings
from strata.answers.order import MOST_REQUEST, read_make
from strata.errors import BadValue
from strata.formats.build_file import write_plan
from strata.formats.drawer import read_drawer_values
from strata.making import Making, Meant, read_event
from strata.making.events import MOST_EVENTS
from strata.making.remedies import Remedy, to_write, went_wrong
from strata.order import Ordering


def answer(data: str | bytes) -> dict[str, Any]:
    """What is on the cards after what happened, and the rest of the work; raises a StrataError with one sentence."""
    top = readings.mapping(readings.parse(data, MOST_REQUEST), "The request")
    drawer = read_drawer_values(readings.needed(top, "drawer", "request"))
    make = read_make(top, drawer, {})
    happened = readings.listing(top.get("events", []), "events")
    if len(happened) > MOST_EVENTS:
        raise BadValue(f"A making holds {MOST_EVENTS} events at the most.", "events")
    meant = Meant(Ordering(make.scene, make.cards).sequence, make.cards)
    making = Making(make.scene, meant, [read_event(e) for e in happened])
    found = {
        "changed": making.changed,
        **making.as_request(),
        "steps": [{**asdict(t.step), "done": list(t.done)} for t in making.steps],
        "cards": [
            {"number": c.number, "spoilt": c.spoilt, "inked": list(c.inked), "build": write_plan(c.seen)}
            for c in making.cards
        ],
    }
    if "wrong" in top:
        found["wrong"] = _wrong(making, readings.mapping(top["wrong"], "wrong"))
    return found


def _wrong(making: Making, asked: Mapping[str, Any]) -> dict[str, Any]:
    found = went_wrong(making, str(asked.get("what")), asked, sorted(making.scene.inks))
    return {
        "sentence": found.sentence,
        "meant": found.meant,
        "now": found.now,
        "events": to_write(found.events),
        "remedies": [_remedy(r) for r in found.remedies],
    }


def _remedy(found: Remedy) -> dict[str, Any]:
    return {
        "key": found.key,
        "sentence": found.sentence,
        "lab": found.colour,
        "off": found.off,
        "events": to_write(found.events),
    }
