"""Pieces laid on sheets of stock so that every cut goes from edge to edge: what a guillotine or a trimmer can do.

First-fit with split free rectangles (Jylänki, "A thousand ways to pack the
bin", 2010, the guillotine family), tried in many orders; the floor under any
layout is found apart from it (``strata.finish.floor``). Lengths are whole
units of 1/80 mm (``strata.finish.lengths``), so that sums are exact.
"""

from __future__ import annotations

import random
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, field, replace
from itertools import product

from strata.errors import BadValue
from strata.finish.floor import fewest
from strata.finish.patterns import Pattern, chosen

SEED = 5
TRIES = 144
MOST_WORK = 8_000
# pieces laid in all tries together; a third of a second or so
SORTS = ("area", "long", "short", "perimeter", "width", "height")
FITS = ("area", "short", "long")
SPLITS = ("short", "long", "small", "large")


@dataclass(frozen=True)
class Size:
    """A piece to cut: width and height in units, how many; ``turns``: whether it may lie turned by a quarter."""

    key: str
    width: int
    height: int
    count: int
    turns: bool = True


@dataclass(frozen=True)
class Placed:
    """A piece on a sheet: its left upper corner and its size as it lies, in units."""

    key: str
    x: int
    y: int
    width: int
    height: int
    turned: bool


@dataclass(frozen=True)
class SheetUsed:
    """A sheet (or an off-cut) and what is cut from it. ``of``: its place among the off-cuts, -1 for a new sheet."""

    width: int
    height: int
    pieces: tuple[Placed, ...]
    of: int = -1

    @property
    def waste(self) -> float:
        """Share of it that is in no piece, 0..1."""
        used = sum(p.width * p.height for p in self.pieces)
        return 1 - used / (self.width * self.height)


@dataclass(frozen=True)
class Laid:
    """All sheets, and how many new ones no layout can do with less than."""

    sheets: tuple[SheetUsed, ...]
    fewest: int

    @property
    def waste(self) -> float:
        """Share of all sheets that is in no piece, 0..1; off-cuts that are worth keeping count as well."""
        whole = sum(s.width * s.height for s in self.sheets)
        return sum(s.waste * s.width * s.height for s in self.sheets) / whole if whole else 0.0

    @property
    def new(self) -> int:
        """How many new sheets are taken."""
        return sum(s.of < 0 for s in self.sheets)


@dataclass
class _Open:
    """A sheet while it is filled: its free rectangles (x, y, width, height)."""

    width: int
    height: int
    of: int
    free: list[tuple[int, int, int, int]] = field(default_factory=list)
    pieces: list[Placed] = field(default_factory=list)


Free = tuple[int, int, int, int]


def laid(
    sizes: Sequence[Size],
    sheet: tuple[int, int],
    offcuts: Sequence[tuple[int, int]] = (),
    blade: int = 0,
) -> Laid:
    """Everything on as few new sheets as are found, off-cuts first.

    ``blade``: units that a cut takes away. Raises BadValue naming a piece that
    is larger than the sheet. The same layout for the same pieces every time.
    """
    for s in sizes:
        if not any(w <= sheet[0] and h <= sheet[1] for w, h in _ways(s)):
            raise BadValue(f"{s.key} is larger than the sheet that it is to be cut from.", "sheets")
    # a cut lies between two pieces: each carries one to its right and below, and the sheet one more
    wide = [replace(s, width=s.width + blade, height=s.height + blade) for s in sizes]
    kept = [(w + blade, h + blade) for w, h in offcuts]
    first = _on_offcuts(wide, kept)
    gone = Counter(p.key for used in first for p in used.pieces)
    left = [replace(s, count=s.count - gone[s.key]) for s in wide if s.count > gone[s.key]]
    new, least = _on_sheets(left, (sheet[0] + blade, sheet[1] + blade))
    # with other pieces on the off-cuts the rest might need fewer: what is least is known only without them
    return Laid(tuple(_bared(s, blade) for s in [*first, *new]), 0 if kept else least)


def _on_offcuts(sizes: Sequence[Size], kept: Sequence[tuple[int, int]]) -> list[_Open]:
    """As much as is found to fit on what is at hand."""
    if not kept:
        return []
    tries = (_filled(order, fit, split, kept) for order, fit, split in _tries(sizes))
    return max(tries, key=lambda found: sum(p.width * p.height for s in found for p in s.pieces), default=[])


def _on_sheets(sizes: Sequence[Size], stock: tuple[int, int]) -> tuple[list[_Open], int]:
    """New sheets for these pieces, and the fewest that any layout needs."""
    wanted = [(s.width, s.height, s.count, s.turns) for s in sizes]
    least = fewest(wanted, stock)
    best, seen = _best(sizes, stock, least)
    if len(best) > max(least, 1):
        better = chosen(wanted, stock, [_pattern(s, sizes) for s in [*best, *seen]])
        least = max(least, fewest(wanted, stock, [better.worth]))
        if better.sheets and len(better.sheets) < len(best):
            best = [_opened(p, sizes, stock) for p in better.sheets]
    return best, least


def _pattern(sheet: _Open, sizes: Sequence[Size]) -> Pattern:
    place = {s.key: i for i, s in enumerate(sizes)}
    return Pattern(tuple((place[p.key], p.x, p.y, p.turned) for p in sheet.pieces))


def _opened(pattern: Pattern, sizes: Sequence[Size], stock: tuple[int, int]) -> _Open:
    pieces = []
    for i, x, y, turned in pattern.spots:
        s = sizes[i]
        w, h = (s.height, s.width) if turned else (s.width, s.height)
        pieces.append(Placed(s.key, x, y, w, h, turned))
    return _Open(*stock, -1, [], pieces)


def _best(sizes: Sequence[Size], stock: tuple[int, int], least: int) -> tuple[list[_Open], list[_Open]]:
    """The best layout of all tries, and every sheet that was filled on the way."""
    best: list[_Open] = []
    seen: list[_Open] = []
    for order, fit, split in _tries(sizes):
        found = _filled(order, fit, split, (), stock)
        seen += found
        if not best or (len(found), _scattered(found)) < (len(best), _scattered(best)):
            best = found
        if len(found) <= least:
            break
    return best, seen


def _scattered(sheets: Sequence[_Open]) -> float:
    """Less where what is left over is in one large piece on one sheet."""
    return -max((w * h for s in sheets for _, _, w, h in s.free), default=0)


def _tries(sizes: Sequence[Size]) -> Iterator[tuple[list[Size], str, str]]:
    """Orders and manners to try: every sort by every fit and split, then the sorts a little shuffled."""
    pieces, count = [s for s in sizes for _ in range(s.count)], 0
    if not pieces:
        return
    most = min(TRIES, max(24, MOST_WORK // max(1, len(pieces))))
    for sort, fit, split in product(SORTS, FITS, SPLITS):
        if count == most:
            return
        count += 1
        yield sorted(pieces, key=lambda s: (_by(s, sort), s.key), reverse=True), fit, split
    rng = random.Random(SEED)  # noqa: S311 - the same layout every time is what is wanted
    while count < most:
        count += 1
        sort = rng.choice(SORTS)
        shuffled = sorted(pieces, key=lambda s: _by(s, sort) * rng.uniform(0.6, 1.4), reverse=True)
        yield shuffled, rng.choice(FITS), rng.choice(SPLITS)


def _by(s: Size, sort: str) -> int:
    return {
        "area": s.width * s.height,
        "long": max(s.width, s.height),
        "short": min(s.width, s.height),
        "perimeter": s.width + s.height,
        "width": s.width,
        "height": s.height,
    }[sort]


def _ways(s: Size) -> list[tuple[int, int]]:
    ways = [(s.width, s.height)]
    return [*ways, (s.height, s.width)] if s.turns and s.width != s.height else ways


def _filled(
    order: Sequence[Size],
    fit: str,
    split: str,
    kept: Sequence[tuple[int, int]],
    stock: tuple[int, int] | None = None,
) -> list[_Open]:
    """What is at hand filled, and as many sheets of ``stock`` as it then takes; without, what does not fit is left out."""
    opened = [_Open(w, h, n, [(0, 0, w, h)]) for n, (w, h) in enumerate(kept)]
    for s in order:
        place = _place(opened, s, fit)
        if place is None and stock is not None:
            opened.append(_Open(*stock, -1, [(0, 0, *stock)]))
            place = _place(opened, s, fit)
        if place is None:
            continue
        sheet, at, (w, h) = opened[place[0]], place[1], place[2]
        x, y, fw, fh = sheet.free.pop(at)
        sheet.pieces.append(Placed(s.key, x, y, w, h, (w, h) != (s.width, s.height)))
        sheet.free += [f for f in _split((x, y, fw, fh), w, h, split) if f[2] > 0 and f[3] > 0]
    return [s for s in opened if s.pieces]


def _place(opened: Sequence[_Open], s: Size, fit: str) -> tuple[int, int, tuple[int, int]] | None:
    """Sheet, free rectangle and way of lying where a piece fits best."""
    ways = _ways(s)
    best: tuple[int, int, tuple[int, int]] | None = None
    score: tuple[int, int] | None = None
    for n, sheet in enumerate(opened):
        for at, (_, _, fw, fh) in enumerate(sheet.free):
            for w, h in ways:
                if w > fw or h > fh:
                    continue
                mine = _fit(fw, fh, w, h, fit)
                if score is None or mine < score:
                    best, score = (n, at, (w, h)), mine
    return best


def _fit(fw: int, fh: int, w: int, h: int, fit: str) -> tuple[int, int]:
    short, long = sorted((fw - w, fh - h))
    if fit == "area":
        return fw * fh - w * h, short
    return (short, long) if fit == "short" else (long, short)


def _split(free: Free, w: int, h: int, split: str) -> list[Free]:
    """What is left of a free rectangle beside a piece in its corner, by one cut from edge to edge and one up to it."""
    x, y, fw, fh = free
    right, below = fw - w, fh - h
    across = {
        "short": fw < fh,
        "long": fw >= fh,
        "small": right * h < below * w,
        "large": right * h >= below * w,
    }[split]
    if across:
        return [(x + w, y, right, h), (x, y + h, fw, below)]
    return [(x + w, y, right, fh), (x, y + h, w, below)]


def _bared(s: _Open, blade: int) -> SheetUsed:
    """A sheet and its pieces without what the blade takes."""
    bare = tuple(Placed(p.key, p.x, p.y, p.width - blade, p.height - blade, p.turned) for p in s.pieces)
    return SheetUsed(s.width - blade, s.height - blade, bare, s.of)
