"""Ways on after something went wrong, as events with blanks: what each writes down is said here and nowhere else.

With the network the ways are judged by the colour that comes of them
(``remedies``); a device that is alone offers them as they stand.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from strata.errors import BadValue
from strata.plan.model import Pass

Told = tuple[str, Mapping[str, Any]]
# (kind, body) of an event; in a body "$name" stands for what is known at the table, and "*" for several such at once
_PALER = {"heavy": "medium", "medium": "light"}


@dataclass(frozen=True)
class Way:
    """One way on. ``needs``: a blank without which it is none; ``several``: only where more than one card is left."""

    key: str
    sentence: str
    events: tuple[Told, ...] = ()
    needs: str = ""
    several: bool = False


@dataclass(frozen=True)
class WentWrong:
    """What happened: its sentence, with blanks in braces, the events that say so, and the ways on."""

    what: str
    sentence: str
    events: tuple[Told, ...]
    ways: tuple[Way, ...]


_ON = {"card": "$card", "pass": "$pass"}
_BY = {"dx": "$dx", "dy": "$dy"}
_UNDONE: Told = ("undone", {"of": "$done"})
_ONCE_MORE = Way(
    "again",
    "{ink} over it once more when it is dry, one coat, {hand} hand.",
    (("again", {**_ON, "ink": "$meant", "coats": 1, "hand": "$hand"}),),
)
_LEAVE = Way("leave", "Leave it and go on.")
_AFRESH = (
    Way("fresh", "Begin this card afresh on a new piece.", (("spoilt", {"card": "$card", "fresh": True}),)),
    Way(
        "fewer",
        "Go on with one card fewer.",
        (("spoilt", {"card": "$card", "fresh": False}),),
        several=True,
    ),
)
WAYS: tuple[WentWrong, ...] = (
    WentWrong(
        "forgot",
        "{ink} on {element} is not on the card.",
        (),
        (
            Way("back", "Ink it when its sheet next costs least to seat.", (_UNDONE,)),
            Way("skip", "Leave it out on this card.", (_UNDONE, ("skipped", _ON))),
        ),
    ),
    WentWrong(
        "pale",
        "{ink} on {element} came out too pale.",
        (("otherwise", {**_ON, "*": "$paler"}),),
        (_ONCE_MORE, _LEAVE, *_AFRESH),
    ),
    WentWrong(
        "pad",
        "{other} went on {element} instead of {ink}.",
        (("otherwise", {**_ON, "ink": "$ink"}),),
        (_LEAVE, _ONCE_MORE, *_AFRESH),
    ),
    WentWrong(
        "slipped",
        "{ink} on {element} lies {far} mm beside its place.",
        (("slipped", {"card": "$card", "passes": ["$pass"], **_BY}),),
        (
            Way(
                "follow",
                "Lay what follows on {element} to it, not to the marks.",
                (("slipped", {"card": "$card", "passes": "$mates", **_BY}),),
                needs="mates",
            ),
            Way("leave", "Go on by the marks."),
            Way(
                "blend",
                "Go over it once more in its place, light hand: the line is lost in it.",
                (("again", {**_ON, "coats": 1, "hand": "light"}),),
            ),
            *_AFRESH,
        ),
    ),
    WentWrong(
        "smudged",
        "{ink} on {element} is smeared.",
        (("smudged", {**_ON, **_BY}),),
        (Way("leave", "Let it dry and go on; what is laid over it may hide it."), *_AFRESH),
    ),
    WentWrong("spoilt", "Card {card} is spoilt.", (), _AFRESH),
)
BY_WHAT = {w.what: w for w in WAYS}


def way(what: str, key: str) -> Way:
    """One way on by its key; raises KeyError."""
    return {w.key: w for w in BY_WHAT[what].ways}[key]


def paler(item: Pass) -> dict[str, Any] | None:
    """As what a pass was laid that came out paler: with a lighter hand, or a coat fewer; None where it cannot be."""
    if item.hand in _PALER:
        return {"hand": _PALER[item.hand]}
    return {"coats": item.coats - 1} if item.coats > 1 else None


def filled(events: Iterable[Told], known: Mapping[str, Any]) -> tuple[Told, ...]:
    """The events with what is known at the table in their blanks; raises BadValue for a blank that stays empty."""
    return tuple((kind, _filled(body, known)) for kind, body in events)


def _filled(body: Mapping[str, Any], known: Mapping[str, Any]) -> dict[str, Any]:
    found: dict[str, Any] = {}
    for name, value in body.items():
        if name == "*":
            found |= _known(value, known)
        elif isinstance(value, list):
            found[name] = [_known(v, known) for v in value]
        else:
            found[name] = _known(value, known)
    return found


def _known(value: Any, known: Mapping[str, Any]) -> Any:
    if not isinstance(value, str) or not value.startswith("$"):
        return value
    if known.get(value[1:]) is None:
        raise BadValue("Say what happened, to which pass, and by how much.", value[1:])
    return known[value[1:]]
