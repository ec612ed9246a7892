"""Every piece that a card is cut from, to the unit: base with its score, panel, mats, frames, strips, stiffener."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from strata.finish.lengths import mm, units
from strata.panel.size import PanelSize
from strata.plan.finish import Finish, Mat

STIFFENER_LESS = 3.175
# mm that what stiffens stays inside what it stiffens, both ways
LEAST = 5.0


@dataclass(frozen=True)
class Score:
    """A fold: ``down`` for a line from top to foot, and its way from the left or the top, units."""

    down: bool
    at: int


@dataclass(frozen=True)
class Piece:
    """A piece to cut, upright as it is used: units, its stock, how many for one card.

    ``window``: (x, y, width, height) that is cut out of its middle and saved;
    ``up``: which way up it goes.
    """

    key: str
    name: str
    stock: str
    width: int
    height: int
    scores: tuple[Score, ...] = ()
    window: tuple[int, int, int, int] | None = None
    up: str = ""

    @property
    def area(self) -> float:
        """mm2 of card that stays."""
        whole = mm(self.width) * mm(self.height)
        return whole - (mm(self.window[2]) * mm(self.window[3]) if self.window else 0.0)


@dataclass(frozen=True)
class Pieces:
    """All pieces of one card, where each lies on its front, and what is wrong with their sizes."""

    pieces: tuple[Piece, ...]
    places: dict[str, tuple[int, int]]
    panel: tuple[int, int]
    shows: tuple[int, int, int, int]
    problems: tuple[str, ...]


def pieces_of(finish: Finish, panel: PanelSize, stock: str) -> Pieces:
    """``panel`` as it is planned, of its ``stock``.

    ``shows``: units of the base to the left, right, above and below what lies on it.
    """
    front = units(finish.width), units(finish.height)
    planned = units(panel.width - 2 * panel.trim), units(panel.height - 2 * panel.trim)
    if finish.alone:
        return _alone(finish, front, planned, stock)
    if finish.way == "card":
        sizes = _inwards(finish, front)
        shows = (units(finish.edge),) * 3 + (units(finish.edge) + units(finish.foot),)
    else:
        sizes = _outwards(finish, planned)
        spare = front[0] - sizes[0][0], front[1] - sizes[0][1] - units(finish.foot)
        shows = (
            spare[0] // 2,
            spare[0] - spare[0] // 2,
            spare[1] // 2,
            spare[1] - spare[1] // 2 + units(finish.foot),
        )
    problems = tuple(_problems(finish, sizes, planned, shows))
    places: dict[str, tuple[int, int]] = {"base": (0, 0)}
    x, y = shows[0], shows[2]
    pieces = [_base(finish, front)]
    for n, mat in enumerate(finish.mats):
        key, (width, height) = f"mat {n + 1}", sizes[n]
        places[key] = (x, y)
        pieces.append(
            Piece(key, _mat_name(finish, n), mat.stock, width, height, window=_window(mat, sizes[n + 1]))
        )
        x, y = x + units(mat.margin), y + units(mat.margin)
    width, height = sizes[-1]
    places["panel"] = (x, y)
    pieces.append(
        Piece("panel", "Panel", stock, width, height, up="Inked side up, its foot to the foot of the card.")
    )
    if finish.stiffener:
        less = units(STIFFENER_LESS)
        pieces.append(
            Piece("stiffener", "Stiffener behind the panel", finish.stiffener, width - less, height - less)
        )
    pieces += _strips(finish)
    return Pieces(tuple(pieces), places, sizes[-1], shows, problems)


def _mat_name(finish: Finish, n: int) -> str:
    called = "Mat" if len(finish.mats) == 1 else f"Mat {n + 1}"
    return f"{called}, a frame" if finish.mats[n].rim else called


def _alone(finish: Finish, front: tuple[int, int], planned: tuple[int, int], stock: str) -> Pieces:
    base = _base(finish, front)
    piece = Piece("base", "Card, inked on its front", stock, base.width, base.height, base.scores, up=base.up)
    problems: tuple[str, ...] = ()
    if planned[0] > front[0] or planned[1] > front[1]:
        problems = ("The panel as it is planned is larger than the front of the card.",)
    return Pieces((piece, *_strips(finish)), {"base": (0, 0)}, front, (0, 0, 0, 0), problems)


def _base(finish: Finish, front: tuple[int, int]) -> Piece:
    width, height = front
    if finish.fold == "side":
        up = "The front is the right half, its fold at the left."
        return Piece("base", "Base", finish.base, 2 * width, height, (Score(True, width),), up=up)
    if finish.fold == "top":
        up = "The front is the lower half, its fold at the top."
        return Piece("base", "Base", finish.base, width, 2 * height, (Score(False, height),), up=up)
    return Piece("base", "Base, not folded", finish.base, width, height)


def _inwards(finish: Finish, front: tuple[int, int]) -> list[tuple[int, int]]:
    """Sizes from the outermost mat to the panel, each smaller than the one below by what shows of that."""
    edge = 2 * units(finish.edge)
    size = front[0] - edge, front[1] - edge - units(finish.foot)
    found = [size]
    for mat in finish.mats:
        less = 2 * units(mat.margin)
        size = size[0] - less, size[1] - less - units(mat.foot)
        found.append(size)
    return found


def _outwards(finish: Finish, panel: tuple[int, int]) -> list[tuple[int, int]]:
    found = [panel]
    for mat in reversed(finish.mats):
        more = 2 * units(mat.margin)
        width, height = found[0]
        found.insert(0, (width + more, height + more + units(mat.foot)))
    return found


def _window(mat: Mat, above: tuple[int, int]) -> tuple[int, int, int, int] | None:
    if not mat.rim:
        return None
    less, at = 2 * units(mat.rim), units(mat.margin) + units(mat.rim)
    return (at, at, above[0] - less, above[1] - less)


def strip_name(finish: Finish, n: int) -> str:
    """What a strip is called, counted from 1 where there are several."""
    return "Strip for words" if len(finish.strips) == 1 else f"Strip for words {n}"


def _strips(finish: Finish) -> Iterator[Piece]:
    for n, strip in enumerate(finish.strips, 1):
        called = strip_name(finish, n)
        width, height = units(strip.width), units(strip.height)
        yield Piece(f"strip {n}", called, strip.stock, width, height)
        if strip.shadow:
            more = 2 * units(strip.edge)
            yield Piece(f"shadow {n}", f"{called}, its shadow", strip.shadow, width + more, height + more)


def _problems(
    finish: Finish, sizes: list[tuple[int, int]], planned: tuple[int, int], shows: tuple[int, ...]
) -> Iterator[str]:
    if min(*sizes[-1], *sizes[0]) < units(LEAST):
        yield "So many margins leave nothing of the panel."
        return
    if finish.way == "card":
        wide, high = sizes[-1][0] - planned[0], sizes[-1][1] - planned[1]
        if wide > 0 or high > 0:
            yield "The panel as it is planned is smaller than the place that is left for it: more of what is under it will show."
    elif min(shows) < 0:
        yield "What lies on the card is larger than its front: take less margin, or a larger card."
    for n, mat in enumerate(finish.mats):
        if mat.rim and min(sizes[n + 1]) - 2 * units(mat.rim) < units(LEAST):
            yield f"Mat {n + 1} has no middle to cut out with so wide a rim."
