"""How well photographs of finished cards are read, and what is learned from three of them: hidden makers, simulated camera.

    python tools/bench_photographs.py [makers]

Docs/decisions/0030 has the figures of thirty; one takes about half a minute.
"""

from __future__ import annotations

import io
import json
import sys
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

ROOT = Path(__file__).resolve().parent.parent
sys.path.insert(0, str(ROOT))

from PIL import Image  # noqa: E402

from strata.camera import jpeg  # noqa: E402
from strata.camera.panel import HiddenMaker, hidden_maker, made_by, panel_shot, photograph_panel  # noqa: E402
from strata.errors import BadFile  # noqa: E402
from strata.optics.colour import differences  # noqa: E402
from strata.order import dispatch  # noqa: E402
from strata.photographed.learn import Habits, Shown, learn, recoloured, region_labs  # noqa: E402
from strata.photographed.reading import read_panel  # noqa: E402
from strata.photographed.regions import Predicted, Region, looked_at, predicted  # noqa: E402
from strata.picture.shown import View  # noqa: E402
from strata.swatchcard.correct import lab_of, linear_of  # noqa: E402
from tests import world  # noqa: E402
from tests.panels import laid  # noqa: E402

Floats = NDArray[np.float64]
TAUGHT = ("hedgehog-at-the-pump-house", "luna-by-night", "koi-at-dusk")
ASKED = ("thank-you-by-lantern-light", "koi-on-black")
MAKERS, FAR = 3, 4.0
WHITE = "White smooth"


class Card:
    """A demo card with all that its photographs are read by."""

    def __init__(self, name: str) -> None:
        self.scene = world.whole_card(name)
        self.wet = dispatch(self.scene).wet
        self.view: View = looked_at(self.scene, self.wet)
        found: tuple[Predicted, tuple[Region, ...]] = predicted(self.view)
        self.panel, self.regions = found

    def photographed(self, maker: HiddenMaker, seed: int) -> tuple[Shown, Floats]:
        """A photograph of it, read; and what was really laid."""
        size, white = self.scene.layer_set, self.scene.stocks[WHITE].lab
        shot, made = panel_shot(size.width, size.height, seed), made_by(self.scene, maker, seed)
        taken = jpeg(photograph_panel(made, self.wet, shot, white), shot.quality)
        rgb = np.asarray(Image.open(io.BytesIO(taken)))
        found, _ = read_panel(rgb, self.panel, white)
        return Shown(self.view, self.regions, found.regions), self.truth(maker, seed, maker.slip)

    def truth(self, maker: HiddenMaker, seed: int, slip: float = 0.0) -> Floats:
        """What that maker lays in each region (n, 3)."""
        made = made_by(self.scene, replace(maker, slip=slip), seed)
        return np.asarray(laid(self.panel, looked_at(made, self.wet)))

    def elements(self, labs: Floats) -> dict[str, Floats]:
        """The mean colour of each element, from its regions' (n, 3)."""
        found = {}
        for name in dict.fromkeys(r.element for r in self.regions):
            own = [i for i, r in enumerate(self.regions) if r.element == name]
            areas = [self.regions[i].area for i in own]
            found[name] = lab_of(np.average(linear_of(labs[own]), axis=0, weights=areas)[None])[0]
        return found

    def off(self, one: Floats, other: Floats) -> list[float]:
        """CIEDE2000 between two sets of regions, by element."""
        a, b = self.elements(one), self.elements(other)
        return [float(differences(a[k][None], b[k][None])[0]) for k in a]

    def with_habits(self, habits: Habits) -> Floats:
        """The regions as predicted with what was learned (n, 3)."""
        levels = self.view.stacks.levels[[s for r in self.regions for s in r.stacks]]
        return region_labs(self.view, recoloured(self.view, habits), levels)


def photographs(makers: int = MAKERS) -> None:
    """Print the figures."""
    cards = {name: Card(name) for name in (*TAUGHT, *ASKED)}
    read, before, after, refused = list[float](), list[float](), list[float](), 0
    for seed in range(makers):
        maker = hidden_maker(1000 + seed, world.bottles())
        shown = []
        for n, name in enumerate(TAUGHT):
            card = cards[name]
            try:
                one, truth = card.photographed(maker, seed * 7 + n)
            except BadFile:
                refused += 1
                continue
            shown.append(one)
            read += card.off(np.array([f.lab for f in one.found]), truth)
        habits = learn(shown).habits
        for name in ASKED:
            card = cards[name]
            truth = card.truth(maker, seed)
            before += card.off(np.array([r.predicted for r in card.regions]), truth)
            after += card.off(card.with_habits(habits), truth)
    b, a = np.array(before), np.array(after)
    far = b > FAR
    told = {
        "photographs": {"refused": refused, "elements, mean": _two(np.mean(read)), "most": _two(np.max(read))},
        "the next cards": {
            "before": _two(b.mean()), "after": _two(a.mean()), "over 4": int(far.sum()),
            "of these halved": int((a < b / 2)[far].sum()), "worse by 0.3": int((a > b + 0.3).sum()),
            "of": len(b),
        },
    }  # fmt: skip
    print(json.dumps(told, indent=1))


def _two(value: Any) -> float:
    return round(float(value), 2)


if __name__ == "__main__":
    photographs(int(sys.argv[1]) if len(sys.argv) > 1 else MAKERS)
