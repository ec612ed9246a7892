"""What photographed cards say of pads and hands: a small fit, held to no change where little is known.

For every pad its strength and which way its hue leans, for every hand how
much it lays; and for every photograph the error of its light and of its
camera's channels, so that a warm lamp is not learned as a warm pad. Maximum a
posteriori by scipy's least_squares (trust region, a loss that outliers do not
drive), with normal priors: a pad that one small leaf shows
hardly moves, and one that nothing shows does not.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from strata.optics.colour import XYZ_WEIGHTS, Lab, differences, lab_from_xyz
from strata.optics.learned import AS_MEASURED, MOST_LEAN, MOST_STRENGTH, Learned
from strata.photographed.reading import RegionReading
from strata.photographed.regions import STAND_FOR, Region
from strata.picture.colours import reflectances
from strata.picture.layers import Layer
from strata.picture.raster import Floats32
from strata.picture.shown import View
from strata.plan.media import BOTTLES
from strata.swatchcard.correct import lab_of, linear_of

Floats = NDArray[np.float64]
STRENGTH, LEAN, HAND = 0.3, 0.15, 0.2
# standard deviation of the logarithm of a pad's strength, of its lean, of the logarithm of a hand's
CAMERA, GAIN = 0.05, 0.02
# of a photograph: of the six numbers of a matrix that keeps white, and of each channel's gain
READ = 1.0
# CIELAB units (weighted as in CIE94) that a reading is off by itself; regions of one pad are off together
COUNTS = ("good", "strong")
# states of a region that are gone by
LEAST_AREA = 6.0
# mm2 of a region
MOVED = 0.02
# below it a pad was not moved

Progress = Callable[[float], None]


@dataclass(frozen=True, eq=False)
class Shown:
    """A photographed card: the view that was predicted from what was done, its regions, and what each came out like."""

    view: View
    regions: tuple[Region, ...]
    found: tuple[RegionReading, ...]

    @cached_property
    def usable(self) -> tuple[int, ...]:
        """The regions that are gone by."""
        pairs = zip(self.regions, self.found, strict=True)
        return tuple(i for i, (r, f) in enumerate(pairs) if f.state in COUNTS and r.area >= LEAST_AREA)

    @cached_property
    def levels(self) -> Floats32:
        """Levels (regions x STAND_FOR, layers) of the stacks that stand for the usable regions."""
        rows = [s for i in self.usable for s in self.regions[i].stacks]
        return self.view.stacks.levels[rows]

    @cached_property
    def labs(self) -> Floats:
        """What the usable regions came out like (n, 3)."""
        return np.array([self.found[i].lab for i in self.usable], float).reshape(-1, 3)

    @cached_property
    def inks(self) -> frozenset[str]:
        """Keys of the pads that some usable region shows."""
        there = np.atleast_1d((self.levels > 0.05).any(axis=0))
        layers = zip(self.view.layers, there, strict=True)
        return frozenset(x.ink.key for x, t in layers if t and x.ink is not None and x.ink.key not in BOTTLES)


@dataclass(frozen=True)
class Habits:
    """What was learned: of pads by key, and of hands (shares of what is usual)."""

    inks: Mapping[str, Learned]
    hands: Mapping[str, float]


NOTHING = Habits({}, {})


@dataclass(frozen=True)
class Lesson:
    """Habits, and what they make better: mean CIEDE2000 of all regions as measured and with them; by how many cards."""

    habits: Habits
    before: float
    after: float
    cards: int


def recoloured(view: View, habits: Habits) -> list[Layer]:
    """The layers of a view with other habits than those of its scene."""
    hands = {p.key: p.hand for p in view.scene.plan.passes}
    own = view.scene.hands
    found = []
    for layer in view.layers:
        if layer.kind == "ink" and layer.ink is not None:
            hand = hands.get(layer.pass_key, "medium")
            ratio = habits.hands.get(hand, 1.0) / own.get(hand, 1.0)
            learned = habits.inks.get(layer.ink.key, AS_MEASURED)
            thick = layer.thickness * ratio
            found.append(replace(layer, ink=replace(layer.ink, learned=learned), thickness=thick))
        else:
            found.append(layer)
    return found


def region_labs(view: View, layers: Sequence[Layer], levels: Floats32) -> Floats:
    """CIELAB (n, 3) of regions by the stacks that stand for them (n x STAND_FOR, layers)."""
    xyz = np.asarray(reflectances(view.stock, layers, levels) @ XYZ_WEIGHTS.T, float)
    return np.asarray(lab_from_xyz(xyz.reshape(-1, STAND_FOR, 3).mean(axis=1)))


class _Fit:
    """The numbers that are found: three a pad, one a hand, nine a photograph."""

    def __init__(self, cards: Sequence[Shown]) -> None:
        self.cards = cards
        self.inks = sorted(frozenset[str]().union(*(c.inks for c in cards)))
        self.hands = sorted({p.hand for c in cards for p in c.view.scene.plan.passes})
        self.own = 3 * len(self.inks) + len(self.hands)
        self.count = self.own + 9 * len(cards)
        self.scale = np.array(
            [STRENGTH, LEAN, LEAN] * len(self.inks)
            + [HAND] * len(self.hands)
            + ([CAMERA] * 6 + [GAIN] * 3) * len(cards)
        )
        self.weights = [self._weights(c) for c in cards]

    @staticmethod
    def _weights(card: Shown) -> Floats:
        """One over what each region is off by, without telling of the same pad many times: by its share of its passes."""
        spread = np.array([card.found[i].spread for i in card.usable])
        alike: dict[tuple[str, ...], int] = {}
        for i in card.usable:
            key = card.regions[i].passes
            alike[key] = alike.get(key, 0) + 1
        many = np.array([alike[card.regions[i].passes] for i in card.usable], float)
        strong = np.array([2.0 if card.found[i].state == "strong" else 1.0 for i in card.usable])
        return np.asarray(1 / (np.sqrt(READ**2 + (spread / 3) ** 2) * strong * np.sqrt(many)))

    def habits(self, x: Floats) -> Habits:
        """Numbers as habits; ``x`` in standard deviations of what is held beforehand."""
        v = x * self.scale
        inks = {}
        for n, key in enumerate(self.inks):
            s, a, b = v[3 * n : 3 * n + 3]
            strength = float(np.clip(np.exp(s), 1 / MOST_STRENGTH, MOST_STRENGTH))
            lean = np.clip([a, b], -MOST_LEAN, MOST_LEAN)
            inks[key] = Learned(strength, (float(lean[0]), float(lean[1])))
        at = 3 * len(self.inks)
        hands = {h: float(np.exp(np.clip(v[at + n], -1, 1))) for n, h in enumerate(self.hands)}
        return Habits(inks, hands)

    def off(self, x: Floats) -> Floats:
        """Everything that is off: regions of all cards, and the numbers themselves."""
        habits = self.habits(x)
        parts = [x]
        for n, card in enumerate(self.cards):
            labs = region_labs(card.view, recoloured(card.view, habits), card.levels)
            parts.append(self._card(n, x, labs))
        return np.concatenate(parts)

    def _card(self, n: int, x: Floats, labs: Floats) -> Floats:
        """What a card's regions are off (3 m,), as its photograph would see what is predicted."""
        own = (x * self.scale)[self.own + 9 * n : self.own + 9 * n + 9]
        matrix = np.eye(3)
        for c in range(3):
            for j, k in enumerate(i for i in range(3) if i != c):
                matrix[k, c] = own[2 * c + j]
                matrix[c, c] -= own[2 * c + j]
        seen = lab_of((linear_of(labs) @ matrix) * np.exp(own[6:]))
        wanted = self.cards[n].labs
        chroma = np.hypot(wanted[:, 1], wanted[:, 2])
        d = seen - wanted
        d_c = np.hypot(seen[:, 1], seen[:, 2]) - chroma
        hue = np.arctan2(seen[:, 2], seen[:, 1]) - np.arctan2(wanted[:, 2], wanted[:, 1])
        d_h = 2 * np.sqrt(np.hypot(seen[:, 1], seen[:, 2]) * chroma) * np.sin(hue / 2)
        w = self.weights[n][:, None]
        parts = np.stack([d[:, 0], d_c / (1 + 0.045 * chroma), d_h / (1 + 0.015 * chroma)], axis=1)
        return np.asarray((parts * w).ravel())

    def slope(self, x: Floats) -> Floats:
        """The Jacobian (rows, count): of each number only where it shows."""
        step = 1e-3
        base_habits = self.habits(x)
        base, labs = [], []
        for n, card in enumerate(self.cards):
            labs.append(region_labs(card.view, recoloured(card.view, base_habits), card.levels))
            base.append(self._card(n, x, labs[n]))
        out = np.zeros((self.count + sum(len(b) for b in base), self.count))
        out[: self.count, : self.count] = np.eye(self.count)
        starts = np.cumsum([self.count, *(len(b) for b in base)])
        for j in range(self.own):
            moved = x.copy()
            moved[j] += step
            habits = self.habits(moved)
            for n, card in enumerate(self.cards):
                rows = self._touched(n, j)
                if not rows.size:
                    continue
                every = (rows[:, None] * STAND_FOR + np.arange(STAND_FOR)).ravel()
                new = labs[n].copy()
                new[rows] = region_labs(card.view, recoloured(card.view, habits), card.levels[every])
                out[starts[n] : starts[n + 1], j] = (self._card(n, x, new) - base[n]) / step
        for n in range(len(self.cards)):
            for j in range(self.own + 9 * n, self.own + 9 * n + 9):
                moved = x.copy()
                moved[j] += step
                out[starts[n] : starts[n + 1], j] = (self._card(n, moved, labs[n]) - base[n]) / step
        return out

    def _touched(self, n: int, j: int) -> NDArray[np.intp]:
        """The regions of a card in which a number shows."""
        card = self.cards[n]
        items = {p.key: p for p in card.view.scene.plan.passes}
        there = np.asarray((card.levels > 1e-4).reshape(-1, STAND_FOR, card.levels.shape[1]).any(axis=1))
        if j < 3 * len(self.inks):
            key = self.inks[j // 3]
            columns = [i for i, x in enumerate(card.view.layers) if x.ink is not None and x.ink.key == key]
        else:
            hand = self.hands[j - 3 * len(self.inks)]
            columns = [
                i
                for i, x in enumerate(card.view.layers)
                if x.pass_key in items and items[x.pass_key].hand == hand
            ]
        return np.flatnonzero(there[:, columns].any(axis=1))


def learn(cards: Sequence[Shown], progress: Progress = lambda share: None) -> Lesson:
    """What photographed cards say of pads and hands; nothing where they say nothing."""
    from scipy.optimize import least_squares

    cards = [c for c in cards if c.usable]
    if not cards:
        return Lesson(NOTHING, 0.0, 0.0, 0)
    fit = _Fit(cards)
    rounds = [0]

    def slope(x: Floats) -> Floats:
        rounds[0] += 1
        progress(min(0.95, rounds[0] / 12))
        return fit.slope(x)

    found = least_squares(
        fit.off,
        np.zeros(fit.count),
        jac=slope,
        loss="soft_l1",
        f_scale=1.5,
        max_nfev=14,
        ftol=1e-3,
        xtol=1e-3,
    )
    habits = _told(fit, found.x, cards)
    return Lesson(habits, _mean_off(cards, NOTHING), _mean_off(cards, habits), len(cards))


def _told(fit: _Fit, x: Floats, cards: Sequence[Shown]) -> Habits:
    """Habits with how many cards say so; pads that did not move are left out."""
    every = fit.habits(x)
    inks = {}
    for key, one in every.inks.items():
        if max(abs(np.log(one.strength)), *(abs(v) for v in one.lean)) < MOVED:
            continue
        said = sum(key in c.inks for c in cards)
        inks[key] = Learned(
            round(one.strength, 4), (round(one.lean[0], 4), round(one.lean[1], 4)), cards=said
        )
    return Habits(inks, {h: round(v, 4) for h, v in every.hands.items() if abs(np.log(v)) >= MOVED})


def predicted_with(card: Shown, habits: Habits) -> Floats:
    """CIELAB (n, 3) of the usable regions of a card with habits."""
    return region_labs(card.view, recoloured(card.view, habits), card.levels)


def _mean_off(cards: Sequence[Shown], habits: Habits) -> float:
    off = [differences(predicted_with(card, habits), card.labs) for card in cards]
    return round(float(np.concatenate(off).mean()), 2)


def as_lab(row: Floats) -> Lab:
    """A row (3,) as a colour."""
    return float(row[0]), float(row[1]), float(row[2])
