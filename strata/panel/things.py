"""Things with a place on the panel: sets, masks, pieces of card, words, notes. Values that refuse to be wrong."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
import shapely
from numpy.typing import NDArray
from shapely.geometry.base import BaseGeometry

from strata.errors import BadValue, finite
from strata.panel.shapes import Shape

IMAGE = "image"
# key of the placed set that a build begins with: what a pass lies on when it names no other thing
KINDS = ("set", "mask", "piece", "words", "note")
BASE = 1000
# sheets on the panel: a thing's own number of the sheet, and so many for each thing before it
MOST_THINGS = 60
MOST_NAME = 60
MOST_WORDS = 120
NOUNS = {"set": "set", "mask": "mask", "piece": "piece of card", "words": "greeting", "note": "note"}
# what a thing is called while it has no name
_OF = ": "
# between the name of a thing and the name of its part


@dataclass(frozen=True)
class Place:
    """Where a thing's middle lies, mm from the panel's upper left corner; ``turn`` degrees clockwise.

    ``mirrored``: turned over, left for right, before it is turned.
    """

    x: float
    y: float
    turn: float = 0.0
    mirrored: bool = False

    def __post_init__(self) -> None:
        finite(self.x, "place.x", -1000, 1600)
        finite(self.y, "place.y", -1000, 1600)
        finite(self.turn, "place.turn", -360, 360)
        if not isinstance(self.mirrored, bool):
            raise BadValue("mirrored is yes or no.", "place.mirrored")

    def put(self, shape: BaseGeometry, middle: tuple[float, float] = (0.0, 0.0)) -> BaseGeometry:
        """A shape drawn about ``middle`` as it lies on the panel; the very same where nothing moves it."""
        if not self.turn and not self.mirrored and (self.x, self.y) == middle:
            return shape
        angle, flip = math.radians(self.turn), -1.0 if self.mirrored else 1.0
        turn = np.array(
            [[math.cos(angle) * flip, -math.sin(angle)], [math.sin(angle) * flip, math.cos(angle)]]
        )

        def carried(points: NDArray[np.float64]) -> NDArray[np.float64]:
            return np.asarray((points - middle) @ turn.T + (self.x, self.y))

        return shapely.transform(shape, carried)


@dataclass(frozen=True)
class Wear:
    """How a mask is worn: a ``window`` lets ink into its shape only, a ``cover`` keeps it out.

    On from the pass ``since`` to the pass ``until`` in the plan, both included;
    an empty name leaves that end open. ``off`` while it is laid aside.
    """

    way: str = "window"
    since: str = ""
    until: str = ""
    off: bool = False
    soft: float = 0.0

    def __post_init__(self) -> None:
        if self.way not in ("window", "cover"):
            raise BadValue("A mask is a window or a cover.", "mask.way")
        finite(self.soft, "mask.soft", 0, 5)


@dataclass(frozen=True)
class Card:
    """Card of its own: its stock (key), foam under it in mm, how many glued into a stack.

    ``allowance``: mm of card left around what is cut out on its outline.
    """

    stock: str
    foam: float = 0.0
    copies: int = 1
    allowance: float = 0.0

    def __post_init__(self) -> None:
        if not isinstance(self.stock, str) or not self.stock:
            raise BadValue("A piece has a card of its own.", "card.stock")
        finite(self.foam, "card.foam", 0, 3)
        finite(self.allowance, "card.allowance", 0, 20)
        if isinstance(self.copies, bool) or not isinstance(self.copies, int) or not 1 <= self.copies <= 6:
            raise BadValue("A stack has 1 to 6 layers of itself.", "card.copies")


@dataclass(frozen=True)
class Words:
    """A greeting as it is typed: letters ``size`` mm high (capitals), drawn with the font that ships."""

    text: str
    size: float = 7.0
    hand: str = "script"

    def __post_init__(self) -> None:
        if not isinstance(self.text, str) or not self.text.strip() or len(self.text) > MOST_WORDS:
            raise BadValue(f"A greeting has 1 to {MOST_WORDS} letters.", "words.text")
        finite(self.size, "words.size", 1.5, 80)
        if self.hand not in ("script", "print"):
            raise BadValue("Words are written in script or print.", "words.hand")


@dataclass(frozen=True)
class Note:
    """What cannot be predicted (a gem, thread, a texture): its words and its thickness in mm."""

    text: str
    thickness: float = 0.0

    def __post_init__(self) -> None:
        if not isinstance(self.text, str) or not self.text.strip() or len(self.text) > 300:
            raise BadValue("Say in a few words what it is.", "note.text")
        finite(self.thickness, "note.thickness", 0, 30)


@dataclass(frozen=True)
class Thing:
    """One thing on the panel. ``key`` and ``number`` are its own for good, ``name`` is for people.

    ``place`` None only for the set that a build begins with, which then lies
    where its drawing has it. ``source``: which set of the scene; ``sheets`` of
    it that are used (its own numbers; none named: all); ``counter``: the other
    half of the cut, open where those sheets are closed. ``on``: key of the
    piece that it lies on. ``cards``: for pieces of a set, their own card by
    sheet, where it differs from ``card``.
    """

    key: str
    number: int
    kind: str
    name: str = ""
    place: Place | None = None
    source: str = ""
    sheets: tuple[int, ...] = ()
    counter: bool = False
    shape: Shape | None = None
    wear: Wear | None = None
    card: Card | None = None
    cards: tuple[tuple[int, Card], ...] = ()
    words: Words | None = None
    note: Note | None = None
    on: str = ""

    def __post_init__(self) -> None:
        if self.kind not in KINDS:
            raise BadValue(f"A thing is one of {', '.join(KINDS)}.", "kind")
        if not self.key or len(self.key) > 60 or len(self.name) > MOST_NAME:
            raise BadValue(f"A thing needs a name of up to {MOST_NAME} letters.", "name")
        if _OF in self.name:
            raise BadValue("A colon in a name would be taken for the name of a part.", "name")
        needs = {"set": self.source, "words": self.words, "note": self.note, "mask": self.wear}
        if not needs.get(self.kind, True):
            raise BadValue("That thing is not whole.", self.kind)
        if self.kind in ("mask", "piece") and self.shape is None:
            raise BadValue("A mask or a piece has a shape.", "shape")
        if self.kind == "piece" and self.card is None:
            raise BadValue("A piece has a card of its own.", "card")
        if self.place is None and self.key != IMAGE:
            raise BadValue("A thing has a place.", "place")
        if self.on == self.key or (self.shape is not None and self.shape.of == self.key):
            raise BadValue("A thing cannot lie on itself.", "on")

    @property
    def base(self) -> int:
        """What is added to its own sheets' numbers on the panel."""
        return BASE * self.number

    @property
    def whole(self) -> bool:
        """Whether it is one part by itself, called as the thing is; else its parts are those of its set."""
        return self.kind != "set" or self.counter

    def element(self, own: str) -> str:
        """What a part of its set is called on the panel."""
        if self.whole:
            return self.name or self.key
        return own if self.key == IMAGE else f"{self.name}{_OF}{own}"

    def own_element(self, element: str) -> str:
        """What a part is called in its set, from its name on the panel."""
        return element if self.whole or self.key == IMAGE else element.removeprefix(f"{self.name}{_OF}")

    def card_of(self, sheet: int) -> Card | None:
        """The card of the piece cut from one of its sheets."""
        return dict(self.cards).get(sheet, self.card)


def the_image(source: str = IMAGE) -> Thing:
    """The set that a build begins with, where its drawing has it."""
    return Thing(IMAGE, 0, "set", source=source)
