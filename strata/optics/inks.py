"""Inks: from measured swatches to what a coat absorbs and scatters."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np

from strata.errors import BadValue, finite
from strata.optics import layers
from strata.optics.colour import Floats, Lab, checked_lab
from strata.optics.spectrum import BANDS, reflectance

MOST_COATS = 12.0
# coats in one swatch or one pass; past this card cockles and no plan makes sense

_DARK_ENOUGH = 30.0
# L* between two cards before they separate scattering from absorption reliably


@dataclass(frozen=True)
class Chemistry:
    """How a kind of ink behaves.

    ``scattering`` is S x of one coat (dimensionless) assumed when the ink was
    never seen on dark card; ``dry_minutes`` to the touch, ``heated_minutes``
    with a heat tool; ``dry_back`` is the factor by which a fresh coat looks denser;
    ``cleaning`` is what takes it off a sheet or a brush (one of CLEANINGS).
    """

    key: str
    label: str
    opaque: bool
    scattering: float
    dry_minutes: float
    heated_minutes: float | None
    dry_back: float
    needs_seal: bool = False
    cleaning: str = "wipe"


CHEMISTRIES: dict[str, Chemistry] = {
    c.key: c
    for c in (
        Chemistry("dye", "dye", False, 0.0, 2.0, 1.0, 1.1),
        Chemistry("pigment", "pigment", True, 3.0, 15.0, 1.0, 1.0, cleaning="alcohol"),
        Chemistry("hybrid", "hybrid", True, 1.2, 4.0, 1.0, 1.05, cleaning="damp"),
        Chemistry("metallic", "metallic", True, 4.0, 20.0, None, 1.0, needs_seal=True, cleaning="alcohol"),
        # 0.28 hides about 40 % of the ground on white and black: glitter in a clear carrier
        Chemistry("glaze", "glaze", True, 0.28, 75.0, None, 1.0, cleaning="damp"),
        Chemistry("paste", "paste", True, 6.0, 75.0, None, 1.0, cleaning="damp"),
        Chemistry("powder", "embossing powder", True, 8.0, 2.0, 1.0, 1.0),
        Chemistry("paint", "opaque paint", True, 3.5, 8.0, 2.0, 1.0, cleaning="damp"),
        Chemistry("marker", "marker", False, 0.0, 1.0, None, 1.0),
    )
}

CLEANINGS = {"wipe": "a dry cloth", "damp": "a damp wipe", "alcohol": "alcohol and a dry cloth"}
# what takes an ink off, mildest first
PADS = ("felt", "foam", "bottle")
STATES = ("full", "low", "dry", "wished for")
AT_HAND = ("full", "low")
# states in which a pad can be inked with
HOWS = ("", "reader", "swatch card", "photograph", "typed", "screen colour", "file", "finished card")
# how a swatch came to be known; the last is for corrections from cards that were made


def chemistry(key: object, dry_minutes: float | None = None, cleaning: str | None = None) -> Chemistry:
    """The chemistry of that key, with a maker's own drying minutes and cleaning where given.

    Raises BadValue for an unknown key or cleaning, or minutes outside 0.1..1440.
    """
    if not isinstance(key, str) or key not in CHEMISTRIES:
        known = ", ".join(CHEMISTRIES)
        raise BadValue(f"“{key}” is not a chemistry; use one of {known}.", "chemistry")
    found = CHEMISTRIES[key]
    if dry_minutes is not None:
        minutes = finite(dry_minutes, "dry_minutes", 0.1, 1440)
        heated = None if found.heated_minutes is None else min(found.heated_minutes, minutes)
        found = replace(found, dry_minutes=minutes, heated_minutes=heated)
    if cleaning is not None:
        found = replace(found, cleaning=one_of(cleaning, CLEANINGS, "cleaning"))
    return found


def one_of(value: object, known: Iterable[str], field_name: str) -> str:
    """``value`` if it is one of ``known``; raises BadValue naming the field."""
    names = list(known)
    if not isinstance(value, str) or value not in names:
        said = ", ".join(n for n in names if n)
        raise BadValue(f"“{value}” is not known as {field_name}; use one of {said}.", field_name)
    return value


@dataclass(frozen=True)
class Swatch:
    """The dried colour of ``coats`` coats of an ink on a card, both CIELAB D50.

    ``card`` is the key of that card in the house, where it is known: the card
    may be read again later, ``on`` stays its colour then. ``how`` it came to be known (one of HOWS), ``when`` (ISO date, or empty) and the
    ``spread`` of its readings (CIEDE2000, None where it was not read) do not
    change what it is, so they take no part in comparing.
    """

    on: Lab
    coats: float
    lab: Lab
    how: str = field(default="", compare=False)
    when: str = field(default="", compare=False)
    spread: float | None = field(default=None, compare=False)
    card: str = field(default="", compare=False)

    def __post_init__(self) -> None:
        checked_lab(self.on, "swatch.on")
        checked_lab(self.lab, "swatch.lab")
        finite(self.coats, "swatch.coats", 0.05, MOST_COATS)
        one_of(self.how, HOWS, "swatch.how")
        if self.when and not re.fullmatch(r"\d{4}-\d\d-\d\d", self.when):
            raise BadValue("swatch.when must be a date such as 2026-04-12.", "swatch.when")
        if self.spread is not None:
            finite(self.spread, "swatch.spread", 0, 100)


@dataclass(frozen=True)
class Deposit:
    """What lies on the card after ``coats`` coats: K x and S x per band (36,), both >= 0."""

    coats: float
    absorbed: Floats
    scattered: Floats


@dataclass(frozen=True)
class Ink:
    """One pad: its chemistry and its measured swatches. Raises BadValue without a swatch.

    ``pad``, ``place``, ``state`` and ``notes`` are the maker's and change no colour.
    """

    key: str
    chemistry: Chemistry
    swatches: tuple[Swatch, ...]
    name: str = ""
    family: str = ""
    depth: int = 0
    line: str = ""
    character: str = "vivid"
    pad: str = field(default="felt", compare=False)
    place: str = field(default="", compare=False)
    state: str = field(default="full", compare=False)
    notes: str = field(default="", compare=False)

    def __post_init__(self) -> None:
        if not self.swatches:
            raise BadValue(f"Ink “{self.name or self.key}” has no swatch to go by.", "swatches")
        one_of(self.pad, PADS, "pad")
        one_of(self.state, STATES, "state")

    def __hash__(self) -> int:
        # asked for thousands of times a picture, and deep: kept with the value
        return self._hash

    @cached_property
    def _hash(self) -> int:
        return hash((self.key, self.chemistry.key, self.swatches))

    @cached_property
    def estimated(self) -> bool:
        """True for an opaque ink never seen on dark card: its hiding power is a guess."""
        return self.chemistry.opaque and not any(_pair(g) for g in self._by_coats().values())

    def _by_coats(self) -> dict[float, list[Swatch]]:
        groups: dict[float, list[Swatch]] = defaultdict(list)
        for swatch in self.swatches:
            groups[round(float(swatch.coats), 3)].append(swatch)
        return dict(sorted(groups.items()))

    @cached_property
    def deposits(self) -> tuple[Deposit, ...]:
        """The measured deposits in order of coats, each at least as heavy as the one before."""
        found = _opaque_deposits(self) if self.chemistry.opaque else _dye_deposits(self)
        rising: list[Deposit] = []
        for d in found:
            last = rising[-1] if rising else Deposit(0.0, np.zeros(BANDS), np.zeros(BANDS))
            absorbed = np.maximum(d.absorbed, last.absorbed)
            rising.append(Deposit(d.coats, absorbed, np.maximum(d.scattered, last.scattered)))
        return tuple(rising)

    def deposit(self, coats: float) -> Deposit:
        """The deposit after any number of coats.

        Linear between measured counts, so measured saturation is kept; past
        the last one each further coat adds what the last measured one added.
        """
        below = Deposit(0.0, np.zeros(BANDS), np.zeros(BANDS))
        for above in self.deposits:
            if coats <= above.coats:
                return _between(below, above, coats)
            previous, below = below, above
        return _between(previous, below, coats)


def _between(low: Deposit, high: Deposit, coats: float) -> Deposit:
    share = (coats - low.coats) / (high.coats - low.coats)
    return Deposit(
        coats,
        np.maximum(low.absorbed + share * (high.absorbed - low.absorbed), 0),
        np.maximum(low.scattered + share * (high.scattered - low.scattered), 0),
    )


def _pair(group: list[Swatch]) -> tuple[Swatch, Swatch] | None:
    """The swatches on the lightest and darkest card when far enough apart."""
    light = max(group, key=lambda s: s.on[0])
    dark = min(group, key=lambda s: s.on[0])
    return (light, dark) if light.on[0] - dark.on[0] >= _DARK_ENOUGH else None


def _seen(lab: Lab) -> Floats:
    return layers.inside(reflectance(lab))


def _dye_deposits(ink: Ink) -> list[Deposit]:
    """Density per coat count, from the lightest card the dye was seen on (dark ones say little)."""
    result = []
    for coats, group in ink._by_coats().items():
        lightest = max(s.on[0] for s in group)
        near = [s for s in group if s.on[0] > lightest - 1.0]
        density = np.mean([-np.log(_seen(s.lab) / _seen(s.on)) for s in near], axis=0)
        # brightened card can reflect more under ink than bare: no negative density
        result.append(Deposit(coats, np.maximum(density, 0.0) / 2, np.zeros(BANDS)))
    best = max(s.on[0] for s in ink.swatches)
    return [
        d
        for d, group in zip(result, ink._by_coats().values(), strict=True)
        if max(s.on[0] for s in group) > best - _DARK_ENOUGH
    ]


def _opaque_deposits(ink: Ink) -> list[Deposit]:
    groups = ink._by_coats()
    result: list[Deposit] = []
    for coats, group in groups.items():
        pair = _pair(group)
        if pair:
            light, dark = pair
            k, s = layers.scattering_pair(_seen(light.lab), _seen(dark.lab), _seen(light.on), _seen(dark.on))
        else:
            light = max(group, key=lambda w: w.on[0])
            s = np.full(BANDS, _scattering_at(ink, result, coats))
            k = layers.absorption_for(_seen(light.lab), _seen(light.on), s)
        result.append(Deposit(coats, np.maximum(k, 0), np.maximum(s, 0)))
    return result


def _scattering_at(ink: Ink, known: list[Deposit], coats: float) -> float:
    """S x for a count seen on light card only: scaled from a known one, or the chemistry's default."""
    if known:
        return float(known[-1].scattered.mean() / known[-1].coats * coats)
    return ink.chemistry.scattering * coats
