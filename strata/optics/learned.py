"""What cards that were made say of a pad: how strong it comes out in this maker's hands, and how its hue leans.

Readings stay as they are; what was learned lies over them and can be taken
off again.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np

from strata.errors import finite
from strata.optics.colour import Floats
from strata.optics.spectrum import BANDS

_ACROSS = np.linspace(-1, 1, BANDS)
LEANS: Floats = np.stack([_ACROSS, 1.5 * _ACROSS**2 - 0.5 - np.mean(1.5 * _ACROSS**2 - 0.5)])
# how an absorption leans: towards the long waves, and towards both ends (Legendre, without a mean)
MOST_STRENGTH, MOST_LEAN = 3.0, 1.0


@dataclass(frozen=True)
class Learned:
    """``strength``: measured coats that one coat comes to, 1/3..3; ``lean`` (2,): K(band) times exp(lean . LEANS), -1..1.

    ``cards``: how many made cards say so. Raises BadValue.
    """

    strength: float = 1.0
    lean: tuple[float, float] = (0.0, 0.0)
    cards: int = field(default=0, compare=False)

    def __post_init__(self) -> None:
        finite(self.strength, "learned.strength", 1 / MOST_STRENGTH, MOST_STRENGTH)
        for value in self.lean:
            finite(value, "learned.lean", -MOST_LEAN, MOST_LEAN)

    @property
    def gain(self) -> Floats:
        """What the absorption is multiplied by in each band (36,)."""
        return np.asarray(np.exp(np.asarray(self.lean) @ LEANS))


AS_MEASURED = Learned()
