"""What two colourings of one build do differently, in words."""

from __future__ import annotations

from collections.abc import Sequence

from strata.phrases import first_up, listed
from strata.plan.model import Pass
from strata.plan.scene import Scene

MOST = 40
# sentences: past it two colourings are simply others


def differences(here: Scene, there: Scene) -> list[str]:
    """Sentences: the card first, then element by element what inks are worn, or how they are laid."""
    found = []
    if here.plan.stock != there.plan.stock:
        found.append(f"The card: {here.stock.name} here, {there.stock.name} there.")
    for element in here.layer_set.elements:
        if element not in there.layer_set.elements:
            continue
        one, other = here.plan.of_element(element), there.plan.of_element(element)
        mine, yours = _inks(here, one), _inks(there, other)
        if mine != yours:
            found.append(
                f"{first_up(element)}: {listed(mine) or 'nothing'} here, {listed(yours) or 'nothing'} there."
            )
        elif _laid(one) != _laid(other):
            found.append(f"{first_up(element)}: the same inks, laid otherwise.")
    return found[:MOST]


def _inks(scene: Scene, passes: Sequence[Pass]) -> list[str]:
    return list(dict.fromkeys(scene.ink(p).name for p in passes))


def _laid(passes: Sequence[Pass]) -> list[tuple[object, ...]]:
    return [(p.sheet, p.ink, p.coats, p.hand, p.form, p.medium) for p in passes]
