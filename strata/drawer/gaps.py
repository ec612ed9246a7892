"""What a drawer lacks, what it has twice, and what is ranked out of order; each in a sentence.

Hues by the angle h_ab in CIELAB, tones by L*, both of the ink on the chosen
card. What counts as a shadow or a highlight follows the card: on kraft
nothing translucent is lighter than kraft.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import Lab, differences
from strata.optics.dabs import COATS, dabs
from strata.optics.inks import Ink
from strata.optics.stack import Stock

Floats = NDArray[np.float64]
LEAST_CHROMA = 12.0
# C*ab under which an ink counts among the greys
LIGHT = 0.5
# coats of a light hand
DARK_CARD = 50.0
# L* of a card on which dyes do not show
HIGHLIGHT = 0.80
# of the card's own L*: a family whose palest pad is darker has nothing for a light
MIDDLE = 20.0
# L* between two tones of one hue with nothing between them
TWINS = 1.0
# CIEDE2000 at every number of coats under which nobody can tell two pads apart
OUT_OF_ORDER = 1.5
# L* by which a pad ranked deeper may be the lighter one before it is said


@dataclass(frozen=True)
class Sector:
    """A range of hues with a name; ``shadow`` is the L* on white below which it has a shadow.

    Yellow has no dark: its shadows are ochres and browns, which lie higher.
    """

    name: str
    low: float
    high: float
    shadow: float = 43.0

    @property
    def middle(self) -> float:
        """Its middle hue, degrees."""
        return (self.low + (self.high - self.low) % 360 / 2) % 360

    def holds(self, hue: float) -> bool:
        """Whether a hue in degrees lies in it."""
        return (hue - self.low) % 360 < (self.high - self.low) % 360


SECTORS = (
    Sector("pinks", 335, 15),
    Sector("reds", 15, 45),
    Sector("oranges", 45, 72, 50),
    Sector("yellows", 72, 108, 58),
    Sector("greens", 108, 180),
    Sector("teals", 180, 228),
    Sector("blues", 228, 290),
    Sector("violets", 290, 335),
)


@dataclass(frozen=True)
class Gap:
    """One thing worth knowing about a drawer.

    ``kind``: shadow, highlight, middle, hue, grey, twins, rank, dark card.
    ``hue`` (from, to) degrees and ``lightness`` (from, to) L* where it lies on
    the map; ``wanted`` a colour that would fill it; ``inks`` the pads it is about.
    """

    kind: str
    sentence: str
    inks: tuple[str, ...] = ()
    hue: tuple[float, float] | None = None
    lightness: tuple[float, float] | None = None
    wanted: Lab | None = None


def sector_of(lab: Sequence[float]) -> Sector | None:
    """The sector of a colour, or None for a grey."""
    if np.hypot(lab[1], lab[2]) < LEAST_CHROMA:
        return None
    hue = float(np.degrees(np.arctan2(lab[2], lab[1])) % 360)
    return next(s for s in SECTORS if s.holds(hue))


def gaps(inks: Sequence[Ink], stock: Stock) -> tuple[Gap, ...]:
    """Everything worth knowing about these pads on this card, the most useful first."""
    if not inks:
        return ()
    every = dabs(inks, stock, (LIGHT, *COATS))
    pale, labs = every[:, 0], every[:, 1:]
    shown = np.ones(len(inks), bool)
    found: list[Gap] = []
    if stock.lab[0] < DARK_CARD:
        shown = np.array([i.chemistry.opaque for i in inks])
        found.append(_dark_card(inks, shown, stock))
    by_sector = [
        [i for i in range(len(inks)) if shown[i] and sector_of(labs[i, 0]) is sector] for sector in SECTORS
    ]
    for sector, members in zip(SECTORS, by_sector, strict=True):
        if members:
            found += _tones(sector, [inks[i] for i in members], labs[members], pale[members], stock)
        else:
            found.append(_missing(sector, stock))
    if stock.lab[0] >= DARK_CARD:
        found += _greys(inks, labs, stock)
    return (*found, *_twins(inks, labs, shown), *_ranks(inks, labs))


def _dark_card(inks: Sequence[Ink], shown: NDArray[np.bool_], stock: Stock) -> Gap:
    name, count = stock.name or "this card", int(shown.sum())
    if not count:
        return Gap("dark card", f"Nothing in the drawer shows on {name}: every pad is translucent.")
    said = f"On {name} only the opaque pads show: {count} of {len(inks)}."
    return Gap("dark card", said, tuple(i.key for i, s in zip(inks, shown, strict=True) if s))


def _missing(sector: Sector, stock: Stock) -> Gap:
    lightness = 0.6 * stock.lab[0] if stock.lab[0] >= DARK_CARD else 55.0
    return Gap(
        "hue",
        f"There are no {sector.name} in the drawer.",
        (),
        (sector.low, sector.high),
        (0.3 * stock.lab[0], 0.85 * stock.lab[0]) if stock.lab[0] >= DARK_CARD else (35.0, 80.0),
        _of_hue(sector.middle, lightness, 40.0),
    )


def _of_hue(hue: float, lightness: float, chroma: float) -> Lab:
    a, b = chroma * np.cos(np.radians(hue)), chroma * np.sin(np.radians(hue))
    return round(lightness, 1), round(float(a), 1), round(float(b), 1)


def _tones(sector: Sector, own: list[Ink], labs: Floats, pale: Floats, stock: Stock) -> list[Gap]:
    """Where the tones of one hue end, and where they leave a hole; a second coat counts, and a third for holes."""
    scale = stock.lab[0] / 95.8 if stock.lab[0] >= DARK_CARD else 1.0
    hue, chroma = _mean_hue(labs[:, 0]), float(np.hypot(labs[:, 0, 1], labs[:, 0, 2]).mean())
    where, keys = (sector.low, sector.high), tuple(i.key for i in own)
    light, deep = float(pale[:, 0].max()), float(labs[:, :2, 0].min())
    found = []
    shadow, highlight = sector.shadow * scale, HIGHLIGHT * stock.lab[0]
    if deep > shadow:
        words = f"Your {sector.name} stop at L* {deep:.0f}, two coats included: nothing for a shadow."
        wanted = _of_hue(hue, shadow - 8, min(chroma, 35))
        found.append(Gap("shadow", words, keys, where, (max(shadow - 20, 5), deep), wanted))
    if light < highlight and stock.lab[0] >= DARK_CARD:
        words = f"Your {sector.name} begin at L* {light:.0f}, even with a light hand: nothing for a highlight but bare card."
        wanted = _of_hue(hue, highlight + 4, min(chroma, 22))
        found.append(Gap("highlight", words, keys, where, (light, min(stock.lab[0], highlight + 12)), wanted))
    steps = np.sort(labs[..., 0].ravel())
    at = int(np.argmax(np.diff(steps))) if len(steps) > 1 else 0
    if len(steps) > 1 and steps[at + 1] - steps[at] > MIDDLE:
        low, high = float(steps[at]), float(steps[at + 1])
        words = f"Your {sector.name} jump from L* {high:.0f} to {low:.0f}, with nothing between."
        found.append(
            Gap("middle", words, keys, where, (low, high), _of_hue(hue, (low + high) / 2, min(chroma, 45)))
        )
    return found


def _mean_hue(labs: Floats) -> float:
    return float(np.degrees(np.arctan2(labs[:, 2].mean(), labs[:, 1].mean())) % 360)


def _greys(inks: Sequence[Ink], labs: Floats, stock: Stock) -> list[Gap]:
    own = [i for i in range(len(inks)) if sector_of(labs[i, 0]) is None]
    deep = min((float(labs[i, :, 0].min()) for i in own), default=100.0)
    if deep < 32:
        return []
    said = (
        f"Your greys stop at L* {deep:.0f}: nothing near black."
        if own
        else "There is no grey or black in the drawer."
    )
    return [Gap("grey", said, tuple(inks[i].key for i in own), None, (5, min(deep, 60.0)), (22.0, 0.0, 0.0))]


def _twins(inks: Sequence[Ink], labs: Floats, shown: NDArray[np.bool_]) -> list[Gap]:
    from scipy.spatial import cKDTree

    near = cKDTree(labs[:, 0]).query_pairs(4.0, output_type="ndarray")
    if not len(near):
        return []
    off = differences(labs[near[:, 0]], labs[near[:, 1]]).max(axis=1)
    told: list[list[int]] = []
    of: dict[int, list[int]] = {}
    # nearest first: each pad is told of once, with the first that it is like
    for (a, b), worst in sorted(zip(near.tolist(), off.tolist(), strict=True), key=lambda item: item[1]):
        # a pen is no twin of a pad, though both be white
        alike = inks[a].chemistry.key == inks[b].chemistry.key
        if worst >= TWINS or not (shown[a] and shown[b] and alike) or (a in of and b in of):
            continue
        if a not in of and b not in of:
            told.append([a, b])
            of[a] = of[b] = told[-1]
            continue
        new, known = (b, of[a]) if a in of else (a, of[b])
        if _apart(labs, new, known) < TWINS:
            known.append(new)
            of[new] = known
    return [_told_once(inks, labs, own) for own in told]


def _apart(labs: Floats, one: int, others: list[int]) -> float:
    """CIEDE2000 at every number of coats between a pad and each of some others, the largest."""
    return float(differences(labs[one][None], labs[others]).max())


def _told_once(inks: Sequence[Ink], labs: Floats, own: list[int]) -> Gap:
    keys = tuple(inks[i].key for i in own)
    if len(own) == 2:
        off = _apart(labs, own[0], own[1:])
        words = (
            f"{inks[own[0]].name} and {inks[own[1]].name} are two pads nobody could tell apart ({off:.1f})."
        )
        return Gap("twins", words, keys)
    names = [inks[i].name for i in own]
    rest = f"{names[2]}" if len(own) == 3 else f"{len(own) - 2} more"
    return Gap(
        "twins", f"{names[0]}, {names[1]} and {rest} are {len(own)} pads nobody could tell apart.", keys
    )


def _ranks(inks: Sequence[Ink], labs: Floats) -> list[Gap]:
    families: dict[tuple[str, str], list[int]] = {}
    for i, ink in enumerate(inks):
        if ink.family and ink.depth:
            families.setdefault((ink.line, ink.family), []).append(i)
    found = []
    for (_, family), own in families.items():
        own.sort(key=lambda i: inks[i].depth)
        for a, b in pairwise(own):
            if inks[a].depth < inks[b].depth and labs[b, 0, 0] > labs[a, 0, 0] + OUT_OF_ORDER:
                words = f"{inks[b].name} is ranked deeper than {inks[a].name} in {family}, but it is the lighter of the two."
                found.append(Gap("rank", words, (inks[a].key, inks[b].key)))
    return found
