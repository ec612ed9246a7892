"""How a maker wants the work of a colouring ordered: what she puts first, who helps, what she has decided herself."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, fields
from typing import Any, Literal, get_args

from strata.errors import BadValue, TooLarge, finite

First = Literal["time", "cleanings", "placements", "masks", "pads", "elements"]
FIRST: tuple[First, ...] = get_args(First)
WAYS = ("mask", "hand")
MOST_PINS = 400
MOST_RETURNS = 40
MOST_RACK = 200
MOST_TWICE = 1000
MOST_JOBS = 60
MOST_LETTERS = 160
LEAST_MINUTES, MOST_MINUTES = 0.1, 120.0
MOST_BRUSH_DRY = 60.0


@dataclass(frozen=True)
class OtherWork:
    """Something to cut, fold, print or clean beside the inking: its name, and minutes without a break.

    ``before``: key of the pass that it must be done for, if any. ``after``: key
    of the other work that comes first. ``last``: only when every card is dry.
    ``lies``: minutes that it is left alone once it is done (under a weight).
    ``caution``: what to mind with it. ``word``: what is done, in one.
    """

    key: str
    name: str
    minutes: float
    before: str | None = None
    after: str | None = None
    last: bool = False
    lies: float = 0.0
    caution: str = ""
    word: str = ""

    def __post_init__(self) -> None:
        for name in ("key", "name"):
            value = getattr(self, name)
            if not isinstance(value, str) or not value.strip() or len(value) > MOST_LETTERS:
                raise BadValue(f"Other work needs a name of at most {MOST_LETTERS} letters.", "name")
        finite(self.minutes, "minutes", LEAST_MINUTES, MOST_MINUTES)
        if self.before is not None and (self.last or self.after is not None):
            raise BadValue("Other work comes before a pass, or after something else: not both.", "jobs")


@dataclass(frozen=True)
class OrderWishes:
    """Wishes for the order of work.

    ``first``: what is kept least. ``hands``: pairs of hands. ``heat``: whether
    a heat tool is at hand. ``lead``: whether one card of several is made and
    looked at before the rest. ``brush_dry``: minutes until a cleaned brush can
    be used. ``rack``: places where cards can dry, 0 for enough. ``pins``: (before, after), keys of passes. ``returns``: passes of one
    sheet that are done while it is seated for them alone. ``partings``: (element,
    sheet, ``mask`` or ``hand``) where she chose. ``jobs``: other work.
    ``twice``: sheets of the panel that she owns twice.
    ``assembly``: whether cutting, folding and putting the cards together, as
    they are finished, is part of the work.
    """

    first: First = "time"
    hands: int = 1
    heat: bool = False
    lead: bool = True
    brush_dry: float = 1.0
    rack: int = 0
    pins: tuple[tuple[str, str], ...] = ()
    returns: tuple[tuple[str, ...], ...] = ()
    partings: tuple[tuple[str, int, str], ...] = ()
    jobs: tuple[OtherWork, ...] = ()
    twice: tuple[int, ...] = ()
    assembly: bool = False

    def __post_init__(self) -> None:
        if self.first not in FIRST:
            raise BadValue(f"What is put first is one of {', '.join(FIRST)}.", "first")
        if isinstance(self.hands, bool) or self.hands not in (1, 2):
            raise BadValue("There are one or two pairs of hands.", "hands")
        for name in ("heat", "lead", "assembly"):
            if not isinstance(getattr(self, name), bool):
                raise BadValue(f"{name} must be true or false.", name)
        finite(self.brush_dry, "brush_dry", 0, MOST_BRUSH_DRY)
        if isinstance(self.rack, bool) or not isinstance(self.rack, int) or not 0 <= self.rack <= MOST_RACK:
            raise BadValue(f"A rack has 1 to {MOST_RACK} places, or 0 for enough.", "rack")
        if len(self.pins) > MOST_PINS or len(self.jobs) > MOST_JOBS:
            raise TooLarge(f"At most {MOST_PINS} pins and {MOST_JOBS} other jobs are kept.", "order")
        if len({j.key for j in self.jobs}) != len(self.jobs):
            raise BadValue("Two jobs carry the same key.", "jobs")
        for _, _, way in self.partings:
            if way not in WAYS:
                raise BadValue("Neighbours are parted by a mask or by hand.", "way")
        self._refuse_odd_sheets()

    def _refuse_odd_sheets(self) -> None:
        if len(self.twice) > MOST_TWICE or any(
            isinstance(n, bool) or not isinstance(n, int) or not 1 <= n < MOST_TWICE for n in self.twice
        ):
            raise BadValue("A sheet that is owned twice goes by its number.", "twice")
        if len(self.returns) > MOST_RETURNS:
            raise TooLarge(f"At most {MOST_RETURNS} returns to a sheet are kept apart.", "returns")
        apart = [key for own in self.returns for key in own]
        if len(set(apart)) != len(apart) or not all(self.returns):
            raise BadValue("A pass belongs to one return to its sheet.", "returns")

    def parting(self, element: str, sheet: int) -> str | None:
        """What she chose for a group: ``mask``, ``hand``, or None where it is left to the planner."""
        return next((w for e, s, w in self.partings if (e, s) == (element, sheet)), None)


USUAL = OrderWishes()


def write_wishes(wishes: OrderWishes) -> dict[str, Any]:
    """Wishes as JSON values, without what is as usual."""
    found: dict[str, Any] = {}
    for field in fields(OrderWishes):
        value = getattr(wishes, field.name)
        if value == getattr(USUAL, field.name):
            continue
        if field.name == "jobs":
            value = [{"key": j.key, "name": j.name, "minutes": j.minutes} for j in value]
        elif field.name == "twice":
            value = list(value)
        elif isinstance(value, tuple):
            value = [list(v) for v in value]
        found[field.name] = value
    return found


def read_wishes(value: Any) -> OrderWishes:
    """Wishes from JSON values; raises BadValue."""
    if value is None:
        return USUAL
    if not isinstance(value, Mapping) or not set(value) <= {f.name for f in fields(OrderWishes)}:
        raise BadValue("order must hold wishes for the order of work.", "order")
    own = dict(value)
    try:
        if "pins" in own:
            own["pins"] = tuple((str(a), str(b)) for a, b in own["pins"])
        if "returns" in own:
            own["returns"] = tuple(tuple(str(k) for k in keys) for keys in own["returns"])
        if "twice" in own:
            own["twice"] = tuple(own["twice"])
        if "partings" in own:
            own["partings"] = tuple((str(e), int(s), str(w)) for e, s, w in own["partings"])
        if "jobs" in own:
            own["jobs"] = tuple(OtherWork(j["key"], j["name"], j["minutes"]) for j in own["jobs"])
    except (TypeError, ValueError, KeyError):
        raise BadValue("order must hold wishes for the order of work.", "order") from None
    return OrderWishes(**own)
