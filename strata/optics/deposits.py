"""From swatches to what a coat absorbs and scatters, on card of a finish."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Protocol, TypeVar

import numpy as np

from strata.optics import layers
from strata.optics.colour import Floats, Lab
from strata.optics.spectrum import BANDS, reflectance

DARK_ENOUGH = 30.0
# L* between two cards before they separate scattering from absorption reliably
_HALF_TOLD = 10.0
# L* either side of that over which a measured scattering takes the place of a guessed one
_LIKE = 3.0
# L* by which a card may be darker than the lightest before a dye's swatch there says a third as much


class Dab(Protocol):
    """What is known of a swatch: its colour, the card's and the card's finish, and how many coats it is."""

    @property
    def on(self) -> Lab: ...
    @property
    def lab(self) -> Lab: ...
    @property
    def coats(self) -> float: ...
    @property
    def finish(self) -> str: ...


D = TypeVar("D", bound=Dab)
Groups = Mapping[float, list[D]]
Row = tuple[Lab, Lab, bool, float]
# a swatch's colour, its card's, whether the ink is opaque, and its S x


class Kind(Protocol):
    """What is known of a kind of ink; ``scattering`` is S x of a coat where swatches do not tell it."""

    @property
    def opaque(self) -> bool: ...
    @property
    def scattering(self) -> float: ...


@dataclass(frozen=True)
class Deposit:
    """What lies on the card after ``coats`` coats: K x and S x per band (36,), both >= 0."""

    coats: float
    absorbed: Floats
    scattered: Floats


_NOTHING = Deposit(0.0, np.zeros(BANDS), np.zeros(BANDS))


def by_coats(swatches: Sequence[D]) -> dict[float, list[D]]:
    """Swatches by how many coats they are, fewest first."""
    groups: dict[float, list[D]] = defaultdict(list)
    for swatch in swatches:
        groups[round(float(swatch.coats), 3)].append(swatch)
    return dict(sorted(groups.items()))


def pair(group: Sequence[D], least: float = DARK_ENOUGH) -> tuple[D, D] | None:
    """The swatches on the lightest and the darkest card, where those are ``least`` L* apart."""
    light = max(group, key=lambda s: s.on[0])
    dark = min(group, key=lambda s: s.on[0])
    return (light, dark) if light.on[0] - dark.on[0] >= least else None


def fitting(swatches: Sequence[D], finish: str) -> list[D]:
    """The swatches that tell of a finish: those made on card of that finish or of one nobody knows; else all."""
    like = layers.INTERNAL[finish]
    own = [s for s in swatches if not finish or not s.finish or layers.INTERNAL[s.finish] == like]
    return own or list(swatches)


def deposits_of(told: Sequence[tuple[Sequence[D], Kind]], finish: str) -> list[tuple[Deposit, ...]]:
    """The deposits that inks' swatches tell, in order of coats, each at least as heavy as the one before.

    A swatch made on card of another finish is taken to look the same on this
    one: there is no measured case to say how it changes. Many inks at once take
    a tenth of the time of one by one.
    """
    grouped = [(_telling(by_coats(fitting(swatches, finish)), kind), kind) for swatches, kind in told]
    clear = [(groups, kind) for groups, kind in grouped if not kind.opaque]
    known = _absorptions(
        [_row(s, kind, coats) for groups, kind in clear for coats, group in groups.items() for s in group],
        finish,
    )
    return [
        _rising(_opaque(groups, kind, finish) if kind.opaque else _clear(groups, kind, known))
        for groups, kind in grouped
    ]


def _telling(groups: Groups[D], kind: Kind) -> Groups[D]:
    """The swatches that tell something of an ink: of a dye, those on dark card say little."""
    if kind.opaque:
        return groups
    least = max(s.on[0] for group in groups.values() for s in group) - DARK_ENOUGH
    return {coats: group for coats, group in groups.items() if max(s.on[0] for s in group) > least}


def _rising(found: Sequence[Deposit]) -> tuple[Deposit, ...]:
    rising, last = [], _NOTHING
    for d in found:
        last = Deposit(
            d.coats, np.maximum(d.absorbed, last.absorbed), np.maximum(d.scattered, last.scattered)
        )
        rising.append(last)
    return tuple(rising)


def around(measured: Sequence[Deposit], coats: float) -> tuple[Deposit, Deposit]:
    """The two measured ones that a number of coats lies between, or past which it goes on."""
    below = _NOTHING
    for above in measured:
        if coats <= above.coats:
            return below, above
        previous, below = below, above
    return previous, below


def between(measured: Sequence[Deposit], coats: float) -> Deposit:
    """The deposit of any number of coats by the measured ones around it, or past them."""
    return _mixed(*around(measured, coats), coats)


def _mixed(low: Deposit, high: Deposit, coats: float) -> Deposit:
    share = (coats - low.coats) / (high.coats - low.coats)
    return Deposit(
        coats,
        np.maximum(low.absorbed + share * (high.absorbed - low.absorbed), 0),
        np.maximum(low.scattered + share * (high.scattered - low.scattered), 0),
    )


def _absorptions(rows: Sequence[Row], finish: str) -> dict[Row, Floats]:
    """K x (36,) that brings each swatch's card to its colour for a known S x of all bands."""
    asked = list(dict.fromkeys(rows))
    if not asked:
        return {}
    seen = layers.inside(np.array([reflectance(lab, on, opaque) for lab, on, opaque, _ in asked]), finish)
    cards = layers.inside(np.array([reflectance(on) for _, on, _, _ in asked]), finish)
    found = layers.absorption_for(seen, cards, np.array([row[3] for row in asked])[:, None])
    return dict(zip(asked, found, strict=True))


def _row(swatch: Dab, kind: Kind, coats: float) -> Row:
    return swatch.lab, swatch.on, kind.opaque, kind.scattering * coats


def _clear(groups: Groups[D], kind: Kind, known: Mapping[Row, Floats]) -> list[Deposit]:
    """A dye's, by its swatches on the lightest card most."""
    result = []
    for coats, group in groups.items():
        lightest = max(s.on[0] for s in group)
        weights = np.exp([(s.on[0] - lightest) / _LIKE for s in group])
        absorbed = np.array([known[_row(s, kind, coats)] for s in group])
        scattered = np.full(BANDS, kind.scattering * coats)
        result.append(Deposit(coats, weights @ absorbed / weights.sum(), scattered))
    return result


def _opaque(groups: Groups[D], kind: Kind, finish: str) -> list[Deposit]:
    result: list[Deposit] = []
    for coats, group in groups.items():
        usual = _scattering(kind.scattering, result, coats)
        two = pair(group, DARK_ENOUGH - _HALF_TOLD)
        share = 0.0
        absorbed: Floats = np.zeros(BANDS)
        scattered: Floats = np.zeros(BANDS)
        if two:
            apart = two[0].on[0] - two[1].on[0]
            share = min(1.0, (apart - DARK_ENOUGH + _HALF_TOLD) / (2 * _HALF_TOLD))
            k, s = layers.scattering_pair(
                *(layers.inside(reflectance(w.lab, w.on, True), finish) for w in two),
                *(layers.inside(reflectance(w.on), finish) for w in two),
            )
            absorbed, scattered = share * np.maximum(k, 0), share * np.maximum(s, 0)
        if share < 1:
            lightest = max(group, key=lambda w: w.on[0])
            row = (lightest.lab, lightest.on, True, usual)
            absorbed = absorbed + (1 - share) * _absorptions([row], finish)[row]
            scattered = scattered + (1 - share) * usual
        result.append(Deposit(coats, absorbed, scattered))
    return result


def _scattering(usual: float, known: list[Deposit], coats: float) -> float:
    """S x for a count seen on light card only: scaled from a known one, or the usual one."""
    if known:
        return float(known[-1].scattered.mean() / known[-1].coats * coats)
    return usual * coats
