"""What a stand-in would look like: the colours of its first passes, as wanted and as they would be."""

from __future__ import annotations

from collections.abc import Mapping

from strata.optics.colour import Lab
from strata.optics.stack import Coat, predict
from strata.plan.scene import Scene
from strata.standins.search import StandIn
from strata.tones import Rung

MOST_SHOWN = 4


def before_and_after(
    scene: Scene, ladders: Mapping[str, tuple[Rung, ...]], found: StandIn
) -> list[tuple[Lab, Lab]]:
    """CIELAB of the first few passes that the swap touches, with the ink now and with the stand-in."""
    places = {r.pass_key: r.places[0] for climb in ladders.values() for r in climb}
    colours = []
    for key, (coats, hand) in list(found.amounts.items())[:MOST_SHOWN]:
        item = scene.plan.find(key)
        under = [
            u.coat(
                scene.inks[found.ink]
                if u.pass_key in found.amounts
                else scene.ink(scene.plan.find(u.pass_key))
            )
            for u in places[key].under
        ]
        laid = scene.laid_as(item, coats, hand)
        after = predict(scene.stock, [*under, Coat(scene.inks[found.ink], laid)])
        colours.append((places[key].here, after))
    return colours


def amount_words(coats: int, hand: str) -> str:
    """An amount as it is said at the table."""
    more = f", {hand} hand" if hand != "medium" else ""
    return f"{coats} {'coat' if coats == 1 else 'coats'}{more}"
