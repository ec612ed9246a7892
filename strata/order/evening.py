"""What is made in an evening: one build, or several on several cards, under names that are unique among them.

A make is a build in one colouring on one stock, made so many times. Makes
that use the same set share its sheets: what one leaves on a sheet, the next
one finds there.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from strata.errors import TooLarge
from strata.order.instance import Group
from strata.panel.laid import FREE
from strata.plan.model import MOST_CARDS, Pass
from strata.plan.scene import Scene

MOST_MAKES = 8
Pin = tuple[str, str]


@dataclass(frozen=True)
class Make:
    """What is made of one scene: how many cards, and what its maker wants.

    ``pins``: (before, after), keys of passes; ``by_hand``: groups that she
    inks with a lighter hand (True) or behind a mask (False), whatever is quicker;
    ``returns``: passes of one sheet that are done while it is seated for them alone;
    ``twice``: sheets of the panel that she owns twice.
    """

    scene: Scene
    cards: int = 1
    pins: tuple[Pin, ...] = ()
    by_hand: Mapping[Group, bool] = field(default_factory=dict)
    lenient: bool = False
    returns: tuple[tuple[str, ...], ...] = ()
    twice: frozenset[int] = frozenset()


class Evening:
    """Several makes with their passes and sheets under names that are unique among them.

    ``cards``: for each card, the make it belongs to; where it is not given they
    are counted make by make. Its own cards are then passed over.
    With one make all keep their own: the key of a pass is the plan's, the
    number of a sheet the panel's.
    """

    def __init__(self, makes: Sequence[Make], cards: Sequence[int] | None = None) -> None:
        if len(makes) > MOST_MAKES or sum(m.cards for m in makes) > MOST_CARDS:
            raise TooLarge(f"An evening holds {MOST_MAKES} colourings and {MOST_CARDS} cards.", "cards")
        self.makes = tuple(makes)
        counted = [m for m, make in enumerate(makes) for _ in range(make.cards)]
        self.cards: tuple[int, ...] = tuple(counted if cards is None else cards)
        self._sheets: dict[tuple[object, ...], int] = {}
        # numbers are given make by make and from the lowest up, whatever is asked for first
        for m, make in enumerate(self.makes):
            for number in sorted({p.sheet for p in make.scene.plan.passes} | set(make.scene.layer_set.glued)):
                self.sheet(m, number)
        self.passes: dict[str, tuple[int, Pass]] = {
            self.key(m, p.key): (m, p) for m, make in enumerate(self.makes) for p in make.scene.plan.passes
        }

    def key(self, make: int, own: str) -> str:
        """The key of a pass among all makes."""
        return own if len(self.makes) == 1 else f"{make + 1}/{own}"

    def sheet(self, make: int, number: int) -> int:
        """The number of a sheet among all makes: the same plastic has the same one."""
        if len(self.makes) == 1 or number == FREE:
            return number
        known = self._plastic(make, number)
        return self._sheets.setdefault(known, len(self._sheets) + 1)

    def _plastic(self, make: int, number: int) -> tuple[object, ...]:
        laid = self.makes[make].scene.layer_set
        origin, seat = laid.origin(number), laid.sheet(number).seat
        source = laid.sources.get(origin.thing)
        # a set that lies on a panel several times is seated at each place by itself: its first place with the first
        alike = [thing for thing, own in laid.sources.items() if own is source]
        place = alike.index(origin.thing) if origin.thing in alike else number
        # a greeting or a piece is the same only where the whole panel is laid alike
        return (id(source if source is not None else laid), origin.own, place, seat)

    def own_sheet(self, make: int, number: int) -> int:
        """The number that a sheet has on the panel of a make; the reverse of ``sheet``."""
        if len(self.makes) == 1 or number == FREE:
            return number
        laid = self.makes[make].scene.layer_set
        return next((s.number for s in laid.sheets if self._known(make, s.number) == number), number)

    def _known(self, make: int, number: int) -> int | None:
        return self._sheets.get(self._plastic(make, number))

    def scene(self, key: str) -> Scene:
        """The scene that a pass belongs to."""
        return self.makes[self.passes[key][0]].scene

    def __iter__(self) -> Iterator[tuple[str, int, Pass]]:
        return ((key, m, p) for key, (m, p) in self.passes.items())
