"""What a recipe asks of the maker: pads, coats, waits, and what to mind; and its difference in words."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import pairwise

from strata.optics.colour import Lab
from strata.optics.inks import Ink
from strata.optics.stack import Coat, Stock, predict
from strata.recipes.search import Recipe

_WORDS = (
    (1.0, "nobody could tell them apart"),
    (2.0, "seen only side by side"),
    (4.0, "close"),
    (8.0, "a relation"),
    (16.0, "another colour of the family"),
)
# CIEDE2000 below which a difference is called so


def in_words(difference: float) -> str:
    """A CIEDE2000 as a cardmaker would say it."""
    return next((words for limit, words in _WORDS if difference < limit), "another colour")


@dataclass(frozen=True)
class Effort:
    """``wait`` minutes of drying between passes; ``cautions`` a sentence each; ``under`` the colour after each pass."""

    pads: int
    coats: int
    wait: float
    cautions: tuple[str, ...]
    under: tuple[Lab, ...]


def effort(recipe: Recipe, stock: Stock, inks: Mapping[str, Ink]) -> Effort:
    """Of a recipe laid dry over dry on a stock."""
    used = [inks[key] for key, _ in recipe.passes]
    wait = sum(ink.chemistry.dry_minutes for ink in used[:-1])
    coats = [Coat(inks[key], float(count)) for key, count in recipe.passes]
    under = tuple(predict(stock, coats[: i + 1]) for i in range(len(coats)))
    pads = len({ink.key for ink in used})
    return Effort(pads, sum(c for _, c in recipe.passes), wait, tuple(_cautions(used)), under)


def _cautions(used: list[Ink]) -> list[str]:
    found = []
    for below, above in pairwise(used):
        if above.chemistry.opaque and not below.chemistry.opaque:
            found.append(
                f"{above.name} covers {below.name}: lay it thinly and evenly, or it hides what is beneath."
            )
        if below.chemistry.opaque and not above.chemistry.opaque:
            found.append(f"Let {below.name} dry right through: {above.name} streaks on it while it is wet.")
    found += [
        f"How {ink.name} hides is an estimate: it was measured on white only."
        for ink in used
        if ink.estimated
    ]
    return list(dict.fromkeys(found))
