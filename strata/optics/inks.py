"""Inks: from measured swatches to what a coat absorbs and scatters."""

from __future__ import annotations

import re
from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from functools import cached_property

from strata.errors import BadValue, finite
from strata.kept import Kept
from strata.optics.colour import Lab, checked_lab, chroma
from strata.optics.deposits import Deposit, between, by_coats, deposits_of, pair
from strata.optics.layers import FINISHES
from strata.optics.learned import AS_MEASURED, Learned

MOST_COATS = 12.0
# coats in one swatch or one pass; past this card cockles and no plan makes sense


@dataclass(frozen=True)
class Chemistry:
    """How a kind of ink behaves.

    ``scattering`` is S x of one coat (dimensionless), for opaque inks assumed
    where the ink was never seen on dark card; ``dry_minutes`` to the touch, ``heated_minutes``
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
        # no ink is wholly clear: 0.02 a coat is what dark overprints show (docs/decisions/0022)
        Chemistry("dye", "dye", False, 0.02, 2.0, 1.0, 1.1),
        Chemistry("pigment", "pigment", True, 3.0, 15.0, 1.0, 1.0, cleaning="alcohol"),
        Chemistry("hybrid", "hybrid", True, 1.2, 4.0, 1.0, 1.05, cleaning="damp"),
        Chemistry("metallic", "metallic", True, 4.0, 20.0, None, 1.0, needs_seal=True, cleaning="alcohol"),
        # 0.28 hides about 40 % of the ground on white and black: glitter in a clear carrier
        Chemistry("glaze", "glaze", True, 0.28, 75.0, None, 1.0, cleaning="damp"),
        Chemistry("paste", "paste", True, 6.0, 75.0, None, 1.0, cleaning="damp"),
        Chemistry("powder", "embossing powder", True, 8.0, 2.0, 1.0, 1.0),
        Chemistry("paint", "opaque paint", True, 3.5, 8.0, 2.0, 1.0, cleaning="damp"),
        Chemistry("marker", "marker", False, 0.02, 1.0, None, 1.0),
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
    may be read again later, ``on`` stays its colour then; ``finish`` (one of
    FINISHES) is that card's. ``how`` it came to be known (one of HOWS), ``when``
    (ISO date, or empty) and the ``spread`` of its readings (CIEDE2000, None where
    it was not read) do not change what it is, so they take no part in comparing.
    """

    on: Lab
    coats: float
    lab: Lab
    how: str = field(default="", compare=False)
    when: str = field(default="", compare=False)
    spread: float | None = field(default=None, compare=False)
    card: str = field(default="", compare=False)
    finish: str = ""

    def __post_init__(self) -> None:
        checked_lab(self.on, "swatch.on")
        checked_lab(self.lab, "swatch.lab")
        finite(self.coats, "swatch.coats", 0.05, MOST_COATS)
        one_of(self.how, HOWS, "swatch.how")
        one_of(self.finish, FINISHES, "swatch.finish")
        if self.when and not re.fullmatch(r"\d{4}-\d\d-\d\d", self.when):
            raise BadValue("swatch.when must be a date such as 2026-04-12.", "swatch.when")
        if self.spread is not None:
            finite(self.spread, "swatch.spread", 0, 100)


_TOLD: Kept[tuple[tuple[Swatch, ...], Chemistry, str], tuple[Deposit, ...]] = Kept(
    30_000_000, lambda told: 2_000 + 1_000 * len(told)
)
# what swatches tell on card of a finish, whatever was learned since


def find_deposits(inks: Iterable[Ink], finish: str) -> None:
    """Find what inks' swatches tell on card of a finish, all at once; each ink finds its own there."""
    asked = dict.fromkeys((ink.swatches, ink.chemistry) for ink in inks)
    wanted = [own for own in asked if _TOLD.seen((*own, finish)) is None]
    for own, told in zip(wanted, deposits_of(wanted, finish), strict=True):
        _TOLD.put((*own, finish), told)


@dataclass(frozen=True)
class Ink:
    """One pad: its chemistry and its measured swatches. Raises BadValue without a swatch.

    ``pad``, ``place``, ``state`` and ``notes`` are the maker's and change no colour. ``learned`` is
    what made cards say of it; it lies over the swatches.
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
    learned: Learned = AS_MEASURED

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
        return hash((self.key, self.chemistry.key, self.swatches, self.learned))

    @cached_property
    def estimated(self) -> bool:
        """True for an opaque ink never seen on dark card: its hiding power is a guess."""
        return self.chemistry.opaque and not any(pair(g) for g in by_coats(self.swatches).values())

    @cached_property
    def paleness(self) -> float:
        """L* less C*ab of its lightest swatch."""
        lightest = max((s.lab for s in self.swatches), key=lambda lab: lab[0])
        return lightest[0] - chroma(lightest)

    def deposits(self, finish: str) -> tuple[Deposit, ...]:
        """The measured deposits in order of coats, each at least as heavy as the one before, on card of a finish.

        With what was learned of the pad: a coat twice as strong is what was measured as two.
        """
        if finish not in self._deposits:
            told = self.swatches, self.chemistry
            found = _TOLD.get((*told, finish), lambda: deposits_of([told], finish)[0])
            if self.learned != AS_MEASURED:
                own, gain = self.learned, self.learned.gain
                found = tuple(Deposit(d.coats / own.strength, d.absorbed * gain, d.scattered) for d in found)
            self._deposits[finish] = found
        return self._deposits[finish]

    def is_ready(self, finish: str) -> bool:
        """Whether its deposits on card of a finish were found before."""
        return finish in self._deposits

    @cached_property
    def _deposits(self) -> dict[str, tuple[Deposit, ...]]:
        return {}

    def deposit(self, coats: float, finish: str) -> Deposit:
        """The deposit after any number of coats on card of a finish.

        Linear between measured counts, so measured saturation is kept; past
        the last one each further coat adds what the last measured one added.
        """
        return between(self.deposits(finish), coats)
