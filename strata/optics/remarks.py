"""What an ink's swatches say against one another, or leave out, for the maker to mend."""

from __future__ import annotations

from itertools import pairwise

from strata.optics.deposits import DARK_ENOUGH, by_coats, fitting
from strata.optics.inks import Ink

SAME_CARD = 1.0
# L* between two cards that count as one
DARK = 55.0
# L* of a card on which a clear ink shows too little to be known by


def remarks(ink: Ink) -> list[str]:
    """What an ink's swatches say against one another or leave out, in sentences for the maker."""
    if ink.chemistry.opaque:
        return []
    return [*_lighter_than_card(ink), *_not_deeper(ink), *_seen_on_dark_only(ink)]


def _coats(count: float) -> str:
    return "1 coat" if count == 1 else f"{count:g} coats"


def _lighter_than_card(ink: Ink) -> list[str]:
    return [
        f"The swatch of {_coats(s.coats)} is lighter than the card it lies on, and a clear ink cannot be: "
        "it predicts bare card. Measure it again, or say that the ink is opaque."
        for s in ink.swatches
        if s.lab[0] > s.on[0] + 1.0
    ]


def _not_deeper(ink: Ink) -> list[str]:
    """More coats on the same card that are lighter than fewer."""
    found = []
    groups = by_coats(fitting(ink.swatches, ""))
    best = [max(group, key=lambda s: s.on[0]) for group in groups.values()]
    for fewer, more in pairwise(best):
        if abs(fewer.on[0] - more.on[0]) < SAME_CARD and more.lab[0] > fewer.lab[0] + 0.5:
            found.append(
                f"{_coats(more.coats).capitalize()} read lighter (L* {more.lab[0]:.0f}) than "
                f"{_coats(fewer.coats)} (L* {fewer.lab[0]:.0f}): one of the two is off. "
                "Until then the deeper one is used for both."
            )
    return found


def _seen_on_dark_only(ink: Ink) -> list[str]:
    best = max(s.on[0] for s in ink.swatches)
    if best < DARK:
        return [
            f"It was only seen on dark card (L* {best:.0f}), which shows next to nothing of a clear ink: "
            "on light card it would be predicted all but invisible. Add a swatch on white."
        ]
    counts = [c for c, g in by_coats(ink.swatches).items() if max(s.on[0] for s in g) <= best - DARK_ENOUGH]
    return [
        f"The swatch of {_coats(c)} lies on dark card only and is left out: a clear ink shows too little there."
        for c in counts
    ]
