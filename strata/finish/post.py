"""Whether a card goes at a rate: by its thickness, its weight and the size of its envelope."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from strata.errors import BadValue, finite
from strata.panel.size import Format

MOST_CLASSES = 20


@dataclass(frozen=True)
class PostalClass:
    """A rate of the maker's own postal service: at most so many mm thick, g, mm long and wide; its price in words."""

    name: str
    thick: float
    weight: float
    long: float
    wide: float
    price: str = ""

    def __post_init__(self) -> None:
        if not isinstance(self.name, str) or not self.name.strip() or len(self.name) > 60:
            raise BadValue("A rate needs a name of at most 60 letters.", "name")
        if not isinstance(self.price, str) or len(self.price) > 20:
            raise BadValue("A price has at most 20 letters.", "price")
        for field, most in (("thick", 500), ("weight", 30_000), ("long", 2000), ("wide", 2000)):
            finite(getattr(self, field), field, 0.1, most)

    def against(self, thick: float, weight: float, envelope: Format | None) -> Iterator[str]:
        """Why a card does not go at this rate; nothing where it does."""
        if thick > self.thick + 1e-9:
            yield f"{thick:.1f} mm thick, {self.thick:g} at the most"
        if weight > self.weight + 1e-9:
            yield f"{weight:.0f} g, {self.weight:g} at the most"
        if envelope is not None:
            long, wide = max(envelope.width, envelope.height), min(envelope.width, envelope.height)
            if long > max(self.long, self.wide) + 1e-9 or wide > min(self.long, self.wide) + 1e-9:
                yield "its envelope is too large"


def cheapest(
    classes: Sequence[PostalClass], thick: float, weight: float, envelope: Format | None
) -> PostalClass | None:
    """The first rate, in the maker's own order, at which the card goes."""
    return next((c for c in classes if not any(c.against(thick, weight, envelope))), None)
