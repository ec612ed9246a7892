"""The cuts that part a sheet into its pieces, each from edge to edge of what is in hand, in the order to make them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from strata.finish.lay import Placed, SheetUsed
from strata.finish.lengths import units

KEPT = units(25.0)
# an off-cut narrower than that is thrown away
Box = tuple[int, int, int, int]


@dataclass(frozen=True)
class Cut:
    """One cut. ``box``: the part in hand (left, top, width, height on the sheet); ``down``: from its top to its foot;
    ``at``: units from its left edge, or from its top."""

    box: Box
    down: bool
    at: int


@dataclass(frozen=True)
class CutUp:
    """A sheet cut up: cuts in their order, and what is left over (boxes on the sheet), the large ones worth keeping."""

    cuts: tuple[Cut, ...]
    kept: tuple[Box, ...]


def cut_up(sheet: SheetUsed, blade: int = 0) -> CutUp:
    """Raises ValueError for pieces that no cuts from edge to edge can part."""
    cuts: list[Cut] = []
    left: list[Box] = []
    _part((0, 0, sheet.width, sheet.height), sheet.pieces, blade, cuts, left)
    return CutUp(tuple(cuts), tuple(b for b in left if min(b[2], b[3]) >= KEPT))


def _part(box: Box, pieces: Sequence[Placed], blade: int, cuts: list[Cut], left: list[Box]) -> None:
    if not pieces:
        left.append(box)
        return
    x, y, width, height = box
    only = pieces[0]
    if len(pieces) == 1 and (only.x, only.y, only.width, only.height) == box:
        return
    cut = next(iter(sorted(_possible(box, pieces, blade), key=lambda c: _rank(c, box, pieces))), None)
    if cut is None:
        raise ValueError("No cut from edge to edge parts these pieces.")
    cuts.append(cut)
    if cut.down:
        one, rest = (x, y, cut.at, height), (x + cut.at + blade, y, width - cut.at - blade, height)
        near = [p for p in pieces if p.x + p.width <= x + cut.at]
    else:
        one, rest = (x, y, width, cut.at), (x, y + cut.at + blade, width, height - cut.at - blade)
        near = [p for p in pieces if p.y + p.height <= y + cut.at]
    _part(one, near, blade, cuts, left)
    if rest[2] > 0 and rest[3] > 0:
        _part(rest, [p for p in pieces if p not in near], blade, cuts, left)


def _possible(box: Box, pieces: Sequence[Placed], blade: int) -> Iterator[Cut]:
    """Cuts that go through no piece: where one ends, or so that the next begins where the blade is through."""
    x, y, width, height = box
    for down, start, length in ((True, x, width), (False, y, height)):
        spans = [(p.x, p.x + p.width) if down else (p.y, p.y + p.height) for p in pieces]
        for at in sorted({b for _, b in spans} | {a - blade for a, _ in spans}):
            if start < at < start + length and all(
                b <= at or a >= min(at + blade, start + length) for a, b in spans
            ):
                yield Cut(box, down, at - start)


def _rank(cut: Cut, box: Box, pieces: Sequence[Placed]) -> tuple[int, int, int]:
    """What parts the pieces most evenly first, the shorter cut before; an off-cut comes off last."""
    x, y, _, _ = box
    edge = (x if cut.down else y) + cut.at
    near = sum((p.x + p.width if cut.down else p.y + p.height) <= edge for p in pieces)
    parted = min(near, len(pieces) - near)
    length = box[3] if cut.down else box[2]
    return (-parted, length, cut.at)
