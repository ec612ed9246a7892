"""How a panel becomes a card: its fold, mats, stiffening, foam and greeting strips, as its maker decided."""

from __future__ import annotations

from dataclasses import asdict, dataclass, fields
from typing import Any

from strata import readings
from strata.errors import BadValue, TooLarge, finite

FOLDS = ("side", "top", "none")
WAYS = ("card", "panel")
FOAMS = (0.0, 1.0, 2.0, 3.0)
GRAINS = ("", "long", "short")
LEAST_CARD, MOST_CARD = 40.0, 500.0
MOST_MATS, MOST_STRIPS, MOST_OFFCUTS = 4, 6, 40
MOST_MARGIN = 60.0


@dataclass(frozen=True)
class Mat:
    """A mat: its stock, mm of it that show around what lies on it, and so much more at the foot.

    ``rim``: where its middle is cut out and saved, mm of it that stay hidden
    under what lies on it; 0 for a whole one.
    """

    stock: str
    margin: float
    foot: float = 0.0
    rim: float = 0.0

    def __post_init__(self) -> None:
        _stock(self.stock, "mat.stock")
        finite(self.margin, "mat.margin", 0.5, MOST_MARGIN)
        finite(self.foot, "mat.foot", 0, MOST_MARGIN)
        finite(self.rim, "mat.rim", 0, MOST_MARGIN)


@dataclass(frozen=True)
class Strip:
    """A strip for words: mm, its stock; ``shadow``: stock of a strip behind it that shows ``edge`` mm; mm of foam.

    ``x``, ``y``: mm from the front's left and top to its middle; None: in the
    middle, near the foot.
    """

    width: float
    height: float
    stock: str
    shadow: str = ""
    edge: float = 1.5
    foam: float = 0.0
    x: float | None = None
    y: float | None = None

    def __post_init__(self) -> None:
        _stock(self.stock, "strip.stock")
        _stock(self.shadow, "strip.shadow", empty=True)
        finite(self.width, "strip.width", 5, MOST_CARD)
        finite(self.height, "strip.height", 3, MOST_CARD)
        finite(self.edge, "strip.edge", 0.2, 20)
        _foam(self.foam, "strip.foam")
        for name in ("x", "y"):
            if getattr(self, name) is not None:
                finite(getattr(self, name), f"strip.{name}", -MOST_CARD, 2 * MOST_CARD)


@dataclass(frozen=True)
class Finish:
    """A card: its front (mm), its fold and what lies on it, mats from the outermost in.

    ``way``: whether sizes are counted from the card inwards (the panel is cut
    to what is left) or from the panel outwards (what is left shows of the
    base). ``edge``: mm of base that show all round, ``foot`` so much more at the
    foot. ``alone``: the panel itself is folded, there is no other base.
    ``sheets``: (stock, sheet size, how its grain runs); ``offcuts``: (stock,
    width, height) that are at hand; ``blade``: mm that a cut takes away.
    """

    width: float
    height: float
    base: str
    fold: str = "side"
    way: str = "card"
    edge: float = 3.175
    foot: float = 0.0
    mats: tuple[Mat, ...] = ()
    alone: bool = False
    foam: float = 0.0
    stiffener: str = ""
    strips: tuple[Strip, ...] = ()
    sheets: tuple[tuple[str, str, str], ...] = ()
    offcuts: tuple[tuple[str, float, float], ...] = ()
    blade: float = 0.0

    def __post_init__(self) -> None:
        finite(self.width, "finish.width", LEAST_CARD, MOST_CARD)
        finite(self.height, "finish.height", LEAST_CARD, MOST_CARD)
        _stock(self.base, "finish.base")
        _stock(self.stiffener, "finish.stiffener", empty=True)
        if self.fold not in FOLDS:
            raise BadValue("A card is folded at the side, at the top or not at all.", "finish.fold")
        if self.way not in WAYS:
            raise BadValue("Sizes are counted from the card or from the panel.", "finish.way")
        finite(self.edge, "finish.edge", 0, MOST_MARGIN)
        finite(self.foot, "finish.foot", 0, MOST_MARGIN)
        finite(self.blade, "finish.blade", 0, 5)
        _foam(self.foam, "finish.foam")
        if not isinstance(self.alone, bool):
            raise BadValue("alone must be true or false.", "finish.alone")
        if self.alone and (self.mats or self.foam or self.stiffener):
            raise BadValue("A card of one layer has no mats, foam or stiffener.", "finish.alone")
        self._refuse_too_many()

    def _refuse_too_many(self) -> None:
        for name, most in (("mats", MOST_MATS), ("strips", MOST_STRIPS), ("offcuts", MOST_OFFCUTS)):
            if len(getattr(self, name)) > most:
                raise TooLarge(f"A card has at most {most} {name}.", f"finish.{name}")
        for stock, width, height in self.offcuts:
            _stock(stock, "finish.offcuts")
            finite(width, "finish.offcuts", 5, 2000)
            finite(height, "finish.offcuts", 5, 2000)
        for stock, size, grain in self.sheets:
            _stock(stock, "finish.sheets")
            if not isinstance(size, str) or grain not in GRAINS:
                raise BadValue(
                    "A sheet of stock has a size, and its grain runs long, short or unknown.", "finish.sheets"
                )

    @property
    def stocks(self) -> tuple[str, ...]:
        """All stocks that it names, each once; the panel's own is the plan's."""
        named = [] if self.alone else [self.base]
        named += [m.stock for m in self.mats] + [self.stiffener]
        named += [s for strip in self.strips for s in (strip.stock, strip.shadow)]
        return tuple(dict.fromkeys(s for s in named if s))


def _stock(value: Any, field: str, empty: bool = False) -> None:
    if not isinstance(value, str) or len(value) > 200 or not (value or empty):
        raise BadValue("A card goes by its name.", field)


def _foam(value: Any, field: str) -> None:
    if isinstance(value, bool) or value not in FOAMS:
        raise BadValue("Foam is 1, 2 or 3 mm high, or not there.", field)


def write_finish(finish: Finish) -> dict[str, Any]:
    """JSON values that ``read_finish`` reads back identical."""
    found = asdict(finish)
    rows = {name: [list(row) for row in getattr(finish, name)] for name in ("sheets", "offcuts")}
    return {**found, "mats": list(found["mats"]), "strips": list(found["strips"]), **rows}


def read_finish(value: Any) -> Finish:
    """A finish from JSON values; raises BadValue, TooLarge."""
    top = dict(readings.mapping(value, "finish"))
    if not set(top) <= {f.name for f in fields(Finish)}:
        raise BadValue("finish must say how the card is made.", "finish")
    try:
        for name, kind in (("mats", Mat), ("strips", Strip)):
            parts = readings.listing(top.get(name, []), f"finish.{name}")
            top[name] = tuple(kind(**readings.mapping(p, f"finish.{name}")) for p in parts)
        for name in ("sheets", "offcuts"):
            rows = readings.listing(top.get(name, []), f"finish.{name}")
            top[name] = tuple(_three(row, f"finish.{name}") for row in rows)
        return Finish(**top)
    except TypeError:
        raise BadValue("finish must say how the card is made.", "finish") from None


def _three(row: Any, field: str) -> Any:
    found = tuple(readings.listing(row, field))
    if len(found) != 3:
        raise BadValue(f"{field} holds rows of three.", field)
    return found
