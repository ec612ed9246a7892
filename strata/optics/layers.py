"""One layer law for all chemistries.

Saunderson's correction between what is seen and what is inside the sheet
(J. L. Saunderson, JOSA 32, 1942), and two-constant Kubelka-Munk inside it
(P. Kubelka, "New contributions to the optics of intensely light-scattering
materials", JOSA 38, 1948). A dye is the case without scattering, S = 0.
"""

from __future__ import annotations

import numpy as np

from strata.optics.colour import Floats

SURFACE = 0.01
# K1: light that never enters the card; it is what lets a dye vanish on black card
INTERNAL: dict[str, float] = {
    "": 0.85,
    "absorbent": 0.95,
    "smooth": 0.95,
    "vellum-finish": 0.95,
    "coated": 0.6,
}
# K2 by the card's finish: 0.6 is the textbook value for a film on top (n = 1.5); on absorbent card the ink lies among
# the fibres. Where nobody says, between them (docs/decisions/0022)
FINISHES = tuple(INTERNAL)

_DARKEST = 1e-5
_STEPS, _SETTLED = 10, 1e-10


def inside(reflectance: Floats, finish: str) -> Floats:
    """Internal reflectance r of a seen reflectance R, any shape, on a card of that finish; within 0..1."""
    back = INTERNAL[finish]
    seen = np.clip(reflectance, SURFACE + _DARKEST, 1.0)
    entering = (seen - SURFACE) / (1 - SURFACE)
    return np.asarray(entering / ((1 - back) + back * entering))


def outside(internal: Floats, finish: str) -> Floats:
    """Seen reflectance R of an internal reflectance r, any shape, on a card of that finish."""
    back = INTERNAL[finish]
    return SURFACE + (1 - SURFACE) * (1 - back) * internal / (1 - back * internal)


def over(substrate: Floats, absorbed: Floats, scattered: Floats) -> Floats:
    """Internal reflectance of a layer on a substrate.

    ``absorbed`` = K x and ``scattered`` = S x, dimensionless, both >= 0.
    The form is stable down to S = 0, where it is r exp(-2 K x).
    """
    p = np.sqrt(absorbed * (absorbed + 2 * scattered))
    e = np.exp(-2 * p)
    tiny = p < 1e-6
    s = np.where(tiny, 2 - 2 * p, (1 - e) / np.where(tiny, 1.0, p))
    denominator = (absorbed + scattered) * s + 1 + e
    reflected = scattered * s / denominator
    transmitted = 2 * np.exp(-p) / denominator
    return np.asarray(reflected + transmitted**2 * substrate / (1 - reflected * substrate))


def hardly_scattering(substrate: Floats, absorbed: Floats, scattered: Floats) -> Floats:
    """``over`` for layers that scatter little (S x under 0.1), to second order in S x and in a third of the time."""
    both = absorbed + scattered
    through = np.exp(-2 * both)
    reflected = scattered * (1 - through) / np.maximum(2 * both, 1e-12)
    through = through * (1 + scattered * scattered * through)
    return np.asarray(reflected + through * substrate / (1 - reflected * substrate))


def scattering_pair(
    on_white: Floats, on_black: Floats, white: Floats, black: Floats
) -> tuple[Floats, Floats]:
    """(K, S) of one layer, per band, from its internal reflectance on two cards.

    Kubelka 1948 solved for the layer's own reflectance R0 and transmittance T;
    noisy readings are clipped to R0 >= 0 and T^2 <= (1 - R0)^2.
    """
    r0 = (on_white * black - on_black * white) / (
        (1 + on_white * white) * black - (1 + on_black * black) * white
    )
    r0 = np.clip(r0, 1e-6, 0.999)
    t2 = (on_white - r0) * (1 - r0 * white) / white
    t2 = np.clip(t2, 1e-10, (1 - r0) ** 2 * (1 - 1e-9))
    a = (1 + r0**2 - t2) / (2 * r0)
    b = np.sqrt(np.maximum(a * a - 1, 1e-12))
    scatter = np.arcsinh(b * r0 / np.sqrt(t2)) / b
    return (a - 1) * scatter, scatter


def absorption_for(target: Floats, substrate: Floats, scattered: Floats) -> Floats:
    """K x (..., 36) that brings ``substrate`` to ``target`` (..., 36) for a known S x; within 0..30.

    A layer that hardly scatters darkens by exp(-2 K x), so a few steps by the
    logarithm settle it; layers of which a band does not settle are halved (50 times).
    """
    found = np.clip(np.log(substrate / np.maximum(target, _DARKEST)) / 2, 0, 30)
    for _ in range(_STEPS):
        seen = over(substrate, found, scattered)
        found = np.clip(found + np.log(seen / np.maximum(target, _DARKEST)) / 2, 0, 30)
    off = np.abs(over(substrate, found, scattered) - target)
    # at 0 nothing lighter can be had, and what is there is the answer
    settled = (off < _SETTLED * target) | (
        (found == 0) & (over(substrate, np.zeros_like(found), scattered) <= target)
    )
    open_yet = ~settled.all(axis=-1)
    if open_yet.any():
        own = (np.broadcast_to(a, found.shape)[open_yet] for a in (target, substrate, scattered))
        found[open_yet] = _halved(*own)
    return np.asarray(found)


def _halved(target: Floats, substrate: Floats, scattered: Floats) -> Floats:
    low, high = np.zeros_like(target), np.full_like(target, 30.0)
    for _ in range(50):
        middle = (low + high) / 2
        too_light = over(substrate, middle, scattered) > target
        low, high = np.where(too_light, middle, low), np.where(too_light, high, middle)
    return (low + high) / 2
