"""What a maker asks of a proposal: a mood, colours of her own, what is to stay, how many pads; and what names suggest."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from types import MappingProxyType

from strata.errors import BadValue, finite
from strata.optics.colour import Lab

MOODS = {
    "named": "what things are called",
    "vivid": "vivid",
    "muted": "muted",
    "one hue": "one hue, light to deep",
    "neighbours": "neighbouring hues",
    "opposites": "two hues across from one another",
    "accent": "quiet, with one accent",
    "card": "the card's own warmth",
}
MOOD_KEYS = tuple(MOODS)
MOST_PADS, MOST_COLOURS = 60, 12

BROWN = 60.0
_SAID: Mapping[float, str] = {
    140.0: "reed fern leaf leaves grass moss stem bush tree pad pads foliage frond ivy hedge",
    255.0: "water sky sea river pond lake rain ripple wave canal stream",
    BROWN: "bark branch wood trunk coat hedgehog earth ground fence fur otter bear deer"
    " face feet foot paw muzzle nose ear",
    45.0: "koi fox lantern flame carrot pumpkin fish robin",
    30.0: "berry berries cherry heart cap toadstool poppy strawberry",
    85.0: "sun star lamp moon daffodil bee lemon light",
    0.0: "rose blossom bud peony petal cheek flower bloom",
    310.0: "lavender violet heather plum iris grape lilac wisteria",
}
HUES: Mapping[str, float] = MappingProxyType({w: h for h, words in _SAID.items() for w in words.split()})
# degrees in CIELAB; English words, as far as they say a colour at all


@dataclass(frozen=True)
class Wishes:
    """``keep``: elements that stay as they are; ``like``: CIELAB colours to be found again; ``words``: own words to hues.

    ``white_ground``: on dark or coloured card a white ground under everything
    (True), never (False), or where it is needed (None).
    """

    mood: str = "named"
    keep: frozenset[str] = frozenset()
    like: tuple[Lab, ...] = ()
    most_pads: int = MOST_PADS
    white_ground: bool | None = None
    words: Mapping[str, float | None] = field(default_factory=lambda: MappingProxyType({}))

    def __post_init__(self) -> None:
        if self.mood not in MOODS:
            raise BadValue(f"A mood is one of {', '.join(MOODS)}.", "mood")
        finite(self.most_pads, "most_pads", 1, MOST_PADS)
        if len(self.like) > MOST_COLOURS:
            raise BadValue(f"At most {MOST_COLOURS} colours can be asked for.", "like")

    def hue(self, element: str) -> float | None:
        """The hue that an element's name suggests, degrees, or None; the maker's own words first."""
        if element.lower() in self.words:
            return self.words[element.lower()]
        spoken = element.lower().replace(":", " ").replace("-", " ").split()
        for table in (self.words, HUES):
            # the last word names the thing: "light on the water" is water, "lily pads" pads
            for word in reversed(spoken):
                for form in (word, word.removesuffix("s"), word.removesuffix("es")):
                    if form in table:
                        return table[form]
        return None
