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

_GREEN, _BLUE, _BROWN, _RED, _YELLOW, _PINK, _VIOLET, _ORANGE, _GREY = 140, 255, 60, 30, 85, 0, 310, 45, None
HUES: Mapping[str, float | None] = MappingProxyType(
    dict.fromkeys(
        [
            "reed",
            "fern",
            "leaf",
            "leaves",
            "grass",
            "moss",
            "stem",
            "bush",
            "tree",
            "pad",
            "pads",
            "foliage",
            "frond",
            "ivy",
            "hedge",
        ],
        _GREEN,
    )
    | dict.fromkeys(
        ["water", "sky", "sea", "river", "pond", "lake", "rain", "ripple", "wave", "canal", "stream"], _BLUE
    )
    | dict.fromkeys(
        [
            "bark",
            "branch",
            "wood",
            "trunk",
            "coat",
            "hedgehog",
            "earth",
            "ground",
            "fence",
            "fur",
            "otter",
            "bear",
            "deer",
        ],
        _BROWN,
    )
    | dict.fromkeys(["koi", "fox", "lantern", "flame", "carrot", "pumpkin", "fish", "robin"], _ORANGE)
    | dict.fromkeys(["berry", "berries", "cherry", "heart", "cap", "toadstool", "poppy", "strawberry"], _RED)
    | dict.fromkeys(["sun", "star", "lamp", "moon", "daffodil", "bee", "lemon", "light"], _YELLOW)
    | dict.fromkeys(["rose", "blossom", "bud", "peony", "petal", "petals", "cheek", "flower", "bloom"], _PINK)
    | dict.fromkeys(["lavender", "violet", "heather", "plum", "iris", "grape", "lilac", "wisteria"], _VIOLET)
)
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
        spoken = element.lower().replace(":", " ").replace("-", " ").split()
        for table in (self.words, HUES):
            # the last word names the thing: "light on the water" is water, "lily pads" pads
            for word in reversed(spoken):
                for form in (word, word.removesuffix("s"), word.removesuffix("es")):
                    if form in table:
                        return table[form]
        return None
