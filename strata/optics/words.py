"""Colours in words, as people call them."""

from __future__ import annotations

from strata.optics.colour import Lab, chroma, hue

_HUES = (
    (20, "pink"),
    (50, "red"),
    (75, "orange"),
    (105, "yellow"),
    (180, "green"),
    (290, "blue"),
    (335, "violet"),
)
GREY, DARK, LIGHT = 8.0, 38.0, 78.0
# C*ab under which a colour has no hue, L* under which it is called dark, over which light


def hue_word(degrees: float) -> str:
    """A hue in CIELAB degrees as people call it."""
    return next((word for limit, word in _HUES if degrees % 360 < limit), "pink")


def colour_words(lab: Lab) -> str:
    """A colour (CIELAB D50) in one or two words: dark blue, light grey, brown."""
    lightness, strong = lab[0], chroma(lab)
    if strong < GREY:
        return "black" if lightness < 20 else "white" if lightness > 95 else _shade(lightness, "grey")
    called = hue_word(hue(lab))
    if called in ("red", "orange") and lightness < 50 and strong < 60:
        return "brown"
    return _shade(lightness, called)


def _shade(lightness: float, called: str) -> str:
    # a yellow is light by nature
    light = LIGHT + 12 if called == "yellow" else LIGHT
    return f"dark {called}" if lightness < DARK else f"light {called}" if lightness > light else called
