"""What happens at the table, as events that are only ever added: what was done, taken back, done otherwise, went wrong.

Two devices at one making each write their own; joined, they are the union.
What is taken back names the events that it takes back, so that nothing is
lost to who wrote last (an observed-remove set: Shapiro et al., "Conflict-free
replicated data types", SSS 2011).
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Any

from strata import readings
from strata.errors import BadValue, finite
from strata.optics.stack import HANDS
from strata.order.steps import KINDS as STEP_KINDS
from strata.order.steps import Step
from strata.plan.model import MOST_CARDS, MOST_COATS_A_PASS, MOST_SLIP
from strata.plan.tools import brush

MOST_EVENTS = 20_000
MOST_TEXT = 2000
LATEST = 1e11
# seconds since 1970; past it nobody will be inking
KINDS = ("done", "undone", "otherwise", "skipped", "again", "slipped", "smudged", "spoilt", "note")
# of what was meant: these change what is on a card
CHANGING = ("otherwise", "skipped", "again", "slipped", "smudged", "spoilt")


@dataclass(frozen=True)
class Event:
    """One thing that happened. ``key`` names it wherever it is kept; ``at``: seconds since 1970; ``by``: the device.

    ``body`` by kind, as ``docs/formats/making.md`` has it.
    """

    key: str
    at: float
    kind: str
    body: Mapping[str, Any] = field(default_factory=dict)
    by: str = ""

    @property
    def card(self) -> int:
        """The card that it happened to, from 1; 0 where it happened to none."""
        return int(self.body.get("card", 0))

    @property
    def is_ink(self) -> bool:
        """Whether a pass was laid."""
        return self.kind == "done" and self.body["kind"] == "ink" and bool(self.pass_key)

    @property
    def pass_key(self) -> str:
        """The pass that it happened to; empty for none."""
        return str(self.body.get("pass") or "")


def read_event(value: Any) -> Event:
    """An event from JSON values; raises BadValue naming the field."""
    top = readings.mapping(value, "event")
    kind = top.get("kind")
    if kind not in KINDS:
        raise BadValue(f"An event is one of {', '.join(KINDS)}.", "event.kind")
    body = readings.mapping(top.get("body", {}), "event.body")
    by = top.get("by", "")
    if not isinstance(by, str) or len(by) > 64:
        raise BadValue("A device goes by a short name.", "event.by")
    return Event(
        readings.text(readings.needed(top, "key", "event"), "event.key", 64),
        finite(readings.needed(top, "at", "event"), "event.at", 0, LATEST),
        kind,
        _BODIES[kind](body),
        by,
    )


def done_of(step: Step, key: str, at: float) -> Event:
    """That a step was done, as a device writes it down."""
    body = {
        "step": step.key, "kind": step.kind, "card": step.card, "minutes": step.minutes,
        "masks": list(step.masks), "sheet": step.sheet, "which": step.which, "who": step.who,
        "pass": step.pass_key, "serves": step.serves, "job": step.job, "size": step.brush,
        "sentence": step.sentence[:300], "clock": step.clock, "copy": step.copy,
    }  # fmt: skip
    return read_event({"key": key, "at": at, "kind": "done", "body": body})


def write_event(event: Event) -> dict[str, Any]:
    """JSON values that ``read_event`` reads back identical."""
    return {
        "key": event.key,
        "at": event.at,
        "kind": event.kind,
        "body": dict(event.body),
        **({"by": event.by} if event.by else {}),
    }


def joined(*several: Iterable[Event]) -> tuple[Event, ...]:
    """All events, each once, in the order in which they happened, whoever brings them first."""
    found = {e.key: e for events in several for e in events}
    return tuple(sorted(found.values(), key=lambda e: (e.at, e.key)))


def live(events: Iterable[Event]) -> tuple[Event, ...]:
    """Those that were not taken back, in the order in which they happened."""
    every = joined(events)
    gone: set[str] = set()
    # from the last to the first: what is taken back may be a taking back
    for e in reversed(every):
        if e.kind == "undone" and e.key not in gone:
            gone.update(e.body["of"])
    return tuple(e for e in every if e.kind != "undone" and e.key not in gone)


def two_truths(events: Iterable[Event]) -> list[list[Event]]:
    """What two devices say differently of one pass (of live events): its maker says which is right."""
    by: dict[tuple[int, str], list[Event]] = {}
    for event in events:
        if event.kind == "otherwise":
            by.setdefault((event.card, event.pass_key), []).append(event)
    return [
        told
        for told in by.values()
        if len({e.by for e in told}) > 1 and any(e.body != told[0].body for e in told)
    ]


def _whole(body: Mapping[str, Any], name: str, low: int, high: int) -> int:
    value = readings.needed(body, name, "event.body")
    if isinstance(value, bool) or not isinstance(value, int) or not low <= value <= high:
        raise BadValue(f"{name} must be a whole number from {low} to {high}.", f"event.body.{name}")
    return value


def _on(body: Mapping[str, Any]) -> dict[str, Any]:
    """The card and the pass that something happened to."""
    key = readings.text(readings.needed(body, "pass", "event.body"), "event.body.pass", 60)
    return {"card": _whole(body, "card", 1, MOST_CARDS), "pass": key}


def _how(body: Mapping[str, Any]) -> dict[str, Any]:
    """How a pass was laid, where it was not as planned."""
    found: dict[str, Any] = {}
    if body.get("ink") is not None:
        found["ink"] = readings.text(body["ink"], "event.body.ink")
    if body.get("coats") is not None:
        found["coats"] = _whole(body, "coats", 1, MOST_COATS_A_PASS)
    if body.get("hand") is not None:
        if body["hand"] not in HANDS:
            raise BadValue(f"A hand is {', '.join(HANDS)}.", "event.body.hand")
        found["hand"] = body["hand"]
    if body.get("brush") is not None:
        found["brush"] = brush(readings.text(body["brush"], "event.body.brush")).key
    return found


def _moved(body: Mapping[str, Any]) -> dict[str, Any]:
    return {
        name: finite(readings.needed(body, name, "event.body"), name, -MOST_SLIP, MOST_SLIP)
        for name in ("dx", "dy")
    }


def _texts(body: Mapping[str, Any], name: str, most: int) -> list[str]:
    found = readings.listing(body.get(name, []), f"event.body.{name}")
    if len(found) > most:
        raise BadValue(f"{name} holds {most} at the most.", f"event.body.{name}")
    return [readings.text(t, f"event.body.{name}") for t in found]


def _done(body: Mapping[str, Any]) -> dict[str, Any]:
    if body.get("kind") not in STEP_KINDS:
        raise BadValue("Nobody knows that kind of step.", "event.body.kind")
    found: dict[str, Any] = {
        "step": readings.text(readings.needed(body, "step", "event.body"), "event.body.step", 300),
        "kind": body["kind"],
        "card": _whole(body, "card", 0, MOST_CARDS) if "card" in body else 1,
        "minutes": finite(body.get("minutes", 0), "minutes", 0, 1440),
        "masks": _texts(body, "masks", 200),
    }
    for name in ("sheet", "which", "who"):
        if body.get(name) is not None:
            found[name] = _whole(body, name, 0, 1_000_000)
    if _whole(body, "copy", 1, 2) == 2 if body.get("copy") is not None else False:
        found["copy"] = 2
    for name in ("pass", "serves", "job", "size", "sentence", "clock"):
        if body.get(name) is not None and body[name] != "":
            found[name] = readings.text(body[name], f"event.body.{name}", 400)
    if body.get("as") is not None:
        found["as"] = dict(readings.mapping(body["as"], "event.body.as"))
    return found


def _undone(body: Mapping[str, Any]) -> dict[str, Any]:
    of = _texts(body, "of", 1000)
    if not of:
        raise BadValue("What is taken back must be named.", "event.body.of")
    return {"of": of}


def _slipped(body: Mapping[str, Any]) -> dict[str, Any]:
    passes = _texts(body, "passes", 200)
    return {"card": _whole(body, "card", 1, MOST_CARDS), "passes": passes, **_moved(body)}


def _spoilt(body: Mapping[str, Any]) -> dict[str, Any]:
    fresh = body.get("fresh", False)
    if not isinstance(fresh, bool):
        raise BadValue("fresh must be true or false.", "event.body.fresh")
    return {"card": _whole(body, "card", 1, MOST_CARDS), "fresh": fresh}


def _note(body: Mapping[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {"text": readings.text(body.get("text"), "event.body.text", MOST_TEXT)}
    if body.get("card") is not None:
        found["card"] = _whole(body, "card", 0, MOST_CARDS)
    if body.get("pass"):
        found["pass"] = readings.text(body["pass"], "event.body.pass", 60)
    return found


_BODIES = {
    "done": _done,
    "undone": _undone,
    "otherwise": lambda body: {**_on(body), **_how(body)},
    "skipped": _on,
    "again": lambda body: {**_on(body), **_how(body)},
    "slipped": _slipped,
    "smudged": lambda body: {**_on(body), **_moved(body)},
    "spoilt": _spoilt,
    "note": _note,
}
