"""What happened otherwise than planned, in words, so that it can be taken back by name."""

from __future__ import annotations

from collections.abc import Sequence

from strata.making.events import CHANGING, Event
from strata.making.making import Making
from strata.plan.model import Pass
from strata.plan.tools import brush

TOGETHER = 0.1
# seconds: events of one press lie closer than this


def _item(making: Making, card: int, key: str) -> Pass | None:
    own = making.cards[card - 1].plan.passes if 0 < card <= len(making.cards) else ()
    return next((p for p in (*own, *making.scene.plan.passes) if p.key == key), None)


def said(making: Making, event: Event) -> str:
    """One event of a kind that changes what is on a card."""
    where, item = element_of(making, event), _item(making, event.card, event.pass_key)
    ink = event.body.get("ink") or (item.ink if item is not None else "")
    name = making.scene.inks[ink].name if ink in making.scene.inks else "It"
    return {
        "otherwise": f"{name} on {where} as it was really laid",
        "skipped": f"{name} on {where} left out",
        "again": f"{name} over {where} once more",
        "slipped": f"{where} beside its place",
        "smudged": f"{where} smeared",
        "spoilt": f"Card {event.card} spoilt",
    }[event.kind]


def how(making: Making, event: Event) -> str:
    """How a pass was laid otherwise than planned."""
    body, parts = event.body, list[str]()
    if body.get("ink") in making.scene.inks:
        parts.append(making.scene.inks[body["ink"]].name)
    if "coats" in body:
        parts.append("one coat" if body["coats"] == 1 else f"{body['coats']} coats")
    if "hand" in body:
        parts.append(f"{body['hand']} hand")
    if "brush" in body:
        parts.append(brush(body["brush"]).label)
    return ", ".join(parts) or "as planned"


def element_of(making: Making, event: Event) -> str:
    """The element that an event happened to, in a sentence."""
    keys = event.body.get("passes") or [event.pass_key]
    item = _item(making, event.card, keys[0])
    return item.element if item is not None else "a pass"


def last_pressed(making: Making) -> tuple[Sequence[Event], str]:
    """The last thing that was told otherwise than planned, with the events of that one press; empty where there is none."""
    changing = [e for e in making.live if e.kind in CHANGING]
    if not changing:
        return (), ""
    last = changing[-1]
    own = [e for e in changing if e.by == last.by and last.at - e.at < TOGETHER]
    return own, "; ".join(dict.fromkeys(said(making, e) for e in own))
