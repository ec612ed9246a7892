"""Form, Pass and Plan: values that refuse to be wrong."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from itertools import count
from types import MappingProxyType

from strata.errors import BadValue, TooLarge, UnknownName, finite
from strata.optics.stack import HANDS
from strata.panel.size import PanelSize
from strata.panel.things import MOST_THINGS, Thing, the_image
from strata.plan.finish import Finish
from strata.plan.media import MEDIA
from strata.plan.tools import brush
from strata.plan.wishes import USUAL, OrderWishes

FORM_KINDS = ("all", "side", "base", "centre", "edges", "band", "corner", "around", "fade")
SPANS = ("element", "opening")
SCHOOLS = ("light first", "deep first")
REGISTERS = {"jig": "a corner jig or pegs", "marks": "the printed marks", "eye": "by eye"}
MOST_PASSES = 120
MOST_COATS_A_PASS = 6
MOST_CARDS = 200
MOST_LEFT = 400
GENERATIONS = {1: 1.0, 2: 0.45, 3: 0.2}
# of the first print that is left when a stamp is printed again without inking it
MOST_SLIP = 30.0
# mm that a sheet may lie beside its place
MOST_STRIPES = 4
# colours of one pad
LOWER_LEFT = 135.0
# degrees, 0 right, 90 bottom: where shadows commonly fall


@dataclass(frozen=True)
class Form:
    """Where in the openings the ink goes.

    ``angle``: the side the ink comes from, degrees, 0 right, 90 bottom.
    ``extent``: how far, 0..1 of the way. ``place``: a band's middle, 0..1.
    ``span``: whether the form runs over the whole element or each opening.
    ``soft``: mm over which its edge fades (None: as the brush makes it).
    ``join``: not the form itself but its border, softly: what lays the ink
    before once more over the place where two meet.
    """

    kind: str = "all"
    angle: float = 90.0
    extent: float = 0.5
    place: float = 0.5
    span: str = "element"
    soft: float | None = None
    join: bool = False

    def __post_init__(self) -> None:
        if self.kind not in FORM_KINDS:
            raise BadValue(f"A shading form is one of {', '.join(FORM_KINDS)}.", "form.kind")
        if self.span not in SPANS:
            raise BadValue("A shading form spans the element or each opening.", "form.span")
        finite(self.angle, "form.angle", -360, 720)
        finite(self.extent, "form.extent", 0.02, 1)
        finite(self.place, "form.place", 0, 1)
        if self.soft is not None:
            finite(self.soft, "form.soft", 0.2, 200)
        if not isinstance(self.join, bool) or (self.join and self.kind == "all"):
            raise BadValue("A join lies over the border of a form that has one.", "form.join")


@dataclass(frozen=True)
class Pass:
    """One ink on one element's openings of one sheet, with one hand and one form.

    ``sheet`` is the sheet's number on the panel (``strata.panel.laid``).
    ``medium``: what is done (one of MEDIA); ``more``: further inks of a pad in
    several colours, the last one at the form's angle; ``generation`` 2 or 3
    for a print made again without inking; ``width`` mm of a marker's line, a
    pen's stroke or a drop; ``without``: openings it leaves out; ``slip``: mm
    (right, down) by which its sheet lay beside its place.
    """

    key: str
    element: str
    sheet: int
    ink: str
    coats: int = 1
    hand: str = "medium"
    form: Form = field(default_factory=Form)
    brush: str | None = None
    medium: str = "ink"
    more: tuple[str, ...] = ()
    generation: int = 1
    width: float = 1.0
    without: tuple[str, ...] = ()
    slip: tuple[float, float] = (0.0, 0.0)

    def __post_init__(self) -> None:
        if isinstance(self.coats, bool) or not isinstance(self.coats, int):
            raise BadValue("coats must be a whole number.", "coats")
        if not 1 <= self.coats <= MOST_COATS_A_PASS:
            raise BadValue(f"A pass takes 1 to {MOST_COATS_A_PASS} coats.", "coats")
        if not isinstance(self.hand, str) or self.hand not in HANDS:
            raise BadValue(f"A hand is {', '.join(HANDS)}.", "hand")
        if self.brush is not None:
            brush(self.brush)
        self._refuse_odd_media()

    def _refuse_odd_media(self) -> None:
        for name in ("more", "without"):
            value = getattr(self, name)
            if not isinstance(value, tuple) or not all(isinstance(v, str) and len(v) <= 200 for v in value):
                raise BadValue(f"{name} must list names.", name)
        if not isinstance(self.ink, str):
            raise BadValue("An ink goes by its key.", "ink")
        if not isinstance(self.medium, str) or self.medium not in MEDIA:
            raise BadValue(f"A pass is one of {', '.join(MEDIA)}.", "medium")
        whole = isinstance(self.generation, int) and not isinstance(self.generation, bool)
        if not whole or self.generation not in GENERATIONS:
            raise BadValue("A stamp prints once, twice or three times from one inking.", "generation")
        if len(self.more) >= MOST_STRIPES:
            raise BadValue(f"A pad has at most {MOST_STRIPES} colours.", "more")
        finite(self.width, "width", 0.1, 12)
        if not isinstance(self.slip, tuple) or len(self.slip) != 2:
            raise BadValue("A slip is so many mm to the right and down.", "slip")
        for value in self.slip:
            finite(value, "slip", -MOST_SLIP, MOST_SLIP)

    @property
    def stripes(self) -> tuple[str, ...]:
        """All inks of the pass: one, or those of a pad in several colours."""
        return self.ink, *self.more

    @property
    def all_over(self) -> bool:
        """Whether it covers its openings evenly, so that a stamp can take it straight from the pad."""
        return self.form.kind == "all" and self.medium in ("ink", "gloss")

    @property
    def group(self) -> tuple[str, int]:
        """(element, sheet)."""
        return self.element, self.sheet

    @property
    def thickness(self) -> float:
        """Measured coats laid down at full coverage."""
        return self.coats * HANDS[self.hand] * GENERATIONS[self.generation]


@dataclass(frozen=True)
class Materials:
    """What a build is made of and how: the card it is cut from (key), how sheets register, how many cards.

    ``panel``: its size (None: as large as the set it begins with). ``light``:
    the side to which shadows fall, degrees, one for the whole card.
    """

    stock: str
    register: str = "jig"
    cards: int = 1
    panel: PanelSize | None = None
    light: float = LOWER_LEFT

    def __post_init__(self) -> None:
        if not isinstance(self.register, str) or self.register not in REGISTERS:
            raise BadValue(f"Sheets register by {', '.join(REGISTERS)}.", "register")
        if isinstance(self.cards, bool) or not isinstance(self.cards, int):
            raise BadValue("cards must be a whole number.", "cards")
        if not 1 <= self.cards <= MOST_CARDS:
            raise BadValue(f"A build is for 1 to {MOST_CARDS} cards.", "cards")
        finite(self.light, "light", -360, 720)


@dataclass(frozen=True)
class Plan:
    """One colouring: its materials, the things on its panel (lowest first), and the passes, bottom first.

    ``left`` are the keys of warnings that its maker knows and leaves; ``order``
    is what she wants of the order of work, ``finish`` how the panel becomes a
    card (None: not decided).
    """

    materials: Materials
    passes: tuple[Pass, ...] = ()
    school: str = "light first"
    schools: Mapping[str, str] = field(default_factory=lambda: MappingProxyType({}))
    bare: tuple[tuple[str, int], ...] = ()
    left: tuple[str, ...] = ()
    things: tuple[Thing, ...] = field(default_factory=lambda: (the_image(),))
    order: OrderWishes = USUAL
    finish: Finish | None = None

    def __post_init__(self) -> None:
        if len(self.things) > MOST_THINGS:
            raise TooLarge(f"A panel can hold {MOST_THINGS} things.", "things")
        if len({t.key for t in self.things} | {t.number for t in self.things}) != 2 * len(self.things):
            raise BadValue("Two things carry the same key.", "things")
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

    def free_prefix(self, letters: str) -> str:
        """``letters`` with a number after which no pass's key begins: new passes may then be numbered on from it."""
        known = [p.key for p in self.passes]
        free = (f"{letters}{n}." for n in count())
        return next(p for p in free if not any(k.startswith(p) for k in known))

    def thing(self, key: str) -> Thing:
        """The thing of that key; raises UnknownName."""
        for item in self.things:
            if item.key == key:
                return item
        raise UnknownName("That is no longer on the panel.", "thing")

    def masks_on(self, key: str) -> tuple[Thing, ...]:
        """The masks that are on while a pass is laid."""
        return tuple(t for t in self.things if self._worn(t, self._places[key]))

    def _worn(self, mask: Thing, index: int) -> bool:
        wear = mask.wear
        if wear is None or wear.off:
            return False
        at = self._places
        first = at.get(wear.since, 0) if wear.since else 0
        last = at.get(wear.until, len(self.passes)) if wear.until else len(self.passes)
        return first <= index <= last

    @cached_property
    def _places(self) -> dict[str, int]:
        return {p.key: i for i, p in enumerate(self.passes)}

    def index(self, key: str) -> int:
        """The place of a pass, from the bottom; raises UnknownName."""
        return self.passes.index(self.find(key))

    def of_element(self, element: str) -> tuple[Pass, ...]:
        """The passes of one element, bottom first."""
        return tuple(p for p in self.passes if p.element == element)

    def school_of(self, element: str) -> str:
        """The school by which an element is shaded."""
        return self.schools.get(element, self.school)
