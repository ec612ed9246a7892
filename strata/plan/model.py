"""Form, Pass and Plan: values that refuse to be wrong."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

from strata.errors import BadValue, TooLarge, UnknownName, finite
from strata.optics.stack import HANDS
from strata.plan.tools import brush

FORM_KINDS = ("all", "side", "base", "centre", "edges", "band")
SPANS = ("element", "opening")
SCHOOLS = ("light first", "deep first")
REGISTERS = {"jig": "a corner jig or pegs", "marks": "the printed marks", "eye": "by eye"}
MOST_PASSES = 60
MOST_COATS_A_PASS = 6
MOST_CARDS = 200
MOST_LEFT = 400
IMAGE = "image"
# key of the placed set that a build begins with: what a pass lies on when it names no other thing


@dataclass(frozen=True)
class Form:
    """Where in the openings the ink goes.

    ``angle``: the side the ink comes from, degrees, 0 right, 90 bottom.
    ``extent``: how far, 0..1 of the way. ``place``: a band's middle, 0..1.
    ``span``: whether the form runs over the whole element or each opening.
    """

    kind: str = "all"
    angle: float = 90.0
    extent: float = 0.5
    place: float = 0.5
    span: str = "element"

    def __post_init__(self) -> None:
        if self.kind not in FORM_KINDS:
            raise BadValue(f"A shading form is one of {', '.join(FORM_KINDS)}.", "form.kind")
        if self.span not in SPANS:
            raise BadValue("A shading form spans the element or each opening.", "form.span")
        finite(self.angle, "form.angle", -360, 720)
        finite(self.extent, "form.extent", 0.02, 1)
        finite(self.place, "form.place", 0, 1)


@dataclass(frozen=True)
class Pass:
    """One ink on one element's openings of one sheet, with one hand and one form."""

    key: str
    element: str
    sheet: int
    ink: str
    coats: int = 1
    hand: str = "medium"
    form: Form = field(default_factory=Form)
    brush: str | None = None
    thing: str = IMAGE

    def __post_init__(self) -> None:
        if isinstance(self.coats, bool) or not isinstance(self.coats, int):
            raise BadValue("coats must be a whole number.", "coats")
        if not 1 <= self.coats <= MOST_COATS_A_PASS:
            raise BadValue(f"A pass takes 1 to {MOST_COATS_A_PASS} coats.", "coats")
        if not isinstance(self.hand, str) or self.hand not in HANDS:
            raise BadValue(f"A hand is {', '.join(HANDS)}.", "hand")
        if self.brush is not None:
            brush(self.brush)

    @property
    def group(self) -> tuple[str, int]:
        """(element, sheet)."""
        return self.element, self.sheet

    @property
    def thickness(self) -> float:
        """Measured coats laid down at full coverage."""
        return self.coats * HANDS[self.hand]


@dataclass(frozen=True)
class Materials:
    """What a build is made of and how: the card it is cut from (key), how sheets register, how many cards."""

    stock: str
    register: str = "jig"
    cards: int = 1

    def __post_init__(self) -> None:
        if not isinstance(self.register, str) or self.register not in REGISTERS:
            raise BadValue(f"Sheets register by {', '.join(REGISTERS)}.", "register")
        if isinstance(self.cards, bool) or not isinstance(self.cards, int):
            raise BadValue("cards must be a whole number.", "cards")
        if not 1 <= self.cards <= MOST_CARDS:
            raise BadValue(f"A build is for 1 to {MOST_CARDS} cards.", "cards")


@dataclass(frozen=True)
class Plan:
    """One colouring: its materials, and the passes, bottom first.

    ``left`` are the keys of warnings that its maker knows and leaves.
    """

    materials: Materials
    passes: tuple[Pass, ...] = ()
    school: str = "light first"
    schools: Mapping[str, str] = field(default_factory=lambda: MappingProxyType({}))
    bare: tuple[tuple[str, int], ...] = ()
    left: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        if len(self.passes) > MOST_PASSES:
            raise TooLarge(f"A plan can have {MOST_PASSES} passes.", "passes")
        if len(self.left) > MOST_LEFT:
            raise TooLarge(f"At most {MOST_LEFT} warnings can be left.", "left")
        if len({p.key for p in self.passes}) != len(self.passes):
            raise BadValue("Two passes carry the same key.", "passes")
        for school in (self.school, *self.schools.values()):
            if school not in SCHOOLS:
                raise BadValue(f"A school is {' or '.join(SCHOOLS)}.", "school")

    @property
    def stock(self) -> str:
        """Key of the card it lies on."""
        return self.materials.stock

    @property
    def register(self) -> str:
        """How sheets are aligned, one of REGISTERS."""
        return self.materials.register

    @property
    def cards(self) -> int:
        """How many cards are made of it."""
        return self.materials.cards

    def find(self, key: str) -> Pass:
        """The pass of that key; raises UnknownName."""
        for item in self.passes:
            if item.key == key:
                return item
        raise UnknownName("That pass is no longer in this build.", "pass")

    def index(self, key: str) -> int:
        """The place of a pass, from the bottom; raises UnknownName."""
        return self.passes.index(self.find(key))

    def of_element(self, element: str) -> tuple[Pass, ...]:
        """The passes of one element, bottom first."""
        return tuple(p for p in self.passes if p.element == element)

    def school_of(self, element: str) -> str:
        """The school by which an element is shaded."""
        return self.schools.get(element, self.school)
