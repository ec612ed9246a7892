"""Make the demo drawer: 40 invented inks whose swatches follow from pigment-like spectra.

``python tools/make_drawer.py`` writes demo/drawer/lockside-drawer.json. Each
family has one absorption spectrum in several concentrations; a second and a
third coat add less than the first, and each reading carries a little noise.
"""

from __future__ import annotations

import json
from dataclasses import replace
from pathlib import Path

import numpy as np

from strata.formats.drawer import Drawer, read_drawer, write_drawer
from strata.optics import layers
from strata.optics.colour import XYZ_WEIGHTS, Lab, lab_from_xyz
from strata.optics.inks import CHEMISTRIES, Ink, Swatch
from strata.optics.spectrum import reflectance
from strata.optics.stack import Stock
from strata.plan.tools import Tool

TARGET = Path(__file__).parent.parent / "demo" / "drawer" / "lockside-drawer.json"
COATS = {1: 1.0, 2: 1.78, 3: 2.42}
# what 1, 2 and 3 coats leave on the card, in first coats: each takes less than the one before
WHITE, BLACK = (95.8, 0.2, 0.9), (18.6, 0.3, -0.7)
STOCKS = (
    Stock(WHITE, "White smooth", 270, 0.33),
    Stock((93.4, 0.9, 8.6), "Ivory", 270, 0.33),
    Stock((66.5, 8.4, 24.2), "Kraft", 300, 0.38),
    Stock((84.2, -2.6, -6.3), "Pale grey-blue", 216, 0.27),
    Stock(BLACK, "Black", 300, 0.38),
)
SURFACE, BACK = 0.015, 0.9
# surface and internal reflection of this world's card
# line, character, family: the deepest ink's colour, concentrations and names from light to deep
DYES = [
    (
        "Sluice",
        "vivid",
        "Water blue",
        (35, 3, -47),
        (0.09, 0.26, 0.55, 1),
        ("Thin Ice", "Weir Water", "Long Pound", "Lock Midnight"),
    ),
    (
        "Sluice",
        "vivid",
        "Kingfisher",
        (41, -34, -17),
        (0.16, 0.45, 1),
        ("Dragonfly Wing", "Kingfisher Dive", "Culvert Teal"),
    ),
    (
        "Sluice",
        "vivid",
        "Duckweed",
        (40, -37, 27),
        (0.09, 0.27, 0.55, 1),
        ("New Duckweed", "Willow Tip", "Lily Leaf", "Under the Bridge"),
    ),
    ("Sluice", "vivid", "Lamp", (71, 17, 76), (0.18, 0.48, 1), ("Lamp Haze", "Cabin Lamp", "Brass Rail")),
    (
        "Sluice",
        "vivid",
        "Ember",
        (41, 59, 43),
        (0.11, 0.29, 0.58, 1),
        ("Peach Tin", "Coral Kettle", "Painted Rose", "Stove Door"),
    ),
    (
        "Sluice",
        "vivid",
        "Campion",
        (43, 61, -6),
        (0.13, 0.42, 1),
        ("Blush Ribbon", "Campion", "Bargewoman's Scarf"),
    ),
    ("Towrope", "muted", "Slate", (33, -3, -14), (0.17, 0.45, 1), ("Drizzle", "Wet Slate", "Coal Wharf")),
    ("Towrope", "muted", "Moss", (37, -10, 20), (0.17, 0.45, 1), ("Lichen", "Moss Wall", "Old Hedge")),
    ("Towrope", "muted", "Clay", (34, 17, 22), (0.17, 0.45, 1), ("Biscuit", "Puddled Clay", "Tarred Rope")),
    ("Towrope", "muted", "Heather", (36, 16, -20), (0.17, 0.45, 1), ("Dusk Mist", "Heather Bank", "Sloe")),
]
# name, family, masstone (the colour of a very thick coat), scattering of one coat, chemistry
OPAQUES = [
    ("Whitewash", "Limewash white", (97, -0.2, 1), 7.0, "pigment"),
    ("Pitch Black", "Limewash black", (14, 0.2, 0.3), 0.9, "pigment"),
    ("Roses Red", "Limewash red", (42, 60, 34), 2.6, "pigment"),
    ("Castle Green", "Limewash green", (44, -32, 22), 2.4, "pigment"),
    ("Cabin Blue", "Limewash blue", (38, -4, -42), 2.4, "pigment"),
    ("Gate Gold", "Paddle Gear gold", (70, 6, 40), 5.5, "metallic"),
    ("Winch Pewter", "Paddle Gear pewter", (64, -0.5, 1.5), 5.5, "metallic"),
]


TWIN = ("Boat Fair Rose", "painted-rose", "Quayside")
# a pad bought twice under another name, as happens at fairs
PLACES = {
    "Sluice": "top tray",
    "Towrope": "second tray",
    "Limewash": "shoe box",
    "Paddle Gear": "shoe box",
    "Quayside": "tin by the door",
}
STATES = {
    "under-the-bridge": "dry",
    "old-hedge": "wished for",
    "campion": "low",
    "pitch-black": "low",
    "boat-fair-rose": "low",
}
PADS = {"Limewash": "foam", "Paddle Gear": "bottle"}
NOTES = {
    "whitewash": "Two thin coats beat one thick one. Let each dry.",
    "gate-gold": "Shake it. Seal it, or it rubs off on the envelope.",
    "boat-fair-rose": "From the boat fair. Have we not got this already?",
}
WHEN = {
    "Sluice": "2026-04-12",
    "Towrope": "2026-04-12",
    "Limewash": "2026-05-03",
    "Paddle Gear": "2026-05-03",
    "Quayside": "2026-08-30",
}
TOOLS = (
    Tool("large", 2),
    Tool("large", 1, "Sluice", "Water blue"),
    Tool("medium", 3),
    Tool("medium", 1, "Sluice", "Ember"),
    Tool("small", 4),
    Tool("detail", 3),
    Tool("extra-fine", 1),
    Tool("foam-dome", 2),
)


def seen(colour: tuple[float, float, float]) -> np.ndarray:
    """Inside the card, as this made-up world has it: not by the application's own constants, which it is to test."""
    entering = (reflectance(tuple(float(v) for v in colour)) - SURFACE) / (1 - SURFACE)
    return np.clip(entering / (1 - BACK + BACK * entering), 1e-5, 1)


def lab_of(inside: np.ndarray) -> Lab:
    seen_again = SURFACE + (1 - SURFACE) * (1 - BACK) * inside / (1 - BACK * inside)
    lightness, a, b = lab_from_xyz(XYZ_WEIGHTS @ seen_again)
    return float(lightness), float(a), float(b)


def swatch(
    card: tuple[float, float, float],
    coats: int,
    absorbed: np.ndarray,
    scattered: np.ndarray,
    rng: np.random.Generator,
) -> Swatch:
    share = COATS[coats]
    lab = lab_of(layers.over(seen(card), share * absorbed, share * scattered))
    noisy = tuple(round(float(v + n), 2) for v, n in zip(lab, rng.normal(0, 0.12, 3), strict=True))
    return Swatch(card, coats, noisy)  # type: ignore[arg-type]


def drawer() -> Drawer:
    rng = np.random.default_rng(20260412)
    inks = []
    for line, character, family, colour, strengths, names in DYES:
        full = np.maximum(-np.log(seen(colour) / seen(WHITE)), 0) / 2
        for depth, (strength, name) in enumerate(zip(strengths, names, strict=True), start=1):
            marks = tuple(swatch(WHITE, n, strength * full, np.zeros(36), rng) for n in COATS)
            inks.append(Ink(key_of(name), CHEMISTRIES["dye"], marks, name, family, depth, line, character))
    for name, family, colour, scatter, kind in OPAQUES:
        masstone = seen(colour)
        full = scatter * (1 - masstone) ** 2 / (2 * masstone)
        line, own = family.rsplit(" ", 1)
        marks = tuple(
            swatch(card, n, full, np.full(36, scatter), rng) for n in COATS for card in (WHITE, BLACK)
        )
        inks.append(Ink(key_of(name), CHEMISTRIES[kind], marks, name, own.capitalize(), 1, line, "vivid"))
    name, twin, line = TWIN
    other = next(i for i in inks if i.key == twin)
    again = tuple(replace(s, lab=shaken(s.lab, rng)) for s in other.swatches)
    inks.append(Ink(key_of(name), other.chemistry, again, name, "", 0, line, "vivid"))
    stocks = tuple(replace(s, finish="smooth", how="reader", when="2026-04-12") for s in STOCKS)
    return Drawer(tuple(at_home(ink) for ink in inks), stocks, TOOLS)


def shaken(lab: Lab, rng: np.random.Generator) -> Lab:
    lightness, a, b = (round(float(v + n), 2) for v, n in zip(lab, rng.normal(0, 0.18, 3), strict=True))
    return lightness, a, b


def at_home(ink: Ink) -> Ink:
    """The pad with its place, its state and how its swatches were measured."""
    marks = tuple(replace(s, how="reader", when=WHEN[ink.line], spread=0.2) for s in ink.swatches)
    return replace(
        ink,
        swatches=marks,
        pad=PADS.get(ink.line, "felt"),
        place=PLACES[ink.line],
        state=STATES.get(ink.key, "full"),
        notes=NOTES.get(ink.key, ""),
    )


def key_of(name: str) -> str:
    return name.lower().replace("'", "").replace(" ", "-")


if __name__ == "__main__":
    made = drawer()
    TARGET.parent.mkdir(parents=True, exist_ok=True)
    text = json.dumps(write_drawer(made), indent=1) + "\n"
    assert write_drawer(read_drawer(text)) == write_drawer(made)
    TARGET.write_text(text)
    print(len(made.inks), "inks")
